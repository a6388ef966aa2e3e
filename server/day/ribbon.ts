import { taskKind } from '@diurna/contract/fleet';
import type { RibbonDay } from '@diurna/contract/day';
import { addDays, type Day } from '@diurna/core/calendar';
import { boatsOutByDay } from '@diurna/core/day';
import type { TaskKind } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, rowsOf } from '../db/index.ts';
import { handsByDay, type FleetCache } from '../service/index.ts';
import { visitTasks } from '../visit/index.ts';

interface Wanted {
  from: Day;
  days: number;
  baseId?: number | undefined;
}

/** Cards and the minutes they take, by day. */
async function loadByDay(
  db: Db,
  now: Date,
  { from, days, baseId }: Wanted,
): Promise<Map<Day, { jobs: number; minutes: number }>> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.number(), day: z.string(), engine_id: z.number(), task: taskKind }),
    sql`
    select j.id, j.day, t.engine_id, t.task
    from job j join boat b on b.id = j.boat_id join job_task t on t.job_id = j.id
    where j.status <> 'cancelled' and j.day between ${from} and ${addDays(from, days - 1)}
      and (${baseId ?? null}::int is null or b.base_id = ${baseId ?? null}::int)`,
  );
  const ready = await visitTasks(
    db,
    now,
    rows.map((t) => t.engine_id),
  );
  const jobs = new Map<number, { day: Day; tasks: { engineId: number; task: TaskKind }[] }>();
  for (const t of rows) {
    const job = jobs.get(t.id) ?? { day: t.day, tasks: [] };
    job.tasks.push({ engineId: t.engine_id, task: t.task });
    jobs.set(t.id, job);
  }
  const load = new Map<Day, { jobs: number; minutes: number }>();
  for (const job of jobs.values()) {
    const on = load.get(job.day) ?? { jobs: 0, minutes: 0 };
    on.jobs++;
    on.minutes += visitMinutes(ready(job.tasks)).elapsed;
    load.set(job.day, on);
  }
  return load;
}

/** Some weeks at a glance: work against hands, limits that are reached and boats out, by day. */
export async function readRibbon(db: Db, fleet: FleetCache, now: Date, wanted: Wanted): Promise<RibbonDay[]> {
  await fleet.refresh(now);
  const { from, days, baseId } = wanted;
  const [load, hands] = await Promise.all([loadByDay(db, now, wanted), handsByDay(db, from, days, baseId ?? null)]);
  const limits = new Map<Day, number>();
  for (const { facts, due } of fleet.allDue(now)) {
    if (due.limitDay === null || (baseId !== undefined && facts.baseId !== baseId)) continue;
    limits.set(due.limitDay, (limits.get(due.limitDay) ?? 0) + 1);
  }
  const out = boatsOutByDay(fleet.boats.values(), from, days, baseId);
  return Array.from({ length: days }, (_, i) => {
    const day = addDays(from, i);
    const on = load.get(day);
    return {
      day,
      jobs: on?.jobs ?? 0,
      loadMinutes: on?.minutes ?? 0,
      capacityMinutes: hands[i]!,
      limits: limits.get(day) ?? 0,
      boatsOut: out[i]!,
    };
  });
}
