/** An open container on the shelf. */
export interface OpenContainer {
  id: string;
  /** What is still in it, mL. */
  leftMl: number;
}

/** A size that can be opened new. */
export interface ContainerSize {
  id: string;
  /** What one holds, mL. */
  ml: number;
  /** What one costs, minor units. */
  priceMinor: number;
  /** How many there are; null = any number can be had. */
  most: number | null;
}

export interface ContainerWish {
  /** mL wanted in all. */
  needMl: number;
  /** Open ones, the oldest first: they are poured in this order. */
  open: readonly OpenContainer[];
  sizes: readonly ContainerSize[];
}

export interface ContainerChoice {
  /** What is poured out of which open container, mL. */
  pour: { id: string; ml: number }[];
  /** New ones to be opened. */
  take: { id: string; count: number }[];
  /** Of those taken, minor units. */
  costMinor: number;
  /** In all that is open and taken, less the need, mL. */
  leftMl: number;
}

/** Quantities and sums that differ by less are the same. */
const EPS = 1e-6;

interface Kind extends ContainerSize {
  most: number;
  /** Minor units a mL. */
  rate: number;
}

/** What a choice is judged by, in this order: cost, left over, containers. */
interface Found {
  cost: number;
  left: number;
  count: number;
  counts: number[];
}

function less(a: Omit<Found, 'counts'>, b: Found | null): boolean {
  if (b === null) return true;
  if (Math.abs(a.cost - b.cost) > EPS) return a.cost < b.cost;
  if (Math.abs(a.left - b.left) > EPS) return a.left < b.left;
  return a.count < b.count;
}

/**
 * Which containers cover a need: open ones first, then least cost, then least left over, then fewest containers.
 * Exact: by depth, the cheapest a mL first, cut where even pouring the rest at the best rates cannot be better, and
 * where as much was left to cover at no more cost before. Common practice, no source: an open bottle is used up first.
 *
 * @returns null when all there is does not cover it
 * @throws RangeError for a need, a content, a price or a number that is none
 */
export function chooseContainers({ needMl, open, sizes }: ContainerWish): ContainerChoice | null {
  check(needMl, open, sizes);
  const pour: ContainerChoice['pour'] = [];
  let rest = needMl;
  for (const { id, leftMl } of open) {
    const ml = Math.min(rest, leftMl);
    if (ml <= EPS) continue;
    pour.push({ id, ml });
    rest -= ml;
  }
  const opened = open.reduce((sum, o) => sum + o.leftMl, 0);
  if (rest <= EPS) return { pour, take: [], costMinor: 0, leftMl: Math.max(0, opened - needMl) };
  const found = cheapestCover(rest, sizes);
  if (!found) return null;
  const kinds = byRate(sizes);
  const counts = new Map(kinds.map((k, i) => [k.id, found.counts[i]!]));
  const taken = kinds.reduce((sum, k, i) => sum + k.ml * found.counts[i]!, 0);
  return {
    pour,
    // In the order they were given.
    take: sizes.flatMap(({ id }) => ((counts.get(id) ?? 0) > 0 ? [{ id, count: counts.get(id)! }] : [])),
    costMinor: found.cost,
    leftMl: Math.max(0, opened + taken - needMl),
  };
}

function check(needMl: number, open: readonly OpenContainer[], sizes: readonly ContainerSize[]): void {
  const amount = (value: number, what: string) => {
    if (!Number.isFinite(value) || value < 0) throw new RangeError(`${what} is ${value}; give a number of 0 or more.`);
  };
  amount(needMl, 'The need');
  for (const o of open) amount(o.leftMl, `What is left in ${o.id}`);
  const ids = new Set<string>();
  for (const s of sizes) {
    if (!Number.isFinite(s.ml) || s.ml <= 0) throw new RangeError(`${s.id} holds ${s.ml} mL; give more than 0.`);
    amount(s.priceMinor, `The price of ${s.id}`);
    if (s.most !== null && (!Number.isInteger(s.most) || s.most < 0))
      throw new RangeError(`Of ${s.id} there are ${s.most}; give a whole number, or null for any number.`);
    if (ids.has(s.id)) throw new RangeError(`${s.id} stands twice.`);
    ids.add(s.id);
  }
}

const byRate = (sizes: readonly ContainerSize[]): Kind[] =>
  sizes
    .map((s) => ({ ...s, most: s.most ?? Infinity, rate: s.priceMinor / s.ml }))
    .sort((a, b) => a.rate - b.rate || b.ml - a.ml);

/**
 * The least a rest can cost from this kind on, if parts of a container could be taken; Infinity when it is too much.
 */
function leastCost(kinds: readonly Kind[], from: number, rest: number): number {
  let cost = 0;
  for (let i = from; i < kinds.length && rest > EPS; i++) {
    const { ml, most, rate } = kinds[i]!;
    const taken = Math.min(rest, ml * most);
    cost += taken * rate;
    rest -= taken;
  }
  return rest > EPS ? Infinity : cost;
}

function cheapestCover(needMl: number, sizes: readonly ContainerSize[]): Found | null {
  const kinds = byRate(sizes);
  const largestFrom = kinds.map((_, i) => Math.max(...kinds.slice(i).map((k) => k.ml)));
  /** The best way to each rest, by kind: what is reached again at no less is not followed again. */
  const seen = kinds.map(() => new Map<number, { cost: number; count: number }>());
  const counts = kinds.map(() => 0);
  let best: Found | null = null;
  const follow = (i: number, rest: number, cost: number, count: number): void => {
    if (rest <= EPS) {
      const now = { cost, left: Math.max(0, -rest), count };
      if (less(now, best)) best = { ...now, counts: [...counts] };
      return;
    }
    if (i === kinds.length) return;
    // The least that could come of it: nothing left over, in as few as the largest size allows.
    const could = {
      cost: cost + leastCost(kinds, i, rest),
      left: 0,
      count: count + Math.ceil(rest / largestFrom[i]! - EPS),
    };
    if (could.cost === Infinity || !less(could, best)) return;
    const key = Math.round(rest * 1e4);
    const before = seen[i]!.get(key);
    if (before && before.cost <= cost + EPS && (before.cost < cost - EPS || before.count <= count)) return;
    seen[i]!.set(key, { cost, count });
    const { ml, priceMinor, most } = kinds[i]!;
    for (let n = Math.min(most, Math.ceil(rest / ml - EPS)); n >= 0; n--) {
      counts[i] = n;
      follow(i + 1, rest - n * ml, cost + n * priceMinor, count + n);
    }
    counts[i] = 0;
  };
  follow(0, needMl, 0, 0);
  return best;
}
