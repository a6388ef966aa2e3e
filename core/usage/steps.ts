import { dayFromNumber } from '../calendar/index.ts';
import type { UseStep } from './rate.ts';
import { busyDays, type MonthlyUse, type SeasonCurve } from './season.ts';

/** Readings of one engine side by side, oldest first: day numbers and life hours. */
export interface ReadingSeries {
  days: ArrayLike<number>;
  hours: ArrayLike<number>;
}

/** Steps closer together than this are joined: a meter shows tenths, and a day's work is no habit. */
const SHORTEST_STEP = 4;

/**
 * What was run between readings. A reading is taken to be made after the day's work, so a step holds the
 * days after its first reading up to the day of its last. Steps that go down are left out: they are
 * mistakes kept with a reason, or resets not yet written down.
 *
 * @param exposure what the hours are counted against, from the start of one day number to the start of another
 */
export function useSteps({ days, hours }: ReadingSeries, exposure: (from: number, to: number) => number): UseStep[] {
  const steps: UseStep[] = [];
  let first = 0;
  for (let i = 1; i < days.length; i++) {
    const last = i === days.length - 1;
    if (days[i]! - days[first]! < SHORTEST_STEP && !last) continue;
    const rise = hours[i]! - hours[first]!;
    if (rise >= 0 && days[i]! > days[first]!) {
      steps.push({ to: days[i]! + 1, hours: rise, exposure: exposure(days[first]! + 1, days[i]! + 1) });
    }
    first = i;
  }
  return steps;
}

/** Adds what one engine ran in each month of the calendar to `sum`, beside what it would have run without a season. */
export function addMonthlyUse(
  sum: { hours: number[]; expected: number[] },
  { days, hours }: ReadingSeries,
  usual: SeasonCurve,
): void {
  const n = days.length;
  if (n < 2) return;
  const busy = busyDays(usual, days[0]! + 1, days[n - 1]! + 1);
  const rate = busy > 0 ? (hours[n - 1]! - hours[0]!) / busy : 0;
  if (rate <= 0) return;
  for (let i = 1; i < n; i++) {
    const length = days[i]! - days[i - 1]!;
    if (length <= 0) continue;
    const rise = Math.max(0, hours[i]! - hours[i - 1]!);
    // A step of some weeks lies in two months at most; longer ones are cut in days by their middle week.
    for (let at = days[i - 1]! + 1; at <= days[i]!; at += 7) {
      const piece = Math.min(7, days[i]! + 1 - at);
      const month = Number(dayFromNumber(at + (piece >> 1)).slice(5, 7)) - 1;
      sum.hours[month]! += (rise * piece) / length;
      sum.expected[month]! += rate * piece;
    }
  }
}

/** Twelve months with nothing in them, hours run and expected. */
export const noMonthlyUse = (): MonthlyUse & { hours: number[]; expected: number[] } => ({
  hours: Array<number>(12).fill(0),
  expected: Array<number>(12).fill(0),
});

/** Life hours at the end of a day between two readings, in a straight line; null outside them. */
export function hoursOn({ days, hours }: ReadingSeries, day: number): number | null {
  const n = days.length;
  if (n === 0 || day < days[0]! || day > days[n - 1]!) return null;
  let i = 0;
  while (i < n - 1 && days[i + 1]! < day) i++;
  if (days[i]! >= day || i === n - 1) return hours[i]!;
  return hours[i]! + ((hours[i + 1]! - hours[i]!) * (day - days[i]!)) / (days[i + 1]! - days[i]!);
}
