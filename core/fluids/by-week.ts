import { chooseContainers, type ContainerSize } from './containers.ts';

/** So many containers of a size, to be there in a week. */
export interface ContainersOfWeek {
  id: string;
  count: number;
}

/**
 * Which containers have to be there in which week: all together just those that cover the whole at least cost, each no
 * later than it is wanted.
 *
 * @param needs mL of each week, the nearest first
 * @param onHand mL that are there
 * @returns for each week; null where the sizes cover it in no way
 */
export function containersByWeek(
  needs: readonly number[],
  onHand: number,
  sizes: readonly ContainerSize[],
): ContainersOfWeek[][] | null {
  const short = needs.reduce((sum, n) => sum + n, 0) - onHand;
  if (short <= 0) return needs.map(() => []);
  const choice = chooseContainers({ needMl: short, open: [], sizes });
  if (choice === null) return null;
  const bag = choice.take.flatMap(({ id, count }) => {
    const { ml } = sizes.find((s) => s.id === id)!;
    return Array.from({ length: count }, () => ({ id, ml }));
  });
  bag.sort((a, b) => a.ml - b.ml);
  let have = onHand;
  let wanted = 0;
  return needs.map((need) => {
    wanted += need;
    const week = new Map<string, number>();
    while (have < wanted - 1e-6 && bag.length > 0) {
      // The smallest that is enough; the large ones are opened when they are needed.
      const at = bag.findIndex((c) => have + c.ml >= wanted - 1e-6);
      const [taken] = bag.splice(at < 0 ? bag.length - 1 : at, 1);
      have += taken!.ml;
      week.set(taken!.id, (week.get(taken!.id) ?? 0) + 1);
    }
    return [...week].map(([id, count]) => ({ id, count }));
  });
}
