/** Something that will take a part: surely on a day, or by a day with a chance that grows. */
export interface WantedTask {
  /** Each, or mL. */
  quantity: number;
  /** Day index on which it is taken, where a card says so. */
  sure: number | null;
  /** Chance that it is taken up to the end of day d, for one that is not sure; never falling. */
  chanceBy: (d: number) => number;
}

export interface Projection {
  /** Taken up to the end of each day, on average. */
  mean: number[];
  /** Taken up to the end of each day in one case of two at least. */
  median: number[];
  /** Taken up to the end of each day, with no more than the wished chance of being short. */
  planned: number[];
}

/** Finer than so many steps no sum is told apart. */
const MOST_STEPS = 2000;
/** Chances that add up to less are none. */
const NOTHING = 1e-12;

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** The step on which sums of these quantities lie; coarser where that would be too fine. */
function stepOf(quantities: readonly number[]): number {
  const total = quantities.reduce((a, b) => a + b, 0);
  const hundredths = quantities.map((q) => Math.round(q * 100));
  const common = hundredths.reduce((a, b) => gcd(a, b), 0) / 100;
  return common > 0 && total / common <= MOST_STEPS ? common : Math.max(total / MOST_STEPS, 1e-9);
}

/**
 * The least sum that is not passed with this chance, of things that happen or not, each by itself: the quantile of a
 * Poisson-binomial sum with weights, by adding up their distributions one after the other (exact where quantities have
 * a common step of up to a two-thousandth of all, else rounded to it).
 *
 * @param chances of each, 0 to 1
 * @param share 0.95 = short in one case of twenty at most
 */
export function sumQuantile(quantities: readonly number[], chances: readonly number[], share: number): number {
  const some = quantities.map((q, i) => ({ q, p: chances[i]! })).filter(({ q, p }) => q > 0 && p > NOTHING);
  if (some.length === 0) return 0;
  const step = stepOf(some.map((s) => s.q));
  const weights = some.map(({ q }) => Math.max(1, Math.round(q / step)));
  const most = weights.reduce((a, b) => a + b, 0);
  const density = new Float64Array(most + 1);
  density[0] = 1;
  let reach = 0;
  some.forEach(({ p }, i) => {
    const w = weights[i]!;
    reach += w;
    for (let s = reach; s >= 0; s--) density[s] = density[s]! * (1 - p) + (s >= w ? density[s - w]! * p : 0);
  });
  let sum = 0;
  for (let s = 0; s <= most; s++) {
    sum += density[s]!;
    if (sum >= share - 1e-9) return s * step;
  }
  return most * step;
}

/**
 * What will be taken of a part up to each day: what cards take on their days, and what falls due by the forecast. The
 * planned need is worked out on the sum over all engines, not engine by engine: the mean, plus what lifts the chance of
 * being served to the yard's wish.
 *
 * @param share chance that the planned need is enough on a day, such as 0.95
 */
export function projectNeed(tasks: readonly WantedTask[], days: number, share: number): Projection {
  const sure = new Float64Array(days);
  for (const t of tasks) if (t.sure !== null && t.sure < days) sure[Math.max(0, t.sure)]! += t.quantity;
  const likely = tasks.filter((t) => t.sure === null);
  const quantities = likely.map((t) => t.quantity);
  const mean: number[] = [];
  const median: number[] = [];
  const planned: number[] = [];
  let taken = 0;
  let before: number[] | null = null;
  let quantile = 0;
  let half = 0;
  for (let d = 0; d < days; d++) {
    taken += sure[d]!;
    const chances = likely.map((t) => t.chanceBy(d));
    if (before === null || chances.some((c, i) => c !== before![i])) {
      quantile = sumQuantile(quantities, chances, share);
      half = sumQuantile(quantities, chances, 0.5);
    }
    before = chances;
    mean.push(taken + chances.reduce((sum, c, i) => sum + c * quantities[i]!, 0));
    median.push(Math.max(median.at(-1) ?? 0, taken + half));
    planned.push(Math.max(planned.at(-1) ?? 0, taken + quantile));
  }
  return { mean, median, planned };
}

/** From what is taken up to each day, what is taken on it. */
export const perDay = (upTo: readonly number[]): number[] =>
  upTo.map((n, d) => Math.max(0, Math.round((n - (upTo[d - 1] ?? 0)) * 100) / 100));

/** The day a shelf likely runs short: the first whose end the sum is above what is there; null = not within these days. */
export function shortOn(upTo: readonly number[], stock: readonly number[]): number | null {
  const d = upTo.findIndex((n, i) => n > stock[i]! + 1e-9);
  return d < 0 ? null : d;
}
