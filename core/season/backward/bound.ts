import { costOn, type BackwardProblem } from './problem.ts';

/** What a minute and a turn of the lift are worth on each day. */
export interface Prices {
  minute: Float64Array;
  lift: Float64Array;
}

/** Costs of each piece of work on each day of its own; Infinity where nobody's day is long enough for it. */
export type CostTable = readonly Float64Array[];
/** How much of each piece of work lies on each day of its own, in the mean of many looks. */
export type Shares = readonly Float64Array[];

/** What each piece of work costs on each of its days. */
export function costTable(problem: BackwardProblem): CostTable {
  return problem.work.map((w) =>
    Float64Array.from({ length: Math.max(0, w.until - w.from + 1) }, (_, k) => costOn(w, w.from + k, problem)),
  );
}

interface Look {
  value: number;
  /** Minutes and turns asked for beyond what a day has; below nought where some are left. */
  minute: Float64Array;
  lift: Float64Array;
}

/** The problem with minutes and turns for sale at prices: every piece of work takes its cheapest day. */
class Relaxed {
  readonly #problem: BackwardProblem;
  readonly #costs: CostTable;
  readonly #capacity: Float64Array;
  /** The day each piece took at the last look; -1 = none. */
  readonly at: Int32Array;

  constructor(problem: BackwardProblem, costs: CostTable) {
    this.#problem = problem;
    this.#costs = costs;
    this.#capacity = Float64Array.from(problem.days, (d) => d.minutes);
    this.at = new Int32Array(problem.work.length);
  }

  look({ minute, lift }: Prices): Look {
    const { work, days, overtime } = this.#problem;
    const [minutes, lifts] = [new Float64Array(days.length), new Float64Array(days.length)];
    let value = 0;
    for (let i = 0; i < work.length; i++) {
      const w = work[i]!;
      const own = this.#costs[i]!;
      let least = w.undone;
      let at = -1;
      for (let k = 0; k < own.length; k++) {
        const price = own[k]! + minute[w.from + k]! * w.minutes + (w.lift ? lift[w.from + k]! : 0);
        if (price < least) {
          least = price;
          at = w.from + k;
        }
      }
      value += least;
      this.at[i] = at;
      if (at < 0) continue;
      minutes[at]! += w.minutes;
      if (w.lift) lifts[at]!++;
    }
    for (let d = 0; d < days.length; d++) {
      const own = this.#capacity[d]!;
      // Overtime is bought where a minute is worth more than it costs.
      const more = minute[d]! > overtime.aMinute ? overtime.share * own : 0;
      value -= minute[d]! * own + Math.max(0, minute[d]! - overtime.aMinute) * more + lift[d]! * days[d]!.lifts;
      minutes[d]! -= own + more;
      lifts[d]! -= days[d]!.lifts;
    }
    return { value, minute: minutes, lift: lifts };
  }
}

/** Minutes are hundreds where turns of the lift are ones: a step counts them in its own measure. */
const MINUTES_IN_ONE = 200;

/**
 * A bound no plan can be cheaper than: minutes and turns of the lift are sold at prices instead of being limited
 * (Lagrangian relaxation; the volume algorithm of Barahona & Anbil 2000,
 * from memory).
 *
 * @param upper the cost of a plan that is known
 * @param see hears of prices and shares now and then: a plan is built along them, and the cost of the best is told back
 */
export function boundOf(
  problem: BackwardProblem,
  costs: CostTable,
  upper: number,
  rounds: number,
  see: (prices: Prices, shares: Shares) => number,
): number {
  const n = problem.days.length;
  const relaxed = new Relaxed(problem, costs);
  let centre: Prices = { minute: new Float64Array(n), lift: new Float64Array(n) };
  const first = relaxed.look(centre);
  let best = first.value;
  const [minute, lift] = [Float64Array.from(first.minute), Float64Array.from(first.lift)];
  const shares = costs.map((c) => new Float64Array(c.length));
  const mix = (alpha: number) => {
    for (let i = 0; i < shares.length; i++) {
      const own = shares[i]!;
      for (let k = 0; k < own.length; k++) own[k]! *= 1 - alpha;
      const at = relaxed.at[i]!;
      if (at >= 0) own[at - problem.work[i]!.from]! += alpha;
    }
  };
  mix(1);
  let factor = 0.6;
  let worse = 0;
  for (let round = 1; round <= rounds; round++) {
    let norm = 0;
    for (let d = 0; d < n; d++) {
      // What is left over moves no price that is nought.
      const m = centre.minute[d] === 0 ? Math.max(0, minute[d]!) : minute[d]!;
      const l = centre.lift[d] === 0 ? Math.max(0, lift[d]!) : lift[d]!;
      norm += (m / MINUTES_IN_ONE) ** 2 + l ** 2;
    }
    if (norm < 1e-9 || upper - best < 1e-6) break;
    const size = (factor * Math.max(upper * 1.02 - best, 1e-3)) / norm;
    const next: Prices = { minute: new Float64Array(n), lift: new Float64Array(n) };
    for (let d = 0; d < n; d++) {
      next.minute[d] = Math.max(0, centre.minute[d]! + (size * minute[d]!) / MINUTES_IN_ONE ** 2);
      next.lift[d] = Math.max(0, centre.lift[d]! + size * lift[d]!);
    }
    const seen = relaxed.look(next);
    const alpha = round < rounds / 3 ? 0.1 : round < (rounds * 2) / 3 ? 0.05 : 0.02;
    for (let d = 0; d < n; d++) {
      minute[d] = (1 - alpha) * minute[d]! + alpha * seen.minute[d]!;
      lift[d] = (1 - alpha) * lift[d]! + alpha * seen.lift[d]!;
    }
    mix(alpha);
    if (seen.value > best) {
      best = seen.value;
      centre = next;
      worse = 0;
      factor = Math.min(1.6, factor * 1.08);
    } else if (++worse >= 8) {
      worse = 0;
      factor = Math.max(0.001, factor * 0.7);
    }
    // A plan takes longer than a hundred looks, and is worth nothing along the first prices.
    if (round > rounds / 4 && round % Math.ceil(rounds / 6) === 0) upper = Math.min(upper, see(centre, shares));
  }
  return best;
}
