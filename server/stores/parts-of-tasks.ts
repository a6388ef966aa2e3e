import type { PartLine } from '@diurna/contract/jobs';
import type { TaskKind } from '@diurna/core/service';
import { partsForEngine } from '@diurna/core/stores';
import { toMillilitres } from '@diurna/core/units';
import { asc, eq, inArray } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { placesAt } from './places.ts';
import { fitmentsOf, onHandByPart } from './store.ts';

const { engine, engineModel, part } = tables;

interface TaskKey {
  engineId: number;
  task: TaskKind;
}

/** The parts a set of tasks takes at a base, by each engine's serial, with what the shelf has. */
export async function partsOfTasks(
  db: Db | Tx,
  tasks: readonly TaskKey[],
  baseId: number,
): Promise<{ parts: PartLine[]; partsUnknown: TaskKey[] }> {
  const engineIds = [...new Set(tasks.map((t) => t.engineId))];
  if (engineIds.length === 0) return { parts: [], partsUnknown: [] };
  const engines = await db
    .select({ e: engine, m: engineModel })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .where(inArray(engine.id, engineIds));
  const fitments = await fitmentsOf(db, [...new Set(engines.map(({ m }) => m.id))]);
  const lines = new Map<number, { quantity: number; tasks: TaskKey[] }>();
  const partsUnknown: TaskKey[] = [];
  for (const { e, m } of engines) {
    const volumes = {
      sumpMl: m.sumpValue !== null && m.sumpUnit !== null ? toMillilitres(m.sumpValue, m.sumpUnit) : null,
      gearCaseMl: m.gearValue !== null && m.gearUnit !== null ? toMillilitres(m.gearValue, m.gearUnit) : null,
    };
    const own = tasks.filter((t) => t.engineId === e.id).map((t) => t.task);
    const { needs, unknown } = partsForEngine(
      e.serial,
      volumes,
      own,
      fitments.filter((f) => f.modelId === m.id),
    );
    partsUnknown.push(...unknown.map((task) => ({ engineId: e.id, task })));
    for (const need of needs) {
      const line = lines.get(need.partId) ?? { quantity: 0, tasks: [] };
      line.quantity += need.quantity;
      line.tasks.push({ engineId: e.id, task: need.task });
      lines.set(need.partId, line);
    }
  }
  const ids = [...lines.keys()];
  if (ids.length === 0) return { parts: [], partsUnknown };
  const [parts, onHand, places] = await Promise.all([
    db.select().from(part).where(inArray(part.id, ids)).orderBy(asc(part.kind), asc(part.number)),
    onHandByPart(db, baseId, ids),
    placesAt(db, baseId, ids),
  ]);
  return {
    parts: parts.map((p) => ({
      partId: p.id,
      number: p.number,
      name: p.name,
      unit: p.unit,
      onHand: onHand.get(p.id) ?? 0,
      place: places.get(p.id) ?? null,
      quantity: Math.round(lines.get(p.id)!.quantity * 100) / 100,
      tasks: lines.get(p.id)!.tasks,
    })),
    partsUnknown,
  };
}
