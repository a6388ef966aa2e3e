import type { LastDone } from './due.ts';
import { TASKS, type TaskKind } from './tasks.ts';

/**
 * Work that is never done without other work: an oil filter that comes off alone lets the oil out of the engine's
 * galleries, and nobody reads the level for it. Common practice, no source.
 */
const ONLY_WITH: Partial<Record<TaskKind, TaskKind>> = { 'oil-filter': 'engine-oil' };

/** What a piece of work is never done without; null = it stands by itself. */
export const onlyWith = (task: TaskKind): TaskKind | null => ONLY_WITH[task] ?? null;

/** Work that is a part of other work: an oil change ends with the level read. Common practice, no source. */
const PART_OF: Partial<Record<TaskKind, readonly TaskKind[]>> = { 'oil-level': ['engine-oil'] };

/** When each task was done last, by itself or as a part of other work. */
export function withParts(lastDone: ReadonlyMap<TaskKind, LastDone>): Map<TaskKind, LastDone> {
  const all = new Map(lastDone);
  for (const [task, by] of Object.entries(PART_OF) as [TaskKind, readonly TaskKind[]][]) {
    for (const other of by) {
      const own = all.get(task);
      const found = lastDone.get(other);
      if (found && (!own || own.day < found.day || (own.day === found.day && (own.hours ?? 0) < (found.hours ?? 0))))
        all.set(task, found);
    }
  }
  return all;
}

/** What these tasks still lack to be done together, each once. */
export function lackingIn<T extends { engineId: number; task: TaskKind }>(
  tasks: readonly T[],
): { engineId: number; task: TaskKind; of: TaskKind }[] {
  return tasks.flatMap(({ engineId, task }) => {
    const other = onlyWith(task);
    return other === null || tasks.some((t) => t.engineId === engineId && t.task === other)
      ? []
      : [{ engineId, task: other, of: task }];
  });
}

/** Why a task cannot stand on a card as it is. */
export const lackingText = ({ task, of }: { task: TaskKind; of: TaskKind }): string =>
  `${TASKS[of].word} is never done without ${TASKS[task].word.toLowerCase()} of the same engine: add that too.`;
