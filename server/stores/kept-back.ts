import { builtAs } from '@diurna/core/fleet';
import { partsForEngine, type Fitment } from '@diurna/core/stores';
import type { TaskKind } from '@diurna/core/service';
import { toMillilitres } from '@diurna/core/units';
import { workFacts } from '@diurna/core/visit';
import { and, eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { timesDone } from '../service/index.ts';
import { fitmentsOf } from './store.ts';

const { boat, engine, engineModel, job, jobTask } = tables;

/**
 * What open cards will take, by part and base: worked out from the cards each time, never kept beside them.
 * Keys are `part base`.
 *
 * @param baseId null = at all bases
 */
export async function keptBack(db: Db | Tx, baseId: number | null = null): Promise<Map<string, number>> {
  const rows = await db
    .select({
      engineId: engine.id,
      sold: { serial: engine.serial, transom: engine.transom },
      model: engineModel,
      baseId: boat.baseId,
      task: jobTask.task,
      answers: job.schoolAnswers,
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
  const sum = new Map<string, number>();
  if (rows.length === 0) return sum;
  const byModel = new Map<number, Fitment[]>();
  for (const f of await fitmentsOf(db, [...new Set(rows.map((r) => r.model.id))]))
    byModel.set(f.modelId, [...(byModel.get(f.modelId) ?? []), f]);
  const byEngine = new Map<number, { row: (typeof rows)[number]; tasks: TaskKind[] }>();
  for (const row of rows) {
    const known = byEngine.get(row.engineId);
    if (known) known.tasks.push(row.task);
    else byEngine.set(row.engineId, { row, tasks: [row.task] });
  }
  const times = await timesDone(db, [...byEngine.keys()]);
  for (const {
    row: { engineId, sold, model: m, baseId, answers },
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
    }).needs)
      sum.set(`${partId} ${baseId}`, (sum.get(`${partId} ${baseId}`) ?? 0) + quantity);
  }
  return sum;
}
