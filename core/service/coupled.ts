import { TASKS, type TaskKind } from './tasks.ts';

/**
 * Work that is never done without other work: an oil filter that comes off alone lets the oil out of the engine's
 * galleries, and nobody reads the level for it. Common practice, no source.
 */
const ONLY_WITH: Partial<Record<TaskKind, TaskKind>> = { 'oil-filter': 'engine-oil' };

/** What a piece of work is never done without; null = it stands by itself. */
export const onlyWith = (task: TaskKind): TaskKind | null => ONLY_WITH[task] ?? null;

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
