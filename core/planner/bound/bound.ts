import { BoatSolver, type ChosenVisit, type DayTerms, type Place } from '../search/boat.ts';
import type { FullModel } from '../problem/model.ts';
import { countOf, stepsOfSlice, type Slice } from '../search/slices.ts';
import {
  HOUR,
  layGroups,
  layIntervals,
  layParts,
  type Group,
  type Interval,
  type OpenDay,
  type PartLimit,
} from './layout.ts';

/** First step from prices that are good already, against 1 from none. */
const BEGUN_STEP = 0.2;

/** Prices of what boats share, by part and day, base and day, and by technician and day. */
export interface Guide {
  parts: Float64Array;
  lifts: Float64Array;
  /** A minute of a visit within a stretch costs the sum of the prices of all stretches around it. */
  stretches: ReadonlyMap<number, readonly { from: number; to: number; price: number }[]>;
}

/** A group while it is planned at the present prices: `solver` still knows the cost of every set. */
export interface GroupLook {
  group: number;
  terms: DayTerms;
  solver: BoatSolver;
  chosen: ChosenVisit[];
  cost: number;
}

/**
 * A lower bound by Lagrangian relaxation: what boats share (technicians' hours, lifts, parts) has a price, so
 * that every boat is planned alone, exactly, over every set of its tasks. Whatever the prices, the sum never
 * lies above the cheapest plan. Prices follow the subgradient with Polyak's step. Held and Karp 1971; Fisher,
 * "The Lagrangian Relaxation Method for Solving Integer Programming Problems", 1981 (from memory).
 */
export class Bound {
  readonly model: FullModel;
  /** The best proven so far. */
  best = -Infinity;
  iterations = 0;
  /** Prices at which the best was proven. */
  bestPrices = new Float64Array(0);
  readonly groups: readonly Group[];
  readonly intervals: readonly Interval[];
  readonly slices: readonly Slice[];
  /** Open intervals of each technician's day. */
  readonly openOf: readonly OpenDay[];
  private readonly solver: BoatSolver;
  /** Per hour of each interval; then per lift; then per part and day. */
  prices: Float64Array;
  private readonly sliced: number;
  private readonly lifts: number;
  private readonly parts: number;
  readonly limits: readonly PartLimit[];
  readonly partSlices: readonly { minutes: number; n: number }[];
  readonly limitsOf: readonly number[][];
  private readonly partCount: number;
  private readonly use: Float64Array;
  private readonly way: Float64Array;
  private readonly partPrice: Float64Array;
  private readonly partSteps: (Float64Array | undefined)[];
  private readonly supply: Float64Array;
  private step = 1;
  private idle = 0;
  private readonly splits: boolean;

  /**
   * @param most boats with more tasks are taken in groups of at most this many, each of which pays its share of set-up
   * and idle: faster, and a little lower
   */
  constructor(model: FullModel, most = 13) {
    this.model = model;
    this.solver = new BoatSolver(model);
    this.splits = model.boats.some((b) => b.tasks.length > most);
    const { intervals, openOf } = layIntervals(model);
    const { groups, slices } = layGroups(model, intervals, most);
    const { supply, limits, limitsOf, partSlices } = layParts(model);
    this.intervals = intervals;
    this.openOf = openOf;
    this.groups = groups;
    this.slices = slices;
    this.supply = supply;
    this.limits = limits;
    this.limitsOf = limitsOf;
    this.partSlices = partSlices;
    this.sliced = this.intervals.length;
    this.lifts = this.sliced + this.slices.length;
    this.parts = this.lifts + model.lifts.length;
    this.partCount = this.parts + this.limits.length;
    const size = this.partCount + this.partSlices.length;
    this.prices = new Float64Array(size);
    this.use = new Float64Array(size);
    this.way = new Float64Array(size);
    this.partPrice = new Float64Array(model.supply.length);
    this.partSteps = new Array<Float64Array | undefined>(model.supply.length).fill(undefined);
  }

  slicesOfLimit(limit: number): number {
    return (this.limits[limit + 1]?.slices ?? this.partSlices.length) - this.limits[limit]!.slices;
  }

  /**
   * One step of the prices.
   *
   * @param goal cost of the best plan known: how far there is to go at most
   * @returns the bound these prices prove
   */
  iterate(goal: number): number {
    this.iterations++;
    const { prices, use } = this;
    const value = this.evaluate();
    if (value > this.best + 1e-6 * Math.abs(this.best)) {
      this.idle = 0;
    } else if (++this.idle >= 40) {
      this.idle = 0;
      this.step *= 0.7;
    }
    if (value > this.best) {
      this.best = value;
      this.bestPrices = Float64Array.from(prices);
    }
    let norm = 0;
    const { way } = this;
    for (let k = 0; k < prices.length; k++) {
      // What costs nothing and is not all used stays so.
      const g = use[k]!;
      way[k] = prices[k] === 0 && g < 0 ? 0 : 0.6 * way[k]! + 0.4 * g;
      if (prices[k] === 0 && way[k]! < 0) way[k] = 0;
      norm += way[k]! * way[k]!;
    }
    if (norm > 1e-12) {
      const stride = (this.step * Math.max(goal - value, 1e-4 * Math.abs(goal))) / norm;
      for (let k = 0; k < prices.length; k++) if (way[k] !== 0) prices[k] = Math.max(0, prices[k]! + stride * way[k]!);
    }
    return value;
  }

  /**
   * The best prices as a guide for a search: what a minute of a person's stretch, a lift and a part cost all others.
   */
  guide(): Guide {
    const { model, bestPrices: prices } = this;
    const { days } = model;
    const parts = new Float64Array(model.supply.length);
    this.limitsOf.forEach((limits, part) => {
      for (const k of limits)
        for (let d = 0; d <= this.limits[k]!.day; d++) parts[part * days + d]! += prices[this.parts + k]!;
    });
    const stretches = new Map<number, { from: number; to: number; price: number }[]>();
    this.intervals.forEach((v, k) => {
      if (prices[k]! <= 0) return;
      const key = v.tech * days + v.day;
      stretches.set(key, [
        ...(stretches.get(key) ?? []),
        { from: v.from, to: v.open ? Infinity : v.to, price: prices[k]! / HOUR },
      ]);
    });
    return { parts, lifts: prices.slice(this.lifts, this.lifts + model.lifts.length), stretches };
  }

  /** Begins at the prices another bound of the same problem came to. */
  beginAt({ bestPrices }: Bound): void {
    if (bestPrices.length === this.prices.length) this.prices.set(bestPrices);
    this.step = BEGUN_STEP;
  }

  /** Goes back to the prices of the best bound. */
  toBest(): void {
    this.prices.set(this.bestPrices);
    this.way.fill(0);
  }

  /** The bound of the present prices; leaves in `use` what the boats would take beyond what there is. */
  evaluate(each?: (look: GroupLook) => void): number {
    const { model, prices, use, intervals } = this;
    use.fill(0);
    let value = 0;
    intervals.forEach((v, k) => {
      use[k] = -v.hours;
      value -= prices[k]! * v.hours;
    });
    for (let k = this.sliced; k < this.lifts; k++) {
      use[k] = -1;
      value -= prices[k]!;
    }
    for (const { extra, overtime, intervals: open } of this.openOf) {
      let sum = 0;
      for (const k of open) sum += prices[k]!;
      if (sum <= extra) continue;
      // Overtime is cheaper than the price: all of it is taken.
      value -= (sum - extra) * overtime;
      for (const k of open) use[k]! -= overtime;
    }
    for (let k = 0; k < model.lifts.length; k++) {
      use[this.lifts + k] = -model.lifts[k]!;
      value -= prices[this.lifts + k]! * model.lifts[k]!;
    }
    this.limits.forEach(({ supply }, k) => {
      use[this.parts + k] = -supply;
      value -= prices[this.parts + k]! * supply;
    });
    for (let k = 0; k < this.partSlices.length; k++) {
      use[this.partCount + k] = -1;
      value -= prices[this.partCount + k]!;
    }
    this.layOutParts();
    this.groups.forEach((group, g) => {
      value += this.take(group, g, each);
    });
    return value;
  }

  /** What each part costs on each day: all limits from that day on. */
  private layOutParts(): void {
    const { days } = this.model;
    this.limitsOf.forEach((limits, part) => {
      let sum = 0;
      let steps: [number, number][] = [];
      let at = limits.length - 1;
      let laid: Float64Array | undefined;
      for (let d = days - 1; d >= 0; d--) {
        if (at >= 0 && this.limits[limits[at]!]!.day === d) {
          const limit = limits[at]!;
          sum += this.prices[this.parts + limit]!;
          const { slices } = this.limits[limit]!;
          for (let k = slices; k < slices + this.slicesOfLimit(limit); k++)
            steps = steps.concat(stepsOfSlice(this.partSlices[k]!, this.prices[this.partCount + k]!));
          laid = steps.length > 0 ? Float64Array.from([...steps].sort((a, b) => a[0] - b[0]).flat()) : undefined;
          at--;
        }
        this.partPrice[part * days + d] = sum;
        this.partSteps[part * days + d] = laid;
      }
    });
  }

  /** Plans one boat alone at the present prices and adds what it takes. */
  private take(
    { boat, sets, places, within, slices, share }: Group,
    g: number,
    each?: (look: GroupLook) => void,
  ): number {
    const { model, prices, use } = this;
    const { days } = model;
    const { base } = model.boats[boat]!;
    for (let k = 0; k < places.length; k++) {
      const place = places[k]!;
      let price = 0;
      const list = within[k]!;
      for (let i = 0; i < list.length; i++) price += prices[list[i]!]!;
      place.perMinute = model.techs[place.tech]!.perMinute + price / HOUR;
      this.stepsOf(place, slices[k]!);
    }
    const terms = this.termsOf(base, share);
    const cost = this.solver.solve(sets, places, terms);
    const chosen = this.solver.visits(sets, places);
    each?.({ group: g, terms, solver: this.solver, chosen, cost });
    for (const { set, place } of chosen) {
      const hours = sets.elapsed.get(model.techs[place.tech]!.pace)![set]! / HOUR;
      const at = places.indexOf(place);
      for (const k of within[at]!) use[k]! += hours;
      for (const k of slices[at]!) use[this.sliced + k]! += countOf(this.slices[k]!, hours * HOUR);
      if (set & sets.lift) use[this.lifts + base * days + place.day]! += share;
      for (const { part, each: quantities } of sets.parts) {
        let used = 0;
        for (let rest = set; rest > 0; rest &= rest - 1) used += quantities[31 - Math.clz32(rest & -rest)]!;
        if (used === 0) continue;
        for (const limit of this.limitsOf[part]!) {
          const { day, slices: first } = this.limits[limit]!;
          if (day < place.day) continue;
          use[this.parts + limit]! += used;
          for (let s = first; s < first + this.slicesOfLimit(limit); s++)
            use[this.partCount + s]! += countOf(this.partSlices[s]!, used);
        }
      }
    }
    return cost;
  }

  /** What lifts and parts cost a boat of the base at the present prices. */
  private termsOf(base: number, share: number): DayTerms {
    const { model, prices, partPrice } = this;
    const { days } = model;
    return {
      taskCost: (i, day) => {
        let sum = 0;
        for (const { part, quantity } of model.tasks[i]!.parts) sum += quantity * partPrice[part * days + day]!;
        return sum;
      },
      lift: (day) => (model.lifts[base * days + day]! > 0 ? prices[this.lifts + base * days + day]! * share : Infinity),
      left: (part, day) => this.supply[part * days + day]!,
      partSteps: (part, day) => this.partSteps[part * days + day],
    };
  }

  /** The prices of the slices that count for a place, as steps over the minutes. */
  private stepsOf(place: Place, slices: Int32Array): void {
    delete place.steps;
    let steps: [number, number][] | null = null;
    for (let i = 0; i < slices.length; i++) {
      const price = this.prices[this.sliced + slices[i]!]!;
      if (price > 0) steps = [...(steps ?? []), ...stepsOfSlice(this.slices[slices[i]!]!, price)];
    }
    if (steps) place.steps = Float64Array.from(steps.sort((a, b) => a[0] - b[0]).flat());
  }

  /** False where boats were cut into groups: their visits cannot be told from this. */
  get whole(): boolean {
    return !this.splits;
  }
}
