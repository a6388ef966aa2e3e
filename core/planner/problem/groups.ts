import type { FullModel } from './model.ts';

/** Tasks of a boat in groups of at most `most`, those of one engine together as far as can be. */
export function groupsOf(model: FullModel, tasks: readonly number[], most: number): number[][] {
  if (tasks.length <= most) return [[...tasks]];
  const byEngine = new Map<string, number[]>();
  for (const i of tasks) {
    const { engine } = model.problem.tasks[i]!;
    byEngine.set(engine, [...(byEngine.get(engine) ?? []), i]);
  }
  const groups: number[][] = [];
  for (const own of [...byEngine.values()].sort((a, b) => b.length - a.length)) {
    for (let from = 0; from < own.length; from += most) {
      const piece = own.slice(from, from + most);
      const room = groups.find((g) => g.length + piece.length <= most);
      if (room) room.push(...piece);
      else groups.push(piece);
    }
  }
  return groups;
}

/**
 * The minutes a group answers for, such that those of all groups never add up to more than the visit takes:
 * its share of set-up and of every access that others need too, and no unattended minutes, because others may
 * work through them.
 */
export function shared(model: FullModel, boat: number, groups: readonly (readonly number[])[]): FullModel {
  const wanted = model.accessMinutes[boat]!.map(
    (_, a) => groups.filter((g) => g.some((i) => model.tasks[i]!.access.includes(a))).length,
  );
  const tasks = [...model.tasks];
  for (const i of groups.flat()) tasks[i] = { ...tasks[i]!, wait: 0, accessMinutes: 0, runningMinutes: 0 };
  const divided = (of: FullModel['accessMinutes']) =>
    of.map((list, b) => (b === boat ? list.map((minutes, a) => minutes / Math.max(1, wanted[a]!)) : list));
  return {
    ...model,
    setup: model.setup / groups.length,
    tasks,
    accessMinutes: divided(model.accessMinutes),
    runningMinutes: divided(model.runningMinutes),
  };
}
