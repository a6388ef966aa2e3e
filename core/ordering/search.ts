import { seeded, type Random } from '../random/index.ts';
import { orderByHand } from './by-hand.ts';
import { goodsOfBuy } from './line.ts';
import { EPS, priceOrders } from './price.ts';
import type { OrderPlan, OrderProblem, PlannedOrder } from './problem.ts';
import { Standing } from './standing.ts';

/** Shares of the carriage a line is asked for at the start, until orders are known. */
const FIRST_SHARE = 0.2;
/** Others that are tried after it. */
const OTHER_SHARES = [0.5, 0.03];
/** By how much goods of an order are made to look cheaper to fill it. */
const PULLS = [0, 0.02, 0.05, 0.1, 0.2, 0.4];
/** Orders of a supplier from one to another, some of which is handed over. */
const STEPS = [-3, -2, -1, -1, -1, 1, 1, 1, 2, 3];
/** Lines of an order that are handed over in one move. */
const MOST_HANDED = 4;
/** Packs more of one part before another fills up what is missing. */
const MOST_ADDED = 6;
/** Moves of one cooling when none are counted. */
const COOLING = 6000;

/**
 * Looks for orders of least cost: which supplier is ordered from on which days is searched by cooling, what each part
 * then buys is worked out exactly. The same problem, seed and number of rounds give the same plan.
 */
export class OrderSearch {
  readonly #problem: OrderProblem;
  readonly #random: Random;
  #best: PlannedOrder[] = [];
  #bestCost = Infinity;
  readonly #now: Standing;
  rounds = 0;

  constructor(problem: OrderProblem, seed = 1) {
    this.#problem = problem;
    this.#random = seeded(seed);
    this.#now = new Standing(problem);
    this.#remember();
    this.offer(orderByHand(problem));
  }

  /** Of the best plan so far. */
  get cost(): number {
    return this.#bestCost;
  }

  /** The best plan so far. */
  plan(bound: number | null = null): OrderPlan {
    const cost = priceOrders(this.#problem, this.#best);
    return { format: 'diurna-order-plan', version: 1, orders: this.#best, cost, bound };
  }

  /** Takes orders from elsewhere when they cost less. */
  offer(orders: PlannedOrder[]): void {
    const { total } = priceOrders(this.#problem, orders);
    if (total >= this.#bestCost) return;
    this.#bestCost = total;
    this.#best = orders;
  }

  /** The first plan: each part by itself with a share of the carriage, then as the orders are. @param until gives up */
  start(until: () => boolean = () => false): void {
    this.#byShare(FIRST_SHARE, until);
  }

  /** Other first plans, where the problem is small enough to try them; the best of all is at hand then. */
  vary(until: () => boolean = () => false): void {
    for (const share of this.#now.small ? OTHER_SHARES : []) if (!until()) this.#byShare(share, until);
    this.#now.takeUp(this.#best);
  }

  #byShare(share: number, until: () => boolean): void {
    // Part by part, from a plan that can be placed: whoever calls it off has a better one all the same.
    this.#now.takeUp(this.#best);
    this.#now.open.fill(1);
    for (let i = 0; i < this.#now.lines.length && !until(); i++) this.#now.set(i, this.#now.chances(i, share));
    this.#now.closeUnused();
    for (let i = 0; i < this.#now.lines.length && this.#now.small && !until(); i++)
      this.#now.set(i, this.#now.chances(i, 0));
    this.#now.addUp();
    this.#mend();
    this.#now.closeUnused();
    this.#now.forget();
    this.#remember();
  }

  /** Orders that are too small for their supplier are filled up, or left out where that does not go. */
  #mend(): void {
    for (let o = 0; o < this.#now.occasions.length; o++) {
      const { leastValue } = this.#problem.suppliers[this.#now.occasions[o]!.supplier]!;
      if (this.#now.uses[o] === 0 || this.#now.goods[o]! >= leastValue - EPS) continue;
      this.#now.forget();
      const before = this.#now.cost;
      this.#now.change([[o, false]]);
      const without = this.#now.cost;
      this.#now.back();
      if (without <= before || !this.#topUp(o, leastValue)) this.#now.change([[o, false]]);
    }
  }

  /** One move; kept when it costs less, or by chance when it costs little more. */
  round(heat: number): void {
    this.rounds++;
    if (this.#now.occasions.length === 0 || this.#problem.items.length === 0) return;
    if (this.rounds % 500 === 0) this.#now.addUp();
    const before = this.#now.cost;
    if (!this.#move()) return;
    const more = this.#now.cost - before;
    if (more <= 1e-9 || this.#random.next() < Math.exp(-more / Math.max(1e-9, heat))) {
      this.#now.closeUnused();
      this.#now.forget();
      this.#remember();
    } else this.#now.back();
  }

  /** Money that is a little: where cooling starts. */
  get warm(): number {
    const { suppliers } = this.#problem;
    const mean = suppliers.reduce((sum, s) => sum + s.carriage, 0) / Math.max(1, suppliers.length);
    return Math.max(0.05, mean * 0.5);
  }

  /** Begins again from the best plan. */
  again(): void {
    this.#now.takeUp(this.#best);
  }

  #move(): boolean {
    const random = this.#random;
    const used = this.#pickUsed();
    const draw = random.next();
    if (used === -1 || draw < 0.2) return this.#openOne(this.#any());
    if (draw < 0.42) return this.#now.change([[used, false]]);
    if (draw < 0.66) return this.#shift(used);
    if (draw < 0.73) return this.#merge(used);
    if (draw < 0.8) return this.#elsewhere(used);
    if (draw < 0.9) return this.#handOver(used);
    return this.#fill(used);
  }

  #any(): number {
    return this.#random.whole(0, this.#now.occasions.length - 1);
  }

  #pickUsed(): number {
    for (let k = 0; k < 40; k++) {
      const o = this.#any();
      if (this.#now.uses[o]! > 0) return o;
    }
    return this.#now.uses.findIndex((n) => n > 0);
  }

  #openOne(o: number): boolean {
    return this.#now.open[o] === 1 ? this.#fill(o) : this.#now.change([[o, true]]);
  }

  /** Another day of the same supplier instead. */
  #shift(o: number): boolean {
    const own = this.#now.of[this.#now.occasions[o]!.supplier]!;
    const at = own.indexOf(o);
    const step = this.#random.whole(1, 4) * (this.#random.chance(0.5) ? 1 : -1);
    const to = own[at + step];
    if (to === undefined || this.#now.open[to] === 1) return false;
    return this.#now.change([
      [o, false],
      [to, true],
    ]);
  }

  /** This order and the next of its supplier, as one between them. */
  #merge(o: number): boolean {
    const own = this.#now.of[this.#now.occasions[o]!.supplier]!;
    const at = own.indexOf(o);
    const next = own.slice(at + 1).find((p) => this.#now.uses[p]! > 0);
    if (next === undefined) return false;
    const to = own[this.#random.whole(at, own.indexOf(next))]!;
    return this.#now.change([[o, o === to] as const, [next, next === to] as const, [to, true] as const]);
  }

  /** Another supplier whose order arrives about then. */
  #elsewhere(o: number): boolean {
    const { supplier, arrival } = this.#now.occasions[o]!;
    const others = this.#now.of.filter((own, s) => s !== supplier && own.length > 0);
    if (others.length === 0) return false;
    const own = this.#random.pick(others);
    const near = own.filter((p) => Math.abs(this.#now.occasions[p]!.arrival - arrival) <= 4);
    if (near.length === 0) return false;
    return this.#now.change([
      [o, false],
      [this.#random.pick(near), true],
    ]);
  }

  /** Makes goods of an order look cheaper, or as dear as they are, where a larger order is worth something. */
  #fill(o: number): boolean {
    const { supplier } = this.#now.occasions[o]!;
    const { freeFrom, leastValue } = this.#problem.suppliers[supplier]!;
    if (freeFrom === null && leastValue <= 0) return this.#shift(o);
    const draw = this.#random.next();
    if (draw < 0.35) return this.#topUp(o, Math.max(freeFrom ?? 0, leastValue));
    if (draw < 0.6) return this.#nudge(o);
    const pull = this.#random.pick(PULLS);
    if (pull === this.#now.pull[o]) return false;
    this.#now.undo.pull.push([o, this.#now.pull[o]!]);
    this.#now.pull[o] = pull;
    for (const i of this.#now.partsOf[supplier]!) this.#now.set(i, this.#now.chances(i, 0));
    return true;
  }

  /** Packs of one part more, or some of one and the rest of another, so that the goods of an order reach a value. */
  #topUp(o: number, value: number): boolean {
    if (value - this.#now.goods[o]! <= EPS || this.#now.uses[o] === 0) return false;
    if (this.#random.chance(0.3)) this.#addPacks(o, value, true);
    const missing = value - this.#now.goods[o]! > EPS;
    return missing ? this.#addPacks(o, value, false) : true;
  }

  /** @param some fewer packs than the value wants @returns false where no pack could be added */
  #addPacks(o: number, value: number, some: boolean): boolean {
    const { supplier, day } = this.#now.occasions[o]!;
    const missing = value - this.#now.goods[o]!;
    const item = this.#random.pick(this.#now.partsOf[supplier]!);
    const offer = this.#random.pick(this.#now.lines[item]!.offers.filter((x) => x.supplier === supplier));
    const own = this.#now.buys[item]!;
    const line = own.find((b) => b.offer === offer && b.day === day);
    const before = line ? goodsOfBuy(line) : 0;
    const had = line?.packs ?? 0;
    let packs = Math.max(had + 1, offer.tiers[0]!.packs, Math.floor((before + missing) / offer.tiers[0]!.price));
    if (some) packs = Math.max(offer.tiers[0]!.packs, this.#random.whole(had + 1, Math.min(packs, had + MOST_ADDED)));
    else {
      // A break makes packs cheaper: a few more may be wanted.
      for (let k = 0; k < 100 && goodsOfBuy({ offer, day, packs }) < before + missing - EPS; k++) packs++;
      if (goodsOfBuy({ offer, day, packs }) < before + missing - EPS) return false;
    }
    this.#now.undo.items.push({ item, buys: own, cost: this.#now.costs[item]! });
    this.#now.put(item, [...own.filter((b) => b !== line), { offer, day, packs }]);
    return true;
  }

  /**
   * Some of an order goes with another of its supplier near it, though by itself no part would have it so: both may
   * reach what waives their carriage.
   */
  #handOver(o: number): boolean {
    const { supplier } = this.#now.occasions[o]!;
    const { freeFrom, leastValue } = this.#problem.suppliers[supplier]!;
    const days = this.#now.of[supplier]!;
    const to = days[days.indexOf(o) + this.#random.pick(STEPS)];
    if (to === undefined) return false;
    let moved = false;
    for (let k = 0; k < MOST_HANDED; k++) {
      const missing = Math.max(freeFrom ?? 0, leastValue) - this.#now.goods[to]!;
      if (moved && missing <= EPS) break;
      if (this.#handLine(o, to, moved ? missing : null)) moved = true;
    }
    return moved;
  }

  /** Packs of one line of an order, for about that much money where it is given, go with another. */
  #handLine(o: number, to: number, money: number | null): boolean {
    const { supplier, day } = this.#now.occasions[o]!;
    const later = this.#now.occasions[to]!.day;
    for (let k = 0; k < 20; k++) {
      const item = this.#random.pick(this.#now.partsOf[supplier]!);
      const own = this.#now.buys[item]!;
      const line = own.find((b) => b.offer.supplier === supplier && b.day === day);
      if (!line) continue;
      const { offer } = line;
      const there = own.find((b) => b.offer === offer && b.day === later);
      const each = goodsOfBuy(line) / line.packs;
      const some = money === null ? this.#random.whole(1, line.packs) : Math.ceil((money - EPS) / Math.max(EPS, each));
      const moved = this.#random.chance(money === null ? 0.5 : 0.1) ? line.packs : Math.min(line.packs, some);
      const left = line.packs - moved;
      const least = offer.tiers[0]!.packs;
      if ((left > 0 && left < least) || (there?.packs ?? 0) + moved < least) return false;
      const rest = own.filter((b) => b !== line && b !== there);
      if (left > 0) rest.push({ ...line, packs: left });
      rest.push({ offer, day: later, packs: (there?.packs ?? 0) + moved });
      this.#now.undo.items.push({ item, buys: own, cost: this.#now.costs[item]! });
      this.#now.undo.open.push([to, this.#now.open[to] === 1]);
      this.#now.open[to] = 1;
      this.#now.put(item, rest);
      return true;
    }
    return false;
  }

  /** A pack more or less of one part of an order. */
  #nudge(o: number): boolean {
    const { supplier, day } = this.#now.occasions[o]!;
    const item = this.#random.pick(this.#now.partsOf[supplier]!);
    const own = this.#now.buys[item]!;
    const line = own.find((b) => b.offer.supplier === supplier && b.day === day);
    if (!line) return false;
    const packs = line.packs + (this.#random.chance(0.5) ? 1 : -1);
    const rest = own.filter((b) => b !== line);
    this.#now.undo.items.push({ item, buys: own, cost: this.#now.costs[item]! });
    this.#now.put(item, packs < line.offer.tiers[0]!.packs ? rest : [...rest, { ...line, packs }]);
    return true;
  }

  /** Keeps the plan at hand when it is the best that can be placed. */
  #remember(): void {
    if (this.#now.cost >= this.#bestCost - 1e-9) return;
    const orders = this.#now.orders();
    if (orders === null) return;
    this.#bestCost = this.#now.cost;
    this.#best = orders;
  }
}

/** Heat of a round of a cooling: from warm down to a fiftieth of it. */
export const heatAt = (warm: number, share: number): number => warm * Math.pow(0.02, Math.min(1, share));

/** Searches a number of rounds, each cooling as long as the last but double. */
export function searchRounds(search: OrderSearch, rounds: number): void {
  search.vary();
  const { warm } = search;
  let length = Math.min(rounds, COOLING);
  for (let done = 0; done < rounds;) {
    const now = Math.min(length, rounds - done);
    for (let k = 0; k < now; k++) search.round(heatAt(warm, k / now));
    done += now;
    length *= 2;
    search.again();
  }
}
