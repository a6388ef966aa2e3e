import type { OrderBook } from '@diurna/contract/ordering';
import { addDays } from '@diurna/core/calendar';
import { whyLine, whyOrder, type PlannedOrder } from '@diurna/core/ordering';
import { moneyText, quantityText, shortDay } from '../ui/format.ts';

/** The day of an index of the book's problem. */
export const dayAt = (book: OrderBook, index: number) => addDays(book.firstDay, index);

/** A sum of the problem, which counts in whole units of the currency. */
export const sumText = (book: OrderBook, amount: number) => moneyText(Math.round(amount * 100), book.currency);

/** Why a line stands in its order, in a sentence. */
export function whyText(book: OrderBook, orders: readonly PlannedOrder[], at: number, line: number): string {
  const { problem } = book;
  const order = orders[at]!;
  const why = whyLine(problem, orders, at, line);
  const { unit } = book.names.offers[order.lines[line]!.offer]!;
  const next =
    why.nextArrival === null ? '' : `; the next order would be here on ${shortDay(dayAt(book, why.nextArrival))}`;
  if (why.runsOut !== null && why.shortBy > 0)
    return `Without it ${quantityText(Math.ceil(why.shortBy), unit)} short from ${shortDay(dayAt(book, why.runsOut))}${next}.`;
  if (why.saved > 0) return `So many at once cost ${sumText(book, why.saved)} less.`;
  if (whyOrder(problem, order).freeTogether) return 'With it the order comes free of carriage.';
  if (why.runsOut !== null)
    return `Wanted from ${shortDay(dayAt(book, why.runsOut))} on; with this order it needs none of its own.`;
  return 'Nobody wants it within these days.';
}

export const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** "Mon to Fri", "Tue, Thu", "every day". @param days 1 = Monday, in order */
export function weekdaysText(days: readonly number[]): string {
  if (days.length === 7) return 'every day';
  const short = (d: number) => WEEKDAYS[d - 1]!.slice(0, 3);
  const inRow = days.length > 2 && days.every((d, i) => i === 0 || d === days[i - 1]! + 1);
  return inRow ? `${short(days[0]!)} to ${short(days.at(-1)!)}` : days.map(short).join(', ');
}
