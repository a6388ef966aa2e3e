import type { OrderProblem } from './problem.ts';

/** When a part is bought by a reorder point, and how much then. */
export interface Reorder {
  /** Bought when what is there and on its way falls to this. */
  at: number;
  /** Bought then, in whole packs. */
  lot: number;
  packs: number;
  supplier: string;
  /** Longest wait from falling to it until it is on the shelf. */
  days: number;
}

const YEAR_DAYS = 365;

/**
 * The lot at which carriage and holding cost the same, the least together: the square root of twice the yearly need
 * times the cost of an order over the cost of holding one for a year (F. W. Harris 1913; also named after R. H.
 * Wilson).
 *
 * @returns 0 where nothing is needed; Infinity where holding costs nothing
 */
export const squareRootLot = (yearlyNeed: number, costOfOrder: number, holdingPerYear: number): number =>
  yearlyNeed <= 0 ? 0 : holdingPerYear <= 0 ? Infinity : Math.sqrt((2 * yearlyNeed * costOfOrder) / holdingPerYear);

/** The longest wait for an order day, from any day on. */
function longestWait(orderOn: readonly boolean[]): number {
  let longest = 0;
  let wait = 0;
  for (const on of orderOn) {
    wait = on ? 0 : wait + 1;
    longest = Math.max(longest, wait);
  }
  return longest;
}

/**
 * A reorder point from the same figures as the plan of orders: what is planned to be taken until an order could be
 * there
 * at the latest, from the supplier who is cheapest by the unit, in lots by the square-root formula.
 *
 * @param mean taken up to the end of each day, on average
 * @param planned the same with the wished chance of being enough
 * @returns null where nobody sells it or nothing takes it
 */
export function reorderOf(
  problem: OrderProblem,
  itemId: string,
  { mean, planned }: { mean: readonly number[]; planned: readonly number[] },
): Reorder | null {
  const item = problem.items.find((i) => i.id === itemId);
  const [best] = problem.offers
    .filter((o) => o.item === itemId)
    .sort((a, b) => a.breaks[0]!.price / a.pack - b.breaks[0]!.price / b.pack || a.pack - b.pack);
  const supplier = problem.suppliers.find((s) => s.id === best?.supplier);
  const taken = mean.at(-1) ?? 0;
  if (!item || !best || !supplier || taken <= 0) return null;
  const days = supplier.leadDays + longestWait(supplier.orderOn);
  const at = planned[Math.min(days, planned.length - 1)]!;
  const wished = squareRootLot((taken * YEAR_DAYS) / mean.length, supplier.carriage, item.holdingPerDay * YEAR_DAYS);
  // Where holding costs nothing, no more than a year's need all the same.
  const lot = Math.min(wished, (taken * YEAR_DAYS) / mean.length);
  const packs = Math.max(best.breaks[0]!.packs, Math.ceil(lot / best.pack - 1e-9));
  return { at, lot: packs * best.pack, packs, supplier: supplier.id, days };
}
