import { packPrice } from './price.ts';
import type { OrderOffer, OrderProblem, PlannedOrder } from './problem.ts';

/** Days on which a supplier takes an order that is on the shelf within the problem's days. */
export function orderDays({ suppliers, days }: OrderProblem, supplier: string): number[] {
  const found = suppliers.find((s) => s.id === supplier);
  return found ? found.orderOn.flatMap((on, d) => (on && d + found.leadDays < days ? [d] : [])) : [];
}

/** Offers of other suppliers for the same part that can be ordered within the problem's days. */
export const otherOffers = (problem: OrderProblem, offerId: string): OrderOffer[] => {
  const own = problem.offers.find((o) => o.id === offerId);
  return problem.offers.filter(
    (o) => o.item === own?.item && o.supplier !== own.supplier && orderDays(problem, o.supplier).length > 0,
  );
};

/** Lines of one order to one supplier: what stands twice is added up. */
function joined(lines: readonly PlannedOrder['lines'][number][]): PlannedOrder['lines'] {
  const packs = new Map<string, number>();
  for (const l of lines) packs.set(l.offer, (packs.get(l.offer) ?? 0) + l.packs);
  return [...packs].map(([offer, n]) => ({ offer, packs: n }));
}

/** Orders with another one among them: one a supplier and day, none without lines, the nearest first. */
function withOrder(orders: readonly PlannedOrder[], more: PlannedOrder): PlannedOrder[] {
  const same = (o: PlannedOrder) => o.supplier === more.supplier && o.day === more.day;
  const lines = joined([...orders.filter(same).flatMap((o) => o.lines), ...more.lines]);
  return [...orders.filter((o) => !same(o)), { ...more, lines }]
    .filter((o) => o.lines.length > 0)
    .sort((a, b) => a.day - b.day || a.supplier.localeCompare(b.supplier));
}

const without = (orders: readonly PlannedOrder[], at: number) => orders.filter((_o, i) => i !== at);

/** An order put to another day; where its supplier has one on that day, both become one. */
export function putOrder(orders: readonly PlannedOrder[], at: number, day: number): PlannedOrder[] {
  return withOrder(without(orders, at), { ...orders[at]!, day });
}

/**
 * A line taken from another supplier: at least as much of the part, ordered so that it is there no later than before,
 * or as soon as it can be.
 */
export function putLine(
  problem: OrderProblem,
  orders: readonly PlannedOrder[],
  at: number,
  line: number,
  offerId: string,
): PlannedOrder[] {
  const order = orders[at]!;
  const { offer: was, packs } = order.lines[line]!;
  const [own, other] = [was, offerId].map((id) => problem.offers.find((o) => o.id === id)!) as [OrderOffer, OrderOffer];
  const lead = (id: string) => problem.suppliers.find((s) => s.id === id)!.leadDays;
  const there = order.day + lead(order.supplier);
  const days = orderDays(problem, other.supplier);
  const day = days.findLast((d) => d + lead(other.supplier) <= there) ?? days[0]!;
  let wanted = Math.max(1, Math.ceil((packs * own.pack) / other.pack - 1e-9));
  if (packPrice(other, wanted) === null) wanted = other.breaks[0]!.packs;
  const left = { ...order, lines: order.lines.filter((_l, i) => i !== line) };
  const rest = left.lines.length > 0 ? orders.map((o, i) => (i === at ? left : o)) : without(orders, at);
  return withOrder(rest, { supplier: other.supplier, day, lines: [{ offer: offerId, packs: wanted }] });
}
