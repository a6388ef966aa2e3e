/** A seeded source of chance (mulberry32, public domain): the same seed gives the same fleet on any machine. */
export interface Random {
  /** From 0 up to, not including, 1. */
  next(): number;
  between(low: number, high: number): number;
  whole(low: number, high: number): number;
  pick<T>(list: readonly T[]): T;
  chance(share: number): boolean;
}

export function seeded(seed: number): Random {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  const between = (low: number, high: number) => low + next() * (high - low);
  return {
    next,
    between,
    whole: (low, high) => Math.floor(between(low, high + 1)),
    pick: (list) => list[Math.floor(next() * list.length)]!,
    chance: (share) => next() < share,
  };
}
