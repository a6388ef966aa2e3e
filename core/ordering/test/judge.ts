import type { OrderProblem, PlannedOrder } from '../index.ts';

/** The problem's words once more, apart from the product: what orders cost, or why they cannot be placed. */
export function judge(p: OrderProblem, orders: readonly PlannedOrder[]): { total: number; faults: string[] } {
  const faults: string[] = [];
  let total = 0;
  const seen = new Set<string>();
  const suppliers = new Map(p.suppliers.map((s) => [s.id, s]));
  const offers = new Map(p.offers.map((o) => [o.id, o]));
  const arrivals: Record<string, number> = {};
  for (const o of orders) {
    const supplier = suppliers.get(o.supplier)!;
    if (seen.has(`${o.supplier}@${o.day}`)) faults.push('two orders a day');
    seen.add(`${o.supplier}@${o.day}`);
    if (!supplier.orderOn[o.day]) faults.push('no order day');
    const arrival = o.day + supplier.leadDays;
    if (arrival > p.days - 1) faults.push('too late');
    let goods = 0;
    for (const line of o.lines) {
      const offer = offers.get(line.offer)!;
      if (offer.supplier !== o.supplier) faults.push('not theirs');
      if (line.packs % 1 !== 0 || line.packs < offer.breaks[0]!.packs) faults.push('too few packs');
      const reached = offer.breaks.filter((b) => b.packs <= line.packs);
      goods += (reached.at(-1)?.price ?? 0) * line.packs;
      const key = `${offer.item}@${arrival}`;
      arrivals[key] = (arrivals[key] ?? 0) + offer.pack * line.packs;
    }
    if (goods < supplier.leastValue - 1e-6) faults.push('too small');
    total += goods + (supplier.freeFrom !== null && goods >= supplier.freeFrom - 1e-6 ? 0 : supplier.carriage);
  }
  for (const item of p.items) {
    let stock = item.onHand;
    for (let d = 0; d < p.days; d++) {
      for (const a of item.arriving) if (a.day === d) stock += a.quantity;
      stock += (arrivals[`${item.id}@${d}`] ?? 0) - item.need[d]!;
      total += stock >= 0 ? stock * item.holdingPerDay : -stock * item.shortPerDay;
    }
    total -= stock * item.endValue;
  }
  return { total, faults };
}
