import { EPS, goodsOf, stockWithout } from './price.ts';
import type { OrderOffer, OrderProblem, PlannedOrder } from './problem.ts';

/** Days of need a keeper buys at once. */
const COVER_DAYS = 14;

/**
 * Ordering as it is done by hand: each part alone, from where a unit is cheapest, as soon as it would run out before
 * the next order could be on the shelf; then two weeks of need. Common practice, no source.
 */
export function orderByHand(problem: OrderProblem): PlannedOrder[] {
  const orders = new Map<string, PlannedOrder>();
  const suppliers = new Map(problem.suppliers.map((s) => [s.id, s]));
  const offers = new Map(problem.offers.map((o) => [o.id, o]));
  const last = problem.days - 1;
  const cheapest = new Map<string, OrderOffer>();
  const rate = (o: OrderOffer) => o.breaks[0]!.price / o.pack;
  for (const offer of problem.offers) {
    const other = cheapest.get(offer.item);
    if (!other || rate(offer) < rate(other)) cheapest.set(offer.item, offer);
  }
  for (const item of problem.items) {
    const offer = cheapest.get(item.id);
    if (!offer) continue;
    const { leadDays, orderOn, id } = suppliers.get(offer.supplier)!;
    const stock = stockWithout(item, problem.days);
    const days = orderOn.flatMap((on, d) => (on && d + leadDays <= last ? [d] : []));
    let bought = 0;
    days.forEach((d, k) => {
      const until = k + 1 < days.length ? days[k + 1]! + leadDays - 1 : last;
      if (least(stock, d + leadDays, until) + bought >= -EPS) return;
      const wanted = -(least(stock, d + leadDays, Math.min(last, d + leadDays + COVER_DAYS)) + bought);
      const packs = Math.max(offer.breaks[0]!.packs, Math.ceil(wanted / offer.pack - EPS));
      bought += packs * offer.pack;
      const key = `${id} ${d}`;
      const order = orders.get(key) ?? { supplier: id, day: d, lines: [] };
      order.lines.push({ offer: offer.id, packs });
      orders.set(key, order);
    });
  }
  for (const order of orders.values()) {
    // What is too little for the supplier is filled up with more of the first part.
    const { leastValue } = suppliers.get(order.supplier)!;
    const [first] = order.lines;
    const { breaks } = offers.get(first!.offer)!;
    const dearest = Math.max(...breaks.map((x) => x.price));
    // So many at a time as are surely not too many, until it is enough: a break may make all of them cheaper.
    for (let tries = 0; tries < 200 && dearest > 0; tries++) {
      const missing = leastValue - goodsOf(offers, order);
      if (missing <= EPS) break;
      first!.packs += Math.max(1, Math.floor(missing / dearest));
    }
  }
  return [...orders.values()].filter((o) => goodsOf(offers, o) >= suppliers.get(o.supplier)!.leastValue - EPS);
}

function least(stock: Float64Array, from: number, to: number): number {
  let low = Infinity;
  for (let d = from; d <= to; d++) low = Math.min(low, stock[d]!);
  return low;
}
