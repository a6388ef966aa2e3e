/** Upper bounds of how long an answer took (ms); what took longer is in the last, open one. */
export const BOUNDS = [2, 5, 10, 20, 35, 50, 75, 100, 150, 200, 300, 500, 750, 1000, 1500, 2500, 5000, 10_000];

/** Answers by how long they took: one count for each bound and one for what lies beyond. */
export type Buckets = number[];

export const emptyBuckets = (): Buckets => new Array<number>(BOUNDS.length + 1).fill(0);

export function countIn(buckets: Buckets, milliseconds: number): void {
  const at = BOUNDS.findIndex((bound) => milliseconds <= bound);
  buckets[at === -1 ? BOUNDS.length : at]!++;
}

export const addBuckets = (a: Buckets, b: Buckets): Buckets => a.map((n, i) => n + (b[i] ?? 0));

/**
 * The bound that a share of the answers kept to (ms): never less than the true quantile, as Prometheus' own
 * `histogram_quantile` without its interpolation. 0 when there are none; the largest bound for what lies beyond all.
 */
export function boundOf(buckets: Buckets, share: number): number {
  const all = buckets.reduce((sum, n) => sum + n, 0);
  if (all === 0) return 0;
  let seen = 0;
  for (const [i, n] of buckets.entries()) {
    seen += n;
    if (seen >= share * all) return BOUNDS[i] ?? BOUNDS.at(-1)!;
  }
  return BOUNDS.at(-1)!;
}
