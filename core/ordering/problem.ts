import { checkProblem, type ProblemFault } from '../problem/index.ts';

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

/** Packs beyond which no part is planned: units are counted one by one. */
const MOST_PACKS = 100_000;

/** What the shape alone cannot say: names that do not meet, lists of the wrong length, breaks out of order. */
export function orderProblemFaults(problem: OrderProblem): ProblemFault[] {
  const { days } = problem;
  const { faults, say, names, long, known } = checkProblem(days, 'problem');
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
    known(offer.item, items, `offers[${i}].item`, 'item');
    known(offer.supplier, suppliers, `offers[${i}].supplier`, 'supplier');
    offer.breaks.forEach((b, k) => {
      if (k > 0 && b.packs <= offer.breaks[k - 1]!.packs)
        say(`offers[${i}].breaks[${k}].packs`, `${b.packs} is not more than the break before it`);
    });
  });
  faults.push(...tooMany(problem), ...endlessGains(problem));
  return faults;
}

/** A part whose need is too many packs to be counted: it wants larger packs. */
function tooMany({ items, offers }: OrderProblem): ProblemFault[] {
  const needs = new Map(items.map((i) => [i.id, i.need.reduce((a, b) => a + b, 0) - Math.min(0, i.onHand)]));
  return offers.flatMap((offer, i) => {
    const packs = (needs.get(offer.item) ?? 0) / offer.pack + offer.breaks.at(-1)!.packs;
    if (packs <= MOST_PACKS) return [];
    return [
      {
        path: `offers[${i}].pack`,
        text: `${Math.ceil(packs)} packs would have to be thought of; up to ${MOST_PACKS} are. Give larger packs or units`,
      },
    ];
  });
}

/** Buying without end must not pay: then there would be no least cost. */
function endlessGains({ items, offers }: OrderProblem): ProblemFault[] {
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
