/** A part, or a fluid, of which there is a shelf. */
export interface OrderItem {
  id: string;
  /** On day 0, open containers counted in; its own unit: pieces or mL. */
  onHand: number;
  /** Taken out on each day, after what arrives on it. */
  need: number[];
  /** Under way already. */
  arriving: { day: number; quantity: number }[];
  /** Money a unit left at the end of a day. */
  holdingPerDay: number;
  /** Money a unit still owed at the end of a day. */
  shortPerDay: number;
  /** Worth of a unit left (or owed) after the last day. */
  endValue: number;
}

export interface OrderSupplier {
  id: string;
  /** Ordered on d it is on the shelf on d + leadDays. */
  leadDays: number;
  /** Of each order. */
  carriage: number;
  /** Goods value from which the carriage is waived; null = never. */
  freeFrom: number | null;
  /** Goods value below which no order is taken. */
  leastValue: number;
  /** Whether orders are taken on each day. */
  orderOn: boolean[];
}

export interface OrderOffer {
  id: string;
  item: string;
  supplier: string;
  /** Units in a pack. */
  pack: number;
  /** Price of each pack when at least so many are taken in one order; the first is the least that can be bought. */
  breaks: { packs: number; price: number }[];
}

/** What to buy, from whom, on which day, in which packs: days 0 to `days` - 1. */
export interface OrderProblem {
  format: 'diurna-order-problem';
  version: 1;
  name?: string | undefined;
  days: number;
  items: OrderItem[];
  suppliers: OrderSupplier[];
  offers: OrderOffer[];
}

export interface PlannedOrder {
  supplier: string;
  day: number;
  lines: { offer: string; packs: number }[];
}

/** total = goods + carriage + holding + short - end */
export interface OrderCost {
  goods: number;
  carriage: number;
  holding: number;
  short: number;
  end: number;
  total: number;
}

export interface OrderPlan {
  format: 'diurna-order-plan';
  version: 1;
  orders: PlannedOrder[];
  cost: OrderCost;
  /** A proven lower bound of `cost.total`, or null. */
  bound: number | null;
}

export interface OrderFault {
  path: string;
  text: string;
}

/** What the shape alone cannot say: names that do not meet, lists of the wrong length, breaks out of order. */
export function orderProblemFaults(problem: OrderProblem): OrderFault[] {
  const faults: OrderFault[] = [];
  const say = (path: string, text: string) => faults.push({ path, text });
  const { days } = problem;
  const names = (list: { id: string }[], where: string) => {
    const seen = new Set<string>();
    list.forEach(({ id }, i) => {
      if (seen.has(id)) say(`${where}[${i}].id`, `“${id}” stands twice`);
      seen.add(id);
    });
    return seen;
  };
  const long = (list: unknown[], path: string) => {
    if (list.length !== days) say(path, `has ${list.length} days, the problem ${days}`);
  };
  const items = names(problem.items, 'items');
  const suppliers = names(problem.suppliers, 'suppliers');
  names(problem.offers, 'offers');
  problem.items.forEach((item, i) => {
    long(item.need, `items[${i}].need`);
    item.arriving.forEach((a, k) => {
      if (a.day >= days) say(`items[${i}].arriving[${k}].day`, `${a.day} lies after the last day, ${days - 1}`);
    });
  });
  problem.suppliers.forEach((s, i) => {
    long(s.orderOn, `suppliers[${i}].orderOn`);
  });
  problem.offers.forEach((offer, i) => {
    if (!items.has(offer.item)) say(`offers[${i}].item`, `there is no item “${offer.item}”`);
    if (!suppliers.has(offer.supplier)) say(`offers[${i}].supplier`, `there is no supplier “${offer.supplier}”`);
    offer.breaks.forEach((b, k) => {
      if (k > 0 && b.packs <= offer.breaks[k - 1]!.packs)
        say(`offers[${i}].breaks[${k}].packs`, `${b.packs} is not more than the break before it`);
    });
  });
  faults.push(...endlessGains(problem));
  return faults;
}

/** Buying without end must not pay: then there would be no least cost. */
function endlessGains({ items, offers }: OrderProblem): OrderFault[] {
  const byId = new Map(items.map((i) => [i.id, i]));
  return offers.flatMap((offer, i) => {
    const item = byId.get(offer.item);
    const cheapest = Math.min(...offer.breaks.map((b) => b.price)) / offer.pack;
    if (!item || item.endValue <= cheapest + item.holdingPerDay + 1e-9) return [];
    return [
      {
        path: `offers[${i}].breaks`,
        text: `a unit costs ${cheapest} and is worth ${item.endValue} after the last day: ever more would be bought`,
      },
    ];
  });
}
