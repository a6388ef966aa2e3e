import type { ProblemFault } from '../problem/index.ts';
import type { OrderCost, OrderItem, OrderOffer, OrderProblem, PlannedOrder } from './problem.ts';

/** Sums of money and quantities that differ by less are the same. */
export const EPS = 1e-6;

/** Price of each pack when so many are taken in one order: that of the last break reached; null below the first. */
export function packPrice(offer: Pick<OrderOffer, 'breaks'>, packs: number): number | null {
  let price: number | null = null;
  for (const b of offer.breaks) if (packs >= b.packs) price = b.price;
  return price;
}

/** Stock at the end of each day without any order: on hand and what arrives up to it, less the need up to it. */
export function stockWithout(item: OrderItem, days: number): Float64Array {
  const stock = new Float64Array(days);
  const arrives = new Float64Array(days);
  for (const { day, quantity } of item.arriving) if (day < days) arrives[day]! += quantity;
  let left = item.onHand;
  for (let d = 0; d < days; d++) {
    left += arrives[d]! - item.need[d]!;
    stock[d] = left;
  }
  return stock;
}

/** Goods value of an order. @throws RangeError for an offer that is not known, or too few packs */
export function goodsOf(offers: ReadonlyMap<string, OrderOffer>, order: PlannedOrder): number {
  let sum = 0;
  for (const { offer: id, packs } of order.lines) {
    const price = offers.has(id) ? packPrice(offers.get(id)!, packs) : null;
    if (price === null) throw new RangeError(`${packs} packs of ${id} cannot be bought`);
    sum += price * packs;
  }
  return sum;
}

/** The carriage of an order by its goods value. */
export const carriageOf = (supplier: { carriage: number; freeFrom: number | null }, goods: number): number =>
  supplier.freeFrom !== null && goods >= supplier.freeFrom - EPS ? 0 : supplier.carriage;

/** What is wrong with orders: none when they can be placed. */
export function orderFaults(problem: OrderProblem, orders: readonly PlannedOrder[]): ProblemFault[] {
  const faults: ProblemFault[] = [];
  const suppliers = new Map(problem.suppliers.map((s) => [s.id, s]));
  const offers = new Map(problem.offers.map((o) => [o.id, o]));
  const seen = new Set<string>();
  orders.forEach((order, i) => {
    const say = (text: string) => faults.push({ path: `orders[${i}]`, text });
    const supplier = suppliers.get(order.supplier);
    if (!supplier) return void say(`there is no supplier “${order.supplier}”`);
    const key = `${order.supplier} ${order.day}`;
    if (seen.has(key)) say('a supplier has two orders on one day');
    seen.add(key);
    if (!supplier.orderOn[order.day]) say(`${order.supplier} takes no orders on day ${order.day}`);
    if (order.day + supplier.leadDays >= problem.days) say('it arrives after the last day');
    if (order.lines.length === 0) say('it has no lines');
    const lines = new Set<string>();
    for (const { offer: id, packs } of order.lines) {
      const offer = offers.get(id);
      if (!offer || offer.supplier !== order.supplier) say(`${order.supplier} has no offer “${id}”`);
      else if (!Number.isInteger(packs) || packPrice(offer, packs) === null)
        say(`${packs} packs of ${id}: whole packs are sold, from ${offer.breaks[0]!.packs} on`);
      if (lines.has(id)) say(`“${id}” stands twice`);
      lines.add(id);
    }
    if (faults.some((f) => f.path === `orders[${i}]`)) return;
    const goods = goodsOf(offers, order);
    if (goods < supplier.leastValue - EPS) say(`goods of ${goods} are below the least, ${supplier.leastValue}`);
  });
  return faults;
}

/**
 * The judge: what orders cost by the problem's own words, worked out from nothing but the orders.
 *
 * @throws RangeError for orders that cannot be placed
 */
export function priceOrders(problem: OrderProblem, orders: readonly PlannedOrder[]): OrderCost {
  const [fault] = orderFaults(problem, orders);
  if (fault) throw new RangeError(`${fault.path}: ${fault.text}`);
  const offers = new Map(problem.offers.map((o) => [o.id, o]));
  const suppliers = new Map(problem.suppliers.map((s) => [s.id, s]));
  const arrives = new Map(problem.items.map((i) => [i.id, new Float64Array(problem.days)]));
  const cost: OrderCost = { goods: 0, carriage: 0, holding: 0, short: 0, end: 0, total: 0 };
  for (const order of orders) {
    const supplier = suppliers.get(order.supplier)!;
    const goods = goodsOf(offers, order);
    cost.goods += goods;
    cost.carriage += carriageOf(supplier, goods);
    for (const { offer: id, packs } of order.lines) {
      const offer = offers.get(id)!;
      arrives.get(offer.item)![order.day + supplier.leadDays]! += packs * offer.pack;
    }
  }
  for (const item of problem.items) {
    const stock = stockWithout(item, problem.days);
    const bought = arrives.get(item.id)!;
    let more = 0;
    for (let d = 0; d < problem.days; d++) {
      more += bought[d]!;
      const left = stock[d]! + more;
      cost.holding += Math.max(0, left) * item.holdingPerDay;
      cost.short += Math.max(0, -left) * item.shortPerDay;
      if (d === problem.days - 1) cost.end += left * item.endValue;
    }
    if (problem.days === 0) cost.end += item.onHand * item.endValue;
  }
  cost.total = cost.goods + cost.carriage + cost.holding + cost.short - cost.end;
  return cost;
}
