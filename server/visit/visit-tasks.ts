import { builtAs } from '@diurna/core/fleet';
import { handsOnMinutes, TASKS, type TaskKind } from '@diurna/core/service';
import { workFacts, type Learned, type VisitTask } from '@diurna/core/visit';
import { eq, inArray } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { learnedMinutes } from './minutes.ts';

const { engine, engineModel } = tables;
type Model = typeof engineModel.$inferSelect;
type Engine = typeof engine.$inferSelect;

/** A task as the minutes of a visit are worked out from it: as its model is built, with the minutes learned. */
export function visitTaskOf(e: Engine, task: TaskKind, m: Model, learned: Learned): VisitTask {
  return {
    engineId: e.id,
    task,
    cylinders: m.cylinders,
    engine: { facts: workFacts(builtAs(m, e)), sump: null, gearCase: null },
    hands: learned.minutesFor(task, m.id, null, handsOnMinutes(task, m.cylinders)).minutes,
    wait: learned.drainFor(task, m.id, TASKS[task].wait).minutes,
  };
}

/** Makes tasks of these engines ready for `visitMinutes`; a task of an engine that is gone is left out. */
export async function visitTasks(
  db: Db | Tx,
  now: Date,
  engineIds: readonly number[],
): Promise<(tasks: readonly { engineId: number; task: TaskKind }[]) => VisitTask[]> {
  const ids = [...new Set(engineIds)];
  const [rows, learned] = await Promise.all([
    ids.length === 0
      ? []
      : db
          .select({ e: engine, m: engineModel })
          .from(engine)
          .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
          .where(inArray(engine.id, ids)),
    learnedMinutes(db, now),
  ]);
  const known = new Map(rows.map((r) => [r.e.id, r]));
  return (tasks) =>
    tasks.flatMap(({ engineId, task }) => {
      const of = known.get(engineId);
      return of ? [visitTaskOf(of.e, task, of.m, learned)] : [];
    });
}
