import { poolOf, type Pool, type UseSummary } from './rate.ts';

/** Something that is pooled: its use, and what it is like, from the narrowest likeness to the widest. */
export interface PoolMember {
  likeness: readonly string[];
  use: UseSummary;
}

/**
 * What engines or boats like each other have in common: those most alike, leaning on those less alike,
 * leaning on all of them, leaning on what is usual.
 */
export class Pools {
  readonly #all: Pool;
  readonly #byLikeness = new Map<string, Pool>();

  constructor(members: readonly PoolMember[], usual: Pool) {
    this.#all = poolOf(
      members.map((m) => m.use),
      usual,
    );
    this.#divide(members, this.#all, 1);
  }

  /** `depth` counts from the widest likeness. */
  #divide(members: readonly PoolMember[], parent: Pool, depth: number): void {
    const groups = new Map<string, PoolMember[]>();
    for (const member of members) {
      const key = member.likeness.at(-depth);
      if (key === undefined) continue;
      const group = groups.get(key);
      if (group) group.push(member);
      else groups.set(key, [member]);
    }
    for (const [key, group] of groups) {
      const pool = poolOf(
        group.map((m) => m.use),
        parent,
      );
      this.#byLikeness.set(key, pool);
      this.#divide(group, pool, depth + 1);
    }
  }

  /**
   * The pool of the narrowest likeness anything is known of. Likeness is told by keys that name all they are part of.
   */
  of(likeness: readonly string[]): Pool {
    for (const key of likeness) {
      const pool = this.#byLikeness.get(key);
      if (pool) return pool;
    }
    return this.#all;
  }
}
