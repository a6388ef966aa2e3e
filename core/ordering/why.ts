import { EPS, goodsOf, packPrice, stockWithout } from './price.ts';
import type { OrderProblem, PlannedOrder } from './problem.ts';

/** Why a line stands in an order, by what would be without it. */
export interface LineWhy {
  /** First day at whose end something would be owed without it; null = never within these days. */
  runsOut: number | null;
  /** The most that would be owed before the next order of the plan, or of its supplier, could be there. */
  shortBy: number;
  /** The day on which the supplier's next order could be there; null = none within these days. */
  nextArrival: number | null;
  /** What its break saves against the price of the first one. */
  saved: number;
}

/** What an order is by its goods. */
export interface OrderWhy {
  goods: number;
  carriage: number;
  /** The carriage is waived by its goods, which the largest line alone would not reach. */
  freeTogether: boolean;
}

/** @param at the order's place among `orders` @param line the line's place in it */
export function whyLine(problem: OrderProblem, orders: readonly PlannedOrder[], at: number, line: number): LineWhy {
  const order = orders[at]!;
  const { offer: id, packs } = order.lines[line]!;
  const offers = new Map(problem.offers.map((o) => [o.id, o]));
  const leads = new Map(problem.suppliers.map((s) => [s.id, s]));
  const offer = offers.get(id)!;
  const item = problem.items.find((i) => i.id === offer.item)!;
  const stock = stockWithout(item, problem.days);
  orders.forEach((o, k) => {
    o.lines.forEach((l, j) => {
      if ((k === at && j === line) || offers.get(l.offer)!.item !== item.id) return;
      const from = o.day + leads.get(o.supplier)!.leadDays;
      for (let d = from; d < problem.days; d++) stock[d]! += l.packs * offers.get(l.offer)!.pack;
    });
  });
  const supplier = leads.get(order.supplier)!;
  const next = supplier.orderOn.findIndex((on, d) => on && d > order.day);
  const nextArrival = next < 0 || next + supplier.leadDays >= problem.days ? null : next + supplier.leadDays;
  const short = stock.findIndex((s) => s < -EPS);
  let shortBy = 0;
  for (let d = 0; d < (nextArrival ?? problem.days); d++) shortBy = Math.max(shortBy, -stock[d]!);
  const price = packPrice(offer, packs) ?? offer.breaks[0]!.price;
  return {
    runsOut: short < 0 ? null : short,
    shortBy,
    nextArrival,
    saved: Math.max(0, (offer.breaks[0]!.price - price) * packs),
  };
}

/** What an order's goods come to, and whether it is their sum that makes the carriage free. */
export function whyOrder(problem: OrderProblem, order: PlannedOrder): OrderWhy {
  const offers = new Map(problem.offers.map((o) => [o.id, o]));
  const { carriage, freeFrom } = problem.suppliers.find((s) => s.id === order.supplier)!;
  const goods = goodsOf(offers, order);
  const free = freeFrom !== null && goods >= freeFrom - EPS;
  const largest = Math.max(0, ...order.lines.map((l) => goodsOf(offers, { ...order, lines: [l] })));
  return { goods, carriage: free ? 0 : carriage, freeTogether: free && largest < freeFrom - EPS };
}
