import { builtAs } from '@diurna/core/fleet';
import { partsForEngine, type Fitment } from '@diurna/core/stores';
import { dayWord, type Day } from '@diurna/core/calendar';
import type { TaskKind } from '@diurna/core/service';
import { toMillilitres } from '@diurna/core/units';
import { workFacts } from '@diurna/core/visit';
import { and, eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { timesDone } from '../service/index.ts';
import { fitmentsOf } from './store.ts';

const { boat, engine, engineModel, job, jobTask } = tables;

/** What one open card will take of a part. */
export interface KeptLine {
  partId: number;
  baseId: number;
  jobId: number;
  boatName: string;
  day: Day;
  quantity: number;
}

/**
 * What open cards will take, by part and base: worked out from the cards each time, never kept beside them.
 * Keys are `part base`.
 *
 * @param baseId null = at all bases
 */
export async function keptBack(db: Db | Tx, baseId: number | null = null): Promise<Map<string, number>> {
  const sum = new Map<string, number>();
  for (const k of await keptByCards(db, baseId))
    sum.set(`${k.partId} ${k.baseId}`, (sum.get(`${k.partId} ${k.baseId}`) ?? 0) + k.quantity);
  return sum;
}

/** "Plover on Tue 14 Apr": the cards a part is kept back for, the nearest first. */
export const keptText = (lines: readonly KeptLine[]): string =>
  lines
    .slice(0, 4)
    .map((k) => `${k.boatName} on ${dayWord(k.day)}`)
    .join(', ') + (lines.length > 4 ? ` and ${lines.length - 4} more` : '');

/** What each open card will take. @param baseId null = at all bases */
export async function keptByCards(db: Db | Tx, baseId: number | null = null): Promise<KeptLine[]> {
  const rows = await db
    .select({
      engineId: engine.id,
      sold: { serial: engine.serial, transom: engine.transom },
      model: engineModel,
      baseId: boat.baseId,
      task: jobTask.task,
      answers: job.schoolAnswers,
      jobId: job.id,
      boatName: boat.name,
      day: job.day,
    })
    .from(jobTask)
    .innerJoin(job, eq(job.id, jobTask.jobId))
    .innerJoin(boat, eq(boat.id, job.boatId))
    .innerJoin(engine, eq(engine.id, jobTask.engineId))
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .where(
      and(eq(job.status, 'open'), eq(jobTask.state, 'open'), baseId === null ? undefined : eq(boat.baseId, baseId)),
    )
    .limit(100_000);
  if (rows.length === 0) return [];
  const byModel = new Map<number, Fitment[]>();
  for (const f of await fitmentsOf(db, [...new Set(rows.map((r) => r.model.id))]))
    byModel.set(f.modelId, [...(byModel.get(f.modelId) ?? []), f]);
  const kept = new Map<string, KeptLine>();
  const byEngine = new Map<string, { row: (typeof rows)[number]; tasks: TaskKind[] }>();
  for (const row of rows) {
    // One engine may stand on two cards.
    const own = `${row.engineId} ${row.jobId}`;
    const known = byEngine.get(own);
    if (known) known.tasks.push(row.task);
    else byEngine.set(own, { row, tasks: [row.task] });
  }
  const times = await timesDone(db, [...new Set(rows.map((r) => r.engineId))]);
  for (const {
    row: { engineId, sold, model: m, baseId: at, answers, jobId, boatName, day },
    tasks,
  } of byEngine.values()) {
    const volumes = {
      sumpMl: m.sumpValue !== null && m.sumpUnit !== null ? toMillilitres(m.sumpValue, m.sumpUnit) : null,
      gearCaseMl: m.gearValue !== null && m.gearUnit !== null ? toMillilitres(m.gearValue, m.gearUnit) : null,
    };
    for (const { partId, quantity } of partsForEngine(sold, volumes, tasks, byModel.get(m.id) ?? [], {
      choices: answers,
      times: times.get(engineId) ?? null,
      traits: workFacts(builtAs(m, sold), answers).traits,
    }).needs) {
      const key = `${partId} ${jobId}`;
      const line = kept.get(key) ?? { partId, baseId: at, jobId, boatName, day, quantity: 0 };
      line.quantity += quantity;
      kept.set(key, line);
    }
  }
  return [...kept.values()].sort((a, b) => a.day.localeCompare(b.day) || a.jobId - b.jobId);
}
