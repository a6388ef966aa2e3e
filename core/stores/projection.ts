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
 * Sums of things that happen or not, each by itself: a Poisson-binomial sum with weights, by adding up their
 * distributions one after the other (exact where quantities have a common step of up to a two-thousandth of all, else
 * rounded to it).
 */
class Sums {
  readonly #step: number;
  readonly #weights: number[];
  readonly #density: Float64Array;

  constructor(quantities: readonly number[]) {
    this.#step = stepOf(quantities);
    this.#weights = quantities.map((q) => (q > 0 ? Math.max(1, Math.round(q / this.#step)) : 0));
    this.#density = new Float64Array(this.#weights.reduce((a, b) => a + b, 0) + 1);
  }

  /** The least sums that are not passed with these chances, the lower chance first. @param chances of each, 0 to 1 */
  quantiles(chances: ArrayLike<number>, shares: readonly number[]): number[] {
    const density = this.#density;
    const weights = this.#weights;
    // What surely happens is no matter of chance; what cannot is none.
    let sure = 0;
    let reach = 0;
    density[0] = 1;
    for (let i = 0; i < weights.length; i++) {
      const p = chances[i]!;
      const w = weights[i]!;
      if (p <= NOTHING || w === 0) continue;
      if (p >= 1) {
        sure += w;
        continue;
      }
      for (let s = reach + 1; s <= reach + w; s++) density[s] = 0;
      reach += w;
      for (let s = reach; s >= w; s--) density[s] = density[s]! * (1 - p) + density[s - w]! * p;
      for (let s = w - 1; s >= 0; s--) density[s]! *= 1 - p;
    }
    const found: number[] = [];
    let sum = 0;
    let at = -1;
    for (const share of shares) {
      while (at < reach && (at < 0 || sum < share - 1e-9)) sum += density[++at]!;
      found.push((sure + at) * this.#step);
    }
    return found;
  }
}

/**
 * The least sum that is not passed with this chance: the quantile of a Poisson-binomial sum with weights.
 *
 * @param chances of each, 0 to 1
 * @param share 0.95 = short in one case of twenty at most
 */
export function sumQuantile(quantities: readonly number[], chances: readonly number[], share: number): number {
  return new Sums(quantities).quantiles(chances, [share])[0]!;
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
  const sums = new Sums(quantities);
  const chances = new Float64Array(likely.length);
  const shares = share >= 0.5 ? [0.5, share] : [share, 0.5];
  const mean: number[] = [];
  const median: number[] = [];
  const planned: number[] = [];
  let taken = 0;
  let quantile = 0;
  let half = 0;
  for (let d = 0; d < days; d++) {
    taken += sure[d]!;
    let changed = d === 0;
    let expected = 0;
    for (let i = 0; i < chances.length; i++) {
      const chance = likely[i]!.chanceBy(d);
      if (chance !== chances[i]) changed = true;
      chances[i] = chance;
      expected += chance * quantities[i]!;
    }
    if (changed) {
      const [low, high] = sums.quantiles(chances, shares) as [number, number];
      half = share >= 0.5 ? low : high;
      quantile = share >= 0.5 ? high : low;
    }
    mean.push(taken + expected);
    median.push(Math.max(median.at(-1) ?? 0, taken + half));
    planned.push(Math.max(planned.at(-1) ?? 0, taken + quantile));
  }
  return { mean, median, planned };
}

/** From what is taken up to each day, what is taken on it. */
export const perDay = (upTo: readonly number[]): number[] =>
  upTo.map((n, d) => Math.max(0, Math.round((n - (upTo[d - 1] ?? 0)) * 100) / 100));

/**
 * The day a shelf likely runs short: the first whose end the sum is above what is there; null = not within these days.
 */
export function shortOn(upTo: readonly number[], stock: readonly number[]): number | null {
  const d = upTo.findIndex((n, i) => n > stock[i]! + 1e-9);
  return d < 0 ? null : d;
}
