import { goodsOfBuy, ItemLine, type Buy, type Chance } from './line.ts';
import { carriageOf, EPS } from './price.ts';
import type { OrderProblem, PlannedOrder } from './problem.ts';

/** Numbers of tables that are kept: 200 MB. */
const MOST_KEPT = 25_000_000;
/** What an order below its least is charged, so that the search leaves it again. */
const TOO_SMALL = 4;
/** Parts times occasions up to which a problem is small. */
const SMALL = 400_000;

/** A day on which a supplier takes an order that arrives in time. */
interface Occasion {
  supplier: number;
  day: number;
  arrival: number;
}

interface Undo {
  items: { item: number; buys: Buy[]; cost: number }[];
  open: [occasion: number, open: boolean][];
  pull: [occasion: number, pull: number][];
}

/**
 * The orders at hand while they are searched: on which occasions one is placed, what each part buys then, and what it
 * all
 * costs, kept as it changes; and back again.
 */
export class Standing {
  readonly #problem: OrderProblem;
  readonly lines: ItemLine[];
  readonly occasions: Occasion[] = [];
  /** By supplier and day: its occasion, -1 where none is. */
  readonly #at: Int32Array;
  /** Occasions of each supplier, by day. */
  readonly of: number[][];
  /** Parts each supplier offers. */
  readonly partsOf: number[][];
  readonly open: Uint8Array;
  readonly pull: Float64Array;
  readonly goods: Float64Array;
  readonly uses: Int32Array;
  readonly buys: Buy[][];
  readonly costs: Float64Array;
  /** Of the plan at hand, with what orders that are too small are charged. */
  cost = 0;
  undo: Undo = { items: [], open: [], pull: [] };

  constructor(problem: OrderProblem) {
    this.#problem = problem;
    this.lines = ItemLine.all(problem);
    let kept = 0;
    for (const line of this.lines) if ((kept += line.size) <= MOST_KEPT) line.keep();
    this.#at = new Int32Array(problem.suppliers.length * Math.max(1, problem.days)).fill(-1);
    this.of = problem.suppliers.map((s, supplier) =>
      s.orderOn.flatMap((on, day) => {
        if (!on || day + s.leadDays >= problem.days) return [];
        this.#at[supplier * problem.days + day] = this.occasions.length;
        return [this.occasions.push({ supplier, day, arrival: day + s.leadDays }) - 1];
      }),
    );
    this.partsOf = problem.suppliers.map(() => []);
    this.lines.forEach((line, i) => {
      for (const s of new Set(line.offers.map((o) => o.supplier))) this.partsOf[s]!.push(i);
    });
    const n = this.occasions.length;
    this.open = new Uint8Array(n);
    this.pull = new Float64Array(n);
    this.goods = new Float64Array(n);
    this.uses = new Int32Array(n);
    this.buys = problem.items.map(() => []);
    this.costs = Float64Array.from(this.lines, (line) => line.alone);
    this.cost = this.costs.reduce((a, b) => a + b, 0);
  }

  /** Whether several first plans can be tried. */
  get small(): boolean {
    return this.lines.length * this.occasions.length < SMALL;
  }

  /** Makes the plan at hand that of these orders. */
  takeUp(orders: readonly PlannedOrder[]): void {
    const offers = new Map(this.lines.flatMap((line, i) => line.offers.map((o) => [o.index, [i, o] as const])));
    const indexOf = new Map(this.#problem.offers.map((o, i) => [o.id, i]));
    const buys: Buy[][] = this.lines.map(() => []);
    for (const order of orders)
      for (const { offer, packs } of order.lines) {
        const [item, lineOffer] = offers.get(indexOf.get(offer)!)!;
        buys[item]!.push({ offer: lineOffer, day: order.day, packs });
      }
    this.open.fill(0);
    this.pull.fill(0);
    buys.forEach((own, i) => {
      this.put(i, own);
      for (const buy of own) this.open[this.occasionOf(buy)] = 1;
    });
    this.addUp();
    this.forget();
  }

  /** Opens and closes occasions, and works out anew the parts they concern. @returns false when nothing changes */
  change(changes: readonly (readonly [occasion: number, open: boolean])[]): boolean {
    const parts = new Set<number>();
    for (const [o, open] of changes) {
      if ((this.open[o] === 1) === open) continue;
      this.undo.open.push([o, this.open[o] === 1]);
      this.open[o] = open ? 1 : 0;
      // Whoever did not buy on a day that is closed loses nothing by it.
      for (const i of this.partsOf[this.occasions[o]!.supplier]!)
        if (open || this.buys[i]!.some((b) => this.occasionOf(b) === o)) parts.add(i);
    }
    if (this.undo.open.length === 0) return false;
    for (const i of parts) this.set(i, this.chances(i, 0));
    return true;
  }

  /** The occasion of a purchase. */
  occasionOf(buy: Buy): number {
    return this.#at[buy.offer.supplier * this.#problem.days + buy.day]!;
  }

  /** The days on which a part may be bought, by arrival. */
  chances(item: number, share: number): Chance[] {
    const chances: Chance[] = [];
    const line = this.lines[item]!;
    for (const offer of line.offers)
      for (const [k, o] of this.of[offer.supplier]!.entries()) {
        if (this.open[o] === 0) continue;
        const { day, arrival } = this.occasions[o]!;
        // Where every day is open at one price, what nobody wants before the next may as well come with that.
        if (
          share > 0 &&
          !line.wants(
            this.#arrivalBeside(offer.supplier, k - 1, -1),
            this.#arrivalBeside(offer.supplier, k + 1, Infinity),
          )
        )
          continue;
        const fixed = share * this.#problem.suppliers[offer.supplier]!.carriage;
        chances.push({ offer, day, arrival, factor: 1 - this.pull[o]!, fixed });
      }
    if (line.offers.length > 1) chances.sort((a, b) => a.arrival - b.arrival);
    return chances;
  }

  /** When an occasion of a supplier arrives; `none` where there is no such. */
  #arrivalBeside(supplier: number, k: number, none: number): number {
    const o = this.of[supplier]![k];
    return o === undefined ? none : this.occasions[o]!.arrival;
  }

  /** What a part buys is worked out anew. */
  set(item: number, chances: Chance[]): void {
    const { buys } = this.lines[item]!.best(chances);
    this.undo.items.push({ item, buys: this.buys[item]!, cost: this.costs[item]! });
    this.put(item, buys);
  }

  readonly #arrivalOf = (buy: Buy) => buy.day + this.#problem.suppliers[buy.offer.supplier]!.leadDays;

  /** A part buys this instead. */
  put(item: number, buys: Buy[], cost = this.lines[item]!.price(buys, this.#arrivalOf)): void {
    this.#count(this.buys[item]!, -1);
    this.#count(buys, 1);
    this.buys[item] = buys;
    this.cost += cost - this.costs[item]!;
    this.costs[item] = cost;
  }

  /** Counts purchases in or out of their orders, and what these cost with them. */
  #count(buys: readonly Buy[], sign: 1 | -1): void {
    for (const buy of buys) {
      const o = this.occasionOf(buy);
      this.cost -= this.#orderCost(o);
      this.uses[o]! += sign;
      this.goods[o] = this.uses[o] === 0 ? 0 : this.goods[o]! + sign * goodsOfBuy(buy);
      this.cost += this.#orderCost(o);
    }
  }

  #orderCost(o: number): number {
    if (this.uses[o] === 0) return 0;
    const { carriage, freeFrom, leastValue } = this.#problem.suppliers[this.occasions[o]!.supplier]!;
    const goods = this.goods[o]!;
    const paid = carriageOf({ carriage, freeFrom }, goods);
    return goods < leastValue - EPS ? paid + carriage + TOO_SMALL * (leastValue - goods) : paid;
  }

  /** Sums drift by adding and taking away: now and then they are added up anew. */
  addUp(): void {
    this.goods.fill(0);
    for (const buys of this.buys) for (const buy of buys) this.goods[this.occasionOf(buy)]! += goodsOfBuy(buy);
    let cost = 0;
    for (const c of this.costs) cost += c;
    for (let o = 0; o < this.occasions.length; o++) cost += this.#orderCost(o);
    this.cost = cost;
  }

  /** Occasions nobody uses are closed. */
  closeUnused(): void {
    for (let o = 0; o < this.open.length; o++)
      if (this.uses[o] === 0) {
        this.open[o] = 0;
        this.pull[o] = 0;
      }
  }

  /** What was changed is kept. */
  forget(): void {
    this.undo = { items: [], open: [], pull: [] };
  }

  /** As it was before the changes. */
  back(): void {
    for (const { item, buys, cost } of this.undo.items.reverse()) this.put(item, buys, cost);
    for (const [o, open] of this.undo.open.reverse()) this.open[o] = open ? 1 : 0;
    for (const [o, pull] of this.undo.pull.reverse()) this.pull[o] = pull;
    this.forget();
  }

  /** The orders as they stand; null while one is below what its supplier takes. */
  orders(): PlannedOrder[] | null {
    const orders = new Map<number, PlannedOrder>();
    for (const buys of this.buys)
      for (const buy of buys) {
        const o = this.occasionOf(buy);
        const { supplier, day } = this.occasions[o]!;
        const { leastValue, id } = this.#problem.suppliers[supplier]!;
        if (this.goods[o]! < leastValue - EPS) return null;
        const order = orders.get(o) ?? { supplier: id, day, lines: [] };
        order.lines.push({ offer: this.#problem.offers[buy.offer.index]!.id, packs: buy.packs });
        orders.set(o, order);
      }
    return [...orders.entries()].sort(([a], [b]) => a - b).map(([, order]) => order);
  }
}
