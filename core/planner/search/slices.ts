/**
 * Of visits that lie within an interval, those longer than an nth of it are few, however short the others:
 * a visit of p minutes counts (ceil(n p / length) - 1) / (n - 1), and the counts of all that fit never exceed 1.
 * The dual feasible functions of Fekete and Schepers, "New classes of fast lower bounds for bin packing
 * problems", 2001 (from memory).
 */
export interface Slice {
  interval: number;
  /** Its length; of a part, the supply. */
  minutes: number;
  n: number;
}
export const SLICES = [2, 3, 4];
/** Longer intervals are never filled to the brim by a few visits. */
export const SLICED_MINUTES = 480;

/** What a visit of `p` minutes counts against a slice. */
export const countOf = ({ minutes, n }: { minutes: number; n: number }, p: number) =>
  Math.max(0, Math.ceil((n * p) / minutes - 1e-6) - 1) / (n - 1);

/** The price of a slice as thresholds and what lying above each costs. */
export function stepsOfSlice({ minutes, n }: { minutes: number; n: number }, price: number): [number, number][] {
  const steps: [number, number][] = [];
  if (price > 0) for (let j = 1; j < n; j++) steps.push([(j * minutes) / n + 1e-5, price / (n - 1)]);
  return steps;
}

/**
 * The most of a supply that some of these whole quantities can use up; quantities that are not whole numbers use all.
 */
export function reachable(wanted: readonly number[]): (supply: number) => number {
  const total = wanted.reduce((a, b) => a + b, 0);
  if (wanted.some((q) => !Number.isInteger(q)) || total > 100_000) return (supply) => Math.min(supply, total);
  const can = new Uint8Array(total + 1);
  can[0] = 1;
  let top = 0;
  for (const q of wanted) {
    for (let s = top; s >= 0; s--) if (can[s]) can[s + q] = 1;
    top += q;
  }
  return (supply) => {
    let most = Math.min(Math.floor(supply + 1e-9), total);
    while (!can[most]) most--;
    return most;
  };
}
