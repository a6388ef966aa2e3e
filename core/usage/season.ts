import { dayFromNumber } from '../calendar/index.ts';

/** How busy each month is beside the year's mean, January first; the mean of the twelve is 1. */
export type SeasonProfile = readonly number[];

/** Hours run and engine-days lived in each month of the calendar, January first, summed over engines and years. */
export interface MonthlyUse {
  hours: readonly number[];
  /** What the same engines would have run in that month without a season: days x their own mean rate. */
  expected: readonly number[];
}

/**
 * A boating year of the northern temperate zone: the guess for a base that has no history.
 * Common practice, no source.
 */
const USUAL_NORTH: SeasonProfile = [0.35, 0.4, 0.6, 0.9, 1.25, 1.6, 1.9, 1.8, 1.3, 0.85, 0.6, 0.45];

/** The usual year of that hemisphere; the south is half a year away. */
export function usualSeason(hemisphere: 'north' | 'south'): SeasonProfile {
  return hemisphere === 'north' ? USUAL_NORTH : [...USUAL_NORTH.slice(6), ...USUAL_NORTH.slice(0, 6)];
}

/**
 * Hours of history in a month that count as much as the season it leans on: a base on the usual year, a boat on its
 * base.
 */
export const BASE_LEANS = 60;
export const BOAT_LEANS = 12;

/**
 * A season from months of use, leaning on a wider one while there is little of it.
 * Months without any history keep the wider season's figure, scaled to fit the rest.
 */
export function learnSeason(use: MonthlyUse, wider: SeasonProfile, leans: number): SeasonProfile {
  const raw = wider.map((w, m) => ((use.hours[m] ?? 0) + leans * w) / ((use.expected[m] ?? 0) + leans));
  const mean = raw.reduce((a, b) => a + b, 0) / raw.length;
  return raw.map((r) => r / mean);
}

const DAYS_OF_MONTH = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

/** A season as a sum to be looked up: exposure between two days in one subtraction. */
export interface SeasonCurve {
  first: number;
  /** `sums[i]` = busy-days from day `first` up to, not including, day `first + i`. */
  sums: Float64Array;
}

/**
 * Busy-days for `days` days from day number `first`: a day of a month twice as busy as the mean counts two.
 * Between the middles of months the figure runs straight.
 */
export function seasonCurve(profile: SeasonProfile, first: number, days: number): SeasonCurve {
  const sums = new Float64Array(days + 1);
  // One look at the calendar; then counted on.
  const start = dayFromNumber(first);
  let year = Number(start.slice(0, 4));
  let month = Number(start.slice(5, 7)) - 1;
  let dayOfMonth = Number(start.slice(8, 10));
  for (let i = 0; i < days; i++) {
    const length = month === 1 && isLeap(year) ? 29 : DAYS_OF_MONTH[month]!;
    const along = (dayOfMonth - 0.5) / length - 0.5;
    const near = profile[(month + (along < 0 ? 11 : 1)) % 12]!;
    sums[i + 1] = sums[i]! + profile[month]! + (near - profile[month]!) * Math.abs(along);
    if (++dayOfMonth > length) {
      dayOfMonth = 1;
      if (++month === 12) {
        month = 0;
        year++;
      }
    }
  }
  return { first, sums };
}

const isLeap = (year: number) => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;

/** Busy-days from day number `from` up to, not including, `to`; days outside the curve count as its nearest end. */
export function busyDays(curve: SeasonCurve, from: number, to: number): number {
  return sumAt(curve, to) - sumAt(curve, from);
}

function sumAt({ first, sums }: SeasonCurve, day: number): number {
  const i = day - first;
  const last = sums.length - 1;
  if (i <= 0) return i * sums[1]!;
  if (i >= last) return sums[last]! + (i - last) * (sums[last]! - sums[last - 1]!);
  return sums[i]!;
}
