import { byBoat, type EngineDue } from '@diurna/core/ahead';
import { dayInZone, addDays, dayNumber, minuteInZone } from '@diurna/core/calendar';
import { sourceText } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import type { DueRow, Outlook } from '@diurna/contract/service';
import { sql } from 'drizzle-orm';
import { shared, type Handlers } from '../http/api.ts';
import { visitTasks } from '../visit/visit-tasks.ts';
import { DueSelections } from './due-selection.ts';
import { type FleetCache } from './fleet-cache.ts';
import { handsByDay } from './hands.ts';
import { outlookOf } from './outlook.ts';

function rowOf({ facts, rule, due }: EngineDue): DueRow {
  return {
    engineId: facts.id,
    boatId: facts.boatId,
    boatName: facts.boatName,
    position: facts.position,
    baseId: facts.baseId,
    modelId: facts.modelId,
    modelName: facts.modelName,
    lifeHours: facts.lifeHours,
    hoursPerWeek: facts.hoursPerWeek,
    lastReadDay: facts.lastReadDay,
    due,
    rule: {
      task: rule.task,
      everyHours: rule.everyHours,
      everyMonths: rule.everyMonths,
      firstHours: rule.firstHours ?? null,
      counting: rule.counting ?? 'rolling',
      anchor: rule.anchor ?? null,
    },
    asked: rule.source.is === 'asked' ? rule.source.why : null,
    because: sourceText(rule, facts.modelName),
    job: facts.openJobs.get(due.task) ?? null,
  };
}

const MOST_OUTLOOKS = 20;

export function dueHandlers(fleet: FleetCache): Handlers<'dueList' | 'outlook' | 'ribbon'> {
  const selections = new DueSelections();
  /** A cache by the selection it shows: gone with it when the fleet changes. */
  const outlooks = new WeakMap<object, Map<string, Outlook>>();
  return {
    async dueList({ query, now }) {
      await fleet.refresh(now);
      const { matching, counts, engines } = selections.choose(fleet, now, query);
      const shown =
        query.state === undefined && query.sort === 'worst'
          ? matching
          : matching.filter(({ due }) => query.state === undefined || due.state === query.state);
      if (query.sort === 'boat') shown.sort((a, b) => byBoat(a.facts, b.facts));
      if (query.sort === 'model')
        shown.sort((a, b) => a.facts.modelName.localeCompare(b.facts.modelName) || byBoat(a.facts, b.facts));
      const page = shown.slice((query.page - 1) * query.size, query.page * query.size);
      return { rows: page.map(rowOf), total: shown.length, page: query.page, size: query.size, counts, engines };
    },

    async outlook({ query, now }) {
      await fleet.refresh(now);
      const selection = selections.choose(fleet, now, query);
      const key = `${query.from} ${query.days} ${query.sort} ${query.state}`;
      let known = outlooks.get(selection);
      if (!known) outlooks.set(selection, (known = new Map<string, Outlook>()));
      let outlook = known.get(key);
      if (!outlook) {
        outlook = shared(outlookOf(fleet, selection, query));
        if (known.size < MOST_OUTLOOKS) known.set(key, outlook);
      }
      return outlook;
    },

    async ribbon({ db, query, now }) {
      await fleet.refresh(now);
      const last = addDays(query.from, query.days - 1);
      const [tasks, hands] = await Promise.all([
        db.execute<{ id: number; day: string; engine_id: number; task: EngineDue['due']['task'] }>(sql`
          select j.id, j.day, t.engine_id, t.task
          from job j join boat b on b.id = j.boat_id join job_task t on t.job_id = j.id
          where j.status <> 'cancelled' and j.day between ${query.from} and ${last}
            and (${query.baseId ?? null}::int is null or b.base_id = ${query.baseId ?? null}::int)`),
        handsByDay(db, query.from, query.days, query.baseId ?? null),
      ]);
      const ready = await visitTasks(
        db,
        now,
        tasks.rows.map((t) => t.engine_id),
      );
      const jobs = new Map<number, { day: string; tasks: { engineId: number; task: EngineDue['due']['task'] }[] }>();
      for (const t of tasks.rows) {
        const job = jobs.get(t.id) ?? { day: t.day, tasks: [] };
        job.tasks.push({ engineId: t.engine_id, task: t.task });
        jobs.set(t.id, job);
      }
      const load = new Map<string, { jobs: number; minutes: number }>();
      for (const job of jobs.values()) {
        const on = load.get(job.day) ?? { jobs: 0, minutes: 0 };
        on.jobs++;
        on.minutes += visitMinutes(ready(job.tasks)).elapsed;
        load.set(job.day, on);
      }
      const limits = new Map<string, number>();
      for (const { facts, due } of fleet.allDue(now)) {
        if (due.limitDay === null || (query.baseId !== undefined && facts.baseId !== query.baseId)) continue;
        limits.set(due.limitDay, (limits.get(due.limitDay) ?? 0) + 1);
      }
      const out = boatsOutByDay(fleet, query.from, query.days, query.baseId);
      return Array.from({ length: query.days }, (_, i) => {
        const day = addDays(query.from, i);
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
    },
  };
}

/** How many boats are on hire at some time of each day, by the clock of their base. */
function boatsOutByDay(fleet: FleetCache, from: string, days: number, baseId: number | undefined): number[] {
  const first = dayNumber(from);
  const counts = Array<number>(days).fill(0);
  // A day of slack for the zone; the exact day is worked out below.
  const start = (first - 1) * 86_400_000;
  const end = (first + days + 1) * 86_400_000;
  for (const { hires, use, engines } of fleet.boats.values()) {
    if (baseId !== undefined && use.baseId !== baseId) continue;
    const zone = engines[0]!.timeZone;
    const touched = new Set<number>();
    for (const { out, back } of hires) {
      if (back < start || out > end) continue;
      const last = Math.min(days - 1, minuteInZone(back, zone).dayNo - first);
      for (let i = Math.max(0, minuteInZone(out, zone).dayNo - first); i <= last; i++) touched.add(i);
    }
    for (const i of touched) counts[i]!++;
  }
  return counts;
}

/** Days since the last reading, or null when there is none. */
export function daysSinceReading(fleet: FleetCache, now: Date, engineId: number): number | null {
  const facts = fleet.engines.get(engineId);
  if (!facts?.lastReadDay) return null;
  return dayNumber(dayInZone(now, facts.timeZone)) - dayNumber(facts.lastReadDay);
}
