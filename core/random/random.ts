/** Chance that comes out the same for the same seed on every machine. */
export interface Random {
  /** In [0, 1). */
  next: () => number;
  chance: (share: number) => boolean;
  /** Both ends included. */
  whole: (least: number, most: number) => number;
  pick: <T>(list: readonly T[]) => T;
  /** In place. */
  shuffle: <T>(list: T[]) => T[];
}

/** mulberry32, a published public-domain generator: 32 bits of state, enough for a search. From memory. */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const whole = (least: number, most: number) => least + Math.floor(next() * (most - least + 1));
  return {
    next,
    whole,
    chance: (share) => next() < share,
    pick: (list) => list[whole(0, list.length - 1)]!,
    shuffle: (list) => {
      for (let i = list.length - 1; i > 0; i--) {
        const j = whole(0, i);
        [list[i], list[j]] = [list[j]!, list[i]!];
      }
      return list;
    },
  };
}
