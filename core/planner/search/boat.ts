import { chainOf, type FullModel } from '../problem/model.ts';

/**
 * Tasks of a boat that are planned anew at once; every set of them is looked at. In larger problems some rounds take
 * fewer: they are quicker.
 */
export const MOST_AT_ONCE = 9;
/** Tasks of one boat of which every set is tried, in a problem of so many tasks. */
export const fewestAtOnce = (tasks: number): number => (tasks <= 200 ? 8 : 6);

/** Minutes of every set of some tasks of one boat. Bit i of a set stands for `tasks[i]`. */
export interface BoatSets {
  tasks: readonly number[];
  /** By pace: elapsed minutes of each set. */
  elapsed: Map<number, Float64Array>;
  /** Sets that need the lift contain one of these. */
  lift: number;
  /** By technician: tasks he or she cannot do. */
  cannot: Int32Array;
  /** Parts they take: all together, and by bit. */
  parts: { part: number; total: number; each: Float64Array }[];
}

/** What every set of some tasks of one boat needs, whoever works it. */
export function boatSets(model: FullModel, tasks: readonly number[]): BoatSets {
  let lift = 0;
  const cannot = new Int32Array(model.techs.length);
  tasks.forEach((i, bit) => {
    const t = model.tasks[i]!;
    if (t.needsLift) lift |= 1 << bit;
    for (let k = 0; k < cannot.length; k++) if (!t.can[k]) cannot[k]! |= 1 << bit;
  });
  const parts: BoatSets['parts'] = [];
  tasks.forEach((i, bit) => {
    for (const { part, quantity } of model.tasks[i]!.parts) {
      let p = parts.find((x) => x.part === part);
      if (!p) parts.push((p = { part, total: 0, each: new Float64Array(tasks.length) }));
      p.total += quantity;
      p.each[bit] = quantity;
    }
  });
  return { tasks, elapsed: new Map(), lift, cannot, parts };
}

/** Minutes from start to end of every set, by somebody of this pace (1 = as estimated). */
export function elapsedOfSets(model: FullModel, sets: BoatSets, pace: number): Float64Array {
  const known = sets.elapsed.get(pace);
  if (known) return known;
  const n = sets.tasks.length;
  const size = 1 << n;
  const hands = new Float64Array(size);
  const out = new Float64Array(size);
  hands[0] = pace * model.setup;
  // Which accesses a set opens, counted over these tasks; more than thirty never meet in one boat's tasks.
  const bits = new Map<number, number>();
  const masks = sets.tasks.map((i) =>
    model.tasks[i]!.access.reduce((mask, a) => {
      if (!bits.has(a)) bits.set(a, bits.size);
      return mask | (1 << bits.get(a)!);
    }, 0),
  );
  const boat = model.tasks[sets.tasks[0]!]!.boat;
  // What the engine runs is stretched by nobody.
  const minutes = [...bits.keys()].map((a) => {
    const running = model.runningMinutes[boat]![a]!;
    return pace * (model.accessMinutes[boat]![a]! - running) + running;
  });
  const opened = new Int32Array(size);
  const chain = sets.tasks.map((i) => chainOf(model, model.tasks[i]!, pace));
  const longest = new Float64Array(size);
  for (let s = 1; s < size; s++) {
    const low = 31 - Math.clz32(s & -s);
    const rest = s & (s - 1);
    let fresh = masks[low]! & ~opened[rest]!;
    opened[s] = opened[rest]! | masks[low]!;
    const own = model.tasks[sets.tasks[low]!]!;
    let sum = hands[rest]! + pace * (own.hands - own.running) + own.running;
    while (fresh !== 0) {
      sum += minutes[31 - Math.clz32(fresh & -fresh)]!;
      fresh &= fresh - 1;
    }
    hands[s] = sum;
    longest[s] = Math.max(longest[rest]!, chain[low]!);
    out[s] = Math.max(sum, longest[s]!);
  }
  sets.elapsed.set(pace, out);
  return out;
}

/** Where a visit could stand. What `p` minutes cost there: fixed + p x perMinute + extra x max(0, p - knee). */
export interface Place {
  day: number;
  tech: number;
  window: number;
  /** No visit may be longer. */
  room: number;
  perMinute: number;
  fixed: number;
  knee: number;
  extra: number;
  /** On this day the visit must hold these tasks (bits), because they are pinned there. */
  must: number;
  /** What longer visits cost besides: minutes and cost in turn, for each threshold they lie above. */
  steps?: Float64Array;
}

/** What `minutes` cost there. */
function costIn({ perMinute, fixed, knee, extra, steps }: Place, minutes: number): number {
  let cost = fixed + minutes * perMinute;
  if (minutes > knee) cost += extra * (minutes - knee);
  if (steps) for (let k = 0; k < steps.length && minutes > steps[k]!; k += 2) cost += steps[k + 1]!;
  return cost;
}

/** What a boat's tasks cost on a day, besides what the model says. All may be left out. */
export interface DayTerms {
  /** Infinity = not that day. */
  taskCost?: (task: number, day: number) => number;
  /** Of a visit that needs the lift; Infinity = no lift that day. */
  lift?: (day: number) => number;
  /** What is left of a part for use on a day; left out = enough. */
  left?: (part: number, day: number) => number;
  /** What a visit's use of a part costs besides: quantity and cost in turn, for each threshold it lies above. */
  partSteps?: (part: number, day: number) => Float64Array | undefined;
}

export interface ChosenVisit {
  set: number;
  place: Place;
}

/** The cheapest way to do or leave some tasks of one boat, over every set and every place. */
export class BoatSolver {
  private readonly model: FullModel;
  private sum = new Float64Array(0);
  private usage = new Float64Array(0);
  /** Cheapest place of each set, and which it is. */
  cheapest = new Float64Array(0);
  private at = new Int32Array(0);
  /** Cheapest way to do or leave all tasks of a set; and the visit its lowest task stands in, 0 = left. */
  best = new Float64Array(0);
  private cut = new Int32Array(0);
  /** Cost of a set's visit less what leaving its tasks would cost. */
  private net = new Float64Array(0);
  private useful = new Int32Array(0);
  private readonly usefulFrom = new Int32Array(32);

  constructor(model: FullModel) {
    this.model = model;
  }

  private grow(size: number): void {
    if (this.sum.length >= size) return;
    this.sum = new Float64Array(size);
    this.usage = new Float64Array(size);
    this.cheapest = new Float64Array(size);
    this.at = new Int32Array(size);
    this.best = new Float64Array(size);
    this.cut = new Int32Array(size);
    this.net = new Float64Array(size);
    this.useful = new Int32Array(size);
  }

  /**
   * @param places in order of their days
   * @returns cost of the cheapest way, Infinity when a pinned task finds no place. Visits of two sets may fall
   *          on one day; who needs them apart has to look.
   */
  solve(sets: BoatSets, places: readonly Place[], terms: DayTerms = {}): number {
    const n = sets.tasks.length;
    const size = 1 << n;
    this.grow(size);
    const { cheapest } = this;
    cheapest.fill(Infinity, 0, size);
    for (let from = 0; from < places.length;) {
      const { day } = places[from]!;
      let to = from + 1;
      while (to < places.length && places[to]!.day === day) to++;
      const able = this.sumDay(sets, day, terms);
      if (able !== 0) for (let k = from; k < to; k++) this.tryPlace(sets, places[k]!, k, able);
      from = to;
    }
    this.keepUseful(sets, size);
    // Every task is left, or stands in a visit together with others.
    const { best, cut, useful, usefulFrom } = this;
    best[0] = 0;
    // Of a set with its lowest task given there are few useful visits, or few subsets: whichever are fewer are gone
    // through.
    let visits = 0;
    for (let low = 0; low < n; low++) visits += (usefulFrom[low + 1]! - usefulFrom[low]!) * 2 ** (n - low - 1);
    const bySets = visits < 3 ** n / 2;
    for (let s = 1; s < size; s++) {
      const low = 31 - Math.clz32(s & -s);
      let least = this.model.tasks[sets.tasks[low]!]!.skip + best[s & (s - 1)]!;
      let which = 0;
      if (bySets) {
        for (let k = usefulFrom[low]!; k < usefulFrom[low + 1]!; k++) {
          const t = useful[k]!;
          if ((t & s) !== t) continue;
          const cost = cheapest[t]! + best[s ^ t]!;
          if (cost < least) {
            least = cost;
            which = t;
          }
        }
      } else {
        const bit = 1 << low;
        const rest = s ^ bit;
        for (let t = rest; ; t = (t - 1) & rest) {
          const cost = cheapest[t | bit]! + best[rest ^ t]!;
          if (cost < least) {
            least = cost;
            which = t | bit;
          }
          if (t === 0) break;
        }
      }
      best[s] = least;
      cut[s] = which;
    }
    return best[size - 1]!;
  }

  /**
   * Sets worth a visit, by their lowest task: those from which no task could be left at no loss. Any other
   * visit is as dear as a smaller one with those tasks left, so some cheapest way does without it.
   */
  private keepUseful(sets: BoatSets, size: number): void {
    const { cheapest, net, usefulFrom } = this;
    const n = sets.tasks.length;
    const { useful } = this;
    let count = 0;
    // Leaving a pinned task is dearer than anything, but not so dear that sums lose their cents.
    const skip = sets.tasks.map((i) => Math.min(this.model.tasks[i]!.skip, 1e9));
    const skipped = this.sum;
    skipped[0] = 0;
    net[0] = 0;
    for (let s = 1; s < size; s++) {
      skipped[s] = skipped[s & (s - 1)]! + skip[31 - Math.clz32(s & -s)]!;
      net[s] = cheapest[s]! - skipped[s]!;
    }
    for (let low = 0; low < n; low++) {
      usefulFrom[low] = count;
      const bit = 1 << low;
      // All sets whose lowest task this is.
      for (let s = bit; s < size; s += 2 * bit) {
        const own = net[s]!;
        if (!(own < 0)) continue;
        let better = true;
        for (let rest = s; rest !== 0; rest &= rest - 1) {
          if (net[s ^ (rest & -rest)]! <= own) {
            better = false;
            break;
          }
        }
        if (better) useful[count++] = s;
      }
    }
    usefulFrom[n] = count;
  }

  /** Day cost into `sum`, for every set of the tasks that can be done that day; returns those. */
  private sumDay(sets: BoatSets, day: number, { taskCost, lift, left, partSteps }: DayTerms, slack = 0): number {
    const { model, sum, usage } = this;
    const n = sets.tasks.length;
    const liftCost = sets.lift === 0 ? 0 : (lift?.(day) ?? 0);
    sum[0] = 0;
    let able = 0;
    for (let bit = 0; bit < n; bit++) {
      const i = sets.tasks[bit]!;
      let own = model.tasks[i]!.cost[day]! + (taskCost ? taskCost(i, day) : 0);
      if (liftCost === Infinity && sets.lift & (1 << bit)) own = Infinity;
      // What is dearer than leaving it stands in no cheapest visit: without it the visit is no longer.
      if (own >= model.tasks[i]!.skip + slack) continue;
      const half = 1 << bit;
      for (let s = able; ; s = (s - 1) & able) {
        sum[s | half] = sum[s]! + own;
        if (s === 0) break;
      }
      able |= half;
    }
    if (able === 0) return 0;
    if (liftCost > 0 && liftCost < Infinity)
      for (let s = able; s > 0; s = (s - 1) & able) if (s & sets.lift) sum[s]! += liftCost;
    if (left) {
      for (const { part, total, each } of sets.parts) {
        const there = left(part, day) + 1e-9;
        const steps = partSteps?.(part, day);
        if (total <= there && !steps) continue;
        usage[0] = 0;
        for (let below = 0, rest = able; rest !== 0; rest &= rest - 1) {
          const half = rest & -rest;
          const own = each[31 - Math.clz32(half)]!;
          for (let s = below; ; s = (s - 1) & below) {
            const used = usage[s]! + own;
            usage[s | half] = used;
            if (used > there) sum[s | half] = Infinity;
            if (s === 0) break;
          }
          below |= half;
        }
        if (steps)
          for (let s = able; s > 0; s = (s - 1) & able)
            for (let k = 0; k < steps.length && usage[s]! > steps[k]!; k += 2) sum[s]! += steps[k + 1]!;
      }
    }
    return able;
  }

  private tryPlace(sets: BoatSets, place: Place, k: number, able: number): void {
    const { sum, cheapest, at } = this;
    const elapsed = elapsedOfSets(this.model, sets, this.model.techs[place.tech]!.pace);
    const { room, must } = place;
    const can = able & ~sets.cannot[place.tech]!;
    for (let s = can; s > 0; s = (s - 1) & can) {
      const p = elapsed[s]!;
      if (p > room || (s & must) !== must) continue;
      const cost = sum[s]! + costIn(place, p);
      if (cost < cheapest[s]!) {
        cheapest[s] = cost;
        at[s] = k;
      }
    }
  }

  /**
   * After `solve` with the same arguments: every visit that stands in some way of planning the boat which
   * costs at most `slack` more than the cheapest.
   */
  within(
    sets: BoatSets,
    places: readonly Place[],
    terms: DayTerms,
    slack: number,
    each: (set: number, place: number) => void,
  ): void {
    const { sum, best } = this;
    const all = (1 << sets.tasks.length) - 1;
    const most = best[all]! + slack;
    for (let from = 0; from < places.length;) {
      const { day } = places[from]!;
      let to = from + 1;
      while (to < places.length && places[to]!.day === day) to++;
      const able = this.sumDay(sets, day, terms, slack);
      if (able !== 0) {
        for (let k = from; k < to; k++) {
          const place = places[k]!;
          const elapsed = elapsedOfSets(this.model, sets, this.model.techs[place.tech]!.pace);
          const can = able & ~sets.cannot[place.tech]!;
          for (let s = can; s > 0; s = (s - 1) & can) {
            const p = elapsed[s]!;
            if (p > place.room || (s & place.must) !== place.must) continue;
            if (sum[s]! + costIn(place, p) + best[all ^ s]! <= most) each(s, k);
          }
        }
      }
      from = to;
    }
  }

  /** The visits of the cheapest way found last; what is in none of them is left. */
  visits(sets: BoatSets, places: readonly Place[]): ChosenVisit[] {
    const chosen: ChosenVisit[] = [];
    for (let s = (1 << sets.tasks.length) - 1; s > 0;) {
      const set = this.cut[s]!;
      if (set === 0) s &= s - 1;
      else {
        chosen.push({ set, place: places[this.at[set]!]! });
        s &= ~set;
      }
    }
    return chosen;
  }
}
