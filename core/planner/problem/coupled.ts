import { onlyWith, type TaskKind } from '../../service/index.ts';
import { planTaskId, planTaskOf, type YardTask } from './build.ts';

/** The more urgent of two tasks decides when both are done. */
const moreUrgent = (a: YardTask, b: YardTask): boolean =>
  a.over !== b.over ? a.over : (a.likely ?? a.early ?? Infinity) < (b.likely ?? b.early ?? Infinity);

/**
 * What is never done alone is planned as part of what it is done with: an oil filter goes with its oil change, with its
 * minutes and parts, on the day the more urgent of the two wants. So does work that waits for a repair.
 *
 * @param apart whether the two stand on different open cards: then they stay apart until somebody puts them together
 * @param hostOf what a task of an engine goes with; null = it stands by itself
 * @returns for each task that stays its place in the list, and the task it is planned as
 */
export function coupled(
  tasks: readonly YardTask[],
  apart: (engineId: number, task: TaskKind) => boolean = () => false,
  hostOf: (engineId: number, task: TaskKind) => TaskKind | null = (_, task) => onlyWith(task),
): { at: number; task: YardTask }[] {
  const at = new Map(tasks.map((t, i) => [planTaskId(t.engineId, t.task), i]));
  const hostAt = (i: number): number | undefined => {
    const { engineId, task } = tasks[i]!;
    const other = hostOf(engineId, task);
    return other === null || apart(engineId, task) ? undefined : at.get(planTaskId(engineId, other));
  };
  const joins = new Map<number, number[]>();
  tasks.forEach((_, i) => {
    // Lube after seals after a bent shaft: all of them go with the first.
    let root = i;
    for (let next = hostAt(root), steps = 0; next !== undefined && steps < tasks.length; next = hostAt(root), steps++)
      root = next;
    if (root !== i) joins.set(root, [...(joins.get(root) ?? []), i]);
  });
  const gone = new Set([...joins.values()].flat());
  return tasks.flatMap((t, i) => {
    if (gone.has(i)) return [];
    const more = (joins.get(i) ?? []).map((j) => tasks[j]!);
    if (more.length === 0) return [{ at: i, task: t }];
    const first = more.reduce((urgent, x) => (moreUrgent(x, urgent) ? x : urgent), t);
    return [
      {
        at: i,
        task: {
          ...first,
          task: t.task,
          unknown: [t, ...more].some((x) => x.unknown),
          partsCost: [t, ...more].reduce((sum, x) => sum + x.partsCost, 0),
          parts: [t, ...more].flatMap((x) => x.parts),
          ...(t.hands !== undefined && { hands: [t, ...more].reduce((sum, x) => sum + (x.hands ?? 0), 0) }),
          brings: more.map((x) => x.task),
        },
      },
    ];
  });
}

/** Tasks of a plan by engine and kind, with what each brings along. */
export function keysOf(tasks: readonly YardTask[], ids: readonly string[]): { engineId: number; task: TaskKind }[] {
  const brings = new Map(tasks.flatMap((t) => (t.brings ? [[planTaskId(t.engineId, t.task), t.brings] as const] : [])));
  return ids.flatMap((id) => {
    const own = planTaskOf(id);
    return [own, ...(brings.get(id) ?? []).map((task) => ({ engineId: own.engineId, task }))].filter(
      (k, i) => i === 0 || !ids.includes(planTaskId(k.engineId, k.task)),
    );
  });
}
