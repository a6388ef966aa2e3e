import type { Mip, MipAnswer, SolveMip } from '../planner/index.ts';
import { stockWithout } from './price.ts';
import type { OrderItem, OrderOffer, OrderProblem, PlannedOrder } from './problem.ts';

/** Packs bought at one break of an offer on a day. */
interface Piece {
  offer: number;
  day: number;
  packs: number;
}

/** An order that may be placed, with what its goods come to. */
interface MayOrder {
  supplier: number;
  on: number;
  goods: [column: number, price: number][];
}

/**
 * The whole problem as one mixed integer program, straight from its statement: packs by offer, day and break, an order
 * placed or not, its carriage waived or not, stock left and owed by day. For small problems.
 */
class WholeProgram {
  readonly mip: Mip = { cost: [], lower: [], upper: [], whole: [], rows: [] };
  readonly #problem: OrderProblem;
  readonly #orders = new Map<string, MayOrder>();
  readonly #pieces: Piece[] = [];

  constructor(problem: OrderProblem) {
    this.#problem = problem;
    let constant = 0;
    for (const item of problem.items) {
      constant -= (stockWithout(item, problem.days).at(-1) ?? item.onHand) * item.endValue;
      this.#item(item);
    }
    for (const order of this.#orders.values()) this.#carriage(order);
    // What no order changes, as a column that is there.
    this.mip.lower[this.#column(constant, 1)] = 1;
  }

  #column(cost: number, upper = Infinity, whole = false): number {
    this.mip.lower.push(0);
    this.mip.upper.push(upper);
    this.mip.whole.push(whole);
    return this.mip.cost.push(cost) - 1;
  }

  #row(lower: number, upper: number, terms: [column: number, value: number][]): void {
    this.mip.rows.push({ lower, upper, columns: terms.map(([c]) => c), values: terms.map(([, v]) => v) });
  }

  #orderAt(supplier: number, day: number): MayOrder {
    const key = `${supplier} ${day}`;
    const known = this.#orders.get(key);
    if (known) return known;
    const made = { supplier, on: this.#column(this.#problem.suppliers[supplier]!.carriage, 1, true), goods: [] };
    this.#orders.set(key, made);
    return made;
  }

  /** What a part may buy, and its stock from day to day. */
  #item(item: OrderItem): void {
    const { days, offers, suppliers } = this.#problem;
    const stock = stockWithout(item, days);
    const lowest = stock.reduce((a, b) => Math.min(a, b), 0);
    const arrivals: [number, number][][] = Array.from({ length: days }, () => []);
    offers.forEach((offer, index) => {
      if (offer.item !== item.id) return;
      const supplier = suppliers.findIndex((s) => s.id === offer.supplier);
      const { leadDays, orderOn } = suppliers[supplier]!;
      const most = Math.ceil(-lowest / offer.pack) + offer.breaks.at(-1)!.packs;
      orderOn.forEach((may, day) => {
        if (!may || day + leadDays >= days) return;
        for (const packs of this.#offer(offer, index, this.#orderAt(supplier, day), day, most)) {
          arrivals[day + leadDays]!.push([packs, -offer.pack]);
          this.mip.cost[packs]! -= offer.pack * item.endValue;
        }
      });
    });
    let before: [number, number][] = [];
    for (let d = 0; d < days; d++) {
      const left = this.#column(item.holdingPerDay);
      const owed = this.#column(item.shortPerDay);
      // Of each day from the one before it: rows stay short.
      const change = d === 0 ? stock[0]! : stock[d]! - stock[d - 1]!;
      this.#row(change, change, [[left, 1], [owed, -1], ...before, ...arrivals[d]!]);
      before = [
        [left, -1],
        [owed, 1],
      ];
    }
  }

  /** Packs of an offer on a day, one column for each break. */
  #offer(offer: OrderOffer, index: number, order: MayOrder, day: number, most: number): number[] {
    const ons: [number, number][] = [];
    const columns = offer.breaks.map(({ packs: from, price }, t) => {
      const to = Math.max(from, Math.min(most, (offer.breaks[t + 1]?.packs ?? Infinity) - 1));
      const packs = this.#column(price, to, true);
      const on = this.#column(0, 1, true);
      this.#row(0, Infinity, [
        [packs, 1],
        [on, -from],
      ]);
      this.#row(-Infinity, 0, [
        [packs, 1],
        [on, -to],
      ]);
      ons.push([on, 1]);
      order.goods.push([packs, price]);
      this.#pieces.push({ offer: index, day, packs });
      return packs;
    });
    this.#row(-Infinity, 0, [...ons, [order.on, -1]]);
    return columns;
  }

  #carriage({ supplier, on, goods }: MayOrder): void {
    const { carriage, freeFrom, leastValue } = this.#problem.suppliers[supplier]!;
    if (leastValue > 0) this.#row(0, Infinity, [...goods, [on, -leastValue]]);
    if (freeFrom === null) return;
    const free = this.#column(-carriage, 1, true);
    this.#row(0, Infinity, [...goods, [free, -freeFrom]]);
    this.#row(-Infinity, 0, [
      [free, 1],
      [on, -1],
    ]);
  }

  ordersOf(x: Float64Array): PlannedOrder[] {
    const made = new Map<string, PlannedOrder>();
    for (const p of this.#pieces) {
      const packs = Math.round(x[p.packs]!);
      if (packs === 0) continue;
      const offer = this.#problem.offers[p.offer]!;
      const key = `${offer.supplier} ${p.day}`;
      const order = made.get(key) ?? { supplier: offer.supplier, day: p.day, lines: [] };
      order.lines.push({ offer: offer.id, packs });
      made.set(key, order);
    }
    return [...made.values()].sort((a, b) => a.day - b.day);
  }
}

/** Solves the whole problem by the exact solver, within seconds. */
export function solveOrders(
  problem: OrderProblem,
  solve: SolveMip,
  seconds: number,
  gap: number,
): MipAnswer & { orders: PlannedOrder[] | null } {
  const whole = new WholeProgram(problem);
  const answer = solve(whole.mip, { seconds, gap });
  return { ...answer, orders: answer.x ? whole.ordersOf(answer.x) : null };
}
