import type { TaskKind } from '../service/index.ts';

export interface TaskOfEngine {
  engineId: number;
  task: TaskKind;
}

/** A part one task of one engine takes: pieces, or mL. */
export interface TaskPart extends TaskOfEngine {
  partId: number;
  quantity: number;
}

/** A part with all that takes it. */
export interface KitLine {
  partId: number;
  quantity: number;
  tasks: TaskOfEngine[];
}

const keyOf = (t: TaskOfEngine) => `${t.engineId} ${t.task}`;

/**
 * The parts a set of tasks takes, each part once, in the order they were first needed.
 *
 * @param needs what tasks of these engines take, one part a line
 * @param unknown tasks for which no part is known to fit
 */
export function kitOf(
  tasks: readonly TaskOfEngine[],
  needs: readonly TaskPart[],
  unknown: readonly TaskOfEngine[],
): { lines: KitLine[]; unknown: TaskOfEngine[] } {
  const wanted = new Set(tasks.map(keyOf));
  const lines = new Map<number, KitLine>();
  for (const need of needs) {
    if (!wanted.has(keyOf(need))) continue;
    const line = lines.get(need.partId) ?? { partId: need.partId, quantity: 0, tasks: [] };
    line.quantity += need.quantity;
    line.tasks.push({ engineId: need.engineId, task: need.task });
    lines.set(need.partId, line);
  }
  return {
    // Volumes come in odd millilitres from printed quarts; a hundredth is finer than anybody measures.
    lines: [...lines.values()].map((l) => ({ ...l, quantity: Math.round(l.quantity * 100) / 100 })),
    unknown: unknown.filter((t) => wanted.has(keyOf(t))),
  };
}
