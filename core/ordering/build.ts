import { addDays, weekday, type Day } from '../calendar/index.ts';
import { perDay, projectNeed, type Projection, type WantedTask } from '../stores/index.ts';
import type { OrderItem, OrderProblem } from './problem.ts';

/** Whom a yard buys from. Money in units of the book's currency. */
export interface YardSupplier {
  id: number;
  leadDays: number;
  /** Days of the week on which orders are taken: 1 = Monday. */
  weekdays: readonly number[];
  carriage: number;
  freeFrom: number | null;
  least: number;
}

export interface YardOffer {
  id: number;
  supplierId: number;
  partId: number;
  /** Pieces or mL in a pack. */
  pack: number;
  breaks: readonly { packs: number; price: number }[];
}

/** A task that will take a part, with what its boat earns on a day it could be out. */
export interface PartTask extends WantedTask {
  earnsPerDay: number;
}

/** A part on the shelf of one base. */
export interface ShelfPart {
  partId: number;
  onHand: number;
  /** Day index from the first day; below 0 = late. */
  arriving: readonly { day: number; quantity: number }[];
  tasks: readonly PartTask[];
}

export interface OrderYard {
  firstDay: Day;
  days: number;
  /** Chance of being served that the yard wants, such as 0.95. */
  share: number;
  suppliers: readonly YardSupplier[];
  offers: readonly YardOffer[];
  parts: readonly ShelfPart[];
}

/**
 * What money on a shelf costs in a year, with its room and what spoils: a share of its price. Common practice, no
 * source.
 */
const HOLDING_A_YEAR = 0.25;
/**
 * What a unit left after the last day is still worth of the least it costs: it will be wanted later, or not. Low enough
 * that nobody buys a year's lube to save a carriage. Common practice, no source.
 */
const WORTH_LEFT = 0.7;
/** What a day without a part costs at least, as a share of its price, where no boat earns anything. */
const LEAST_SHORT = 0.02;

/** The problem's name of a part. */
export const itemId = (partId: number) => `part ${partId}`;
/** The problem's name of a supplier. */
export const supplierId = (id: number) => `supplier ${id}`;
/** The problem's name of an offer. */
export const offerId = (id: number) => `offer ${id}`;
/** The number in a name the problem gave. */
export const numberOf = (id: string) => Number(id.slice(id.indexOf(' ') + 1));

/** What one part will be taken, by cards and by forecast. */
export const needOf = (part: ShelfPart, days: number, share: number): Projection =>
  projectNeed(part.tasks, days, share);

/**
 * The order problem of a base, by these rules: the need is what cards take on their days and what falls due by the
 * forecast, lifted on the sum over engines until the yard is served with the wished chance; a day without a part costs
 * what the boats that wait for it would earn; money on the shelf costs a quarter of itself a year. Parts nobody sells
 * are left out.
 */
export function orderProblemOf(yard: OrderYard): OrderProblem {
  const cheapest = new Map<number, number>();
  for (const { partId, breaks, pack } of yard.offers)
    cheapest.set(partId, Math.min(cheapest.get(partId) ?? Infinity, ...breaks.map((b) => b.price / pack)));
  const items = yard.parts.flatMap((part): OrderItem[] => {
    const price = cheapest.get(part.partId);
    if (price === undefined) return [];
    const wanted = part.tasks.reduce((sum, t) => sum + t.quantity, 0);
    const earned = part.tasks.reduce((sum, t) => sum + t.earnsPerDay, 0);
    return [
      {
        id: itemId(part.partId),
        onHand: part.onHand,
        need: perDay(needOf(part, yard.days, yard.share).planned),
        // What should have come is looked for tomorrow.
        arriving: part.arriving
          .map((a) => ({ day: a.day < 0 ? 1 : a.day, quantity: a.quantity }))
          .filter((a) => a.day < yard.days),
        holdingPerDay: (price * HOLDING_A_YEAR) / 365,
        shortPerDay: Math.max(price * LEAST_SHORT, wanted > 0 ? earned / wanted : 0),
        endValue: price * WORTH_LEFT,
      },
    ];
  });
  const known = new Set(items.map((i) => i.id));
  const weekdays = Array.from({ length: yard.days }, (_, d) => weekday(addDays(yard.firstDay, d)));
  return {
    format: 'diurna-order-problem',
    version: 1,
    days: yard.days,
    items,
    suppliers: yard.suppliers.map((s) => ({
      id: supplierId(s.id),
      leadDays: s.leadDays,
      carriage: s.carriage,
      freeFrom: s.freeFrom,
      leastValue: s.least,
      orderOn: weekdays.map((w) => s.weekdays.includes(w)),
    })),
    offers: yard.offers
      .filter((o) => known.has(itemId(o.partId)))
      .map((o) => ({
        id: offerId(o.id),
        item: itemId(o.partId),
        supplier: supplierId(o.supplierId),
        pack: o.pack,
        breaks: o.breaks.map((b) => ({ ...b })),
      })),
  };
}
