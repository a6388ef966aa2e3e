import { minuteInZone } from '../calendar/index.ts';

/** A boat is booked out. Instants in milliseconds since 1970. */
export interface HireSpan {
  out: number;
  back: number;
  /** When it was booked, where that is known. */
  madeOn: number | null;
  /** When the dock let it go, and saw it back; left out where nobody said. */
  went?: number;
  came?: number;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/**
 * Hours on hire on each day of the base, overlaps counted once.
 *
 * @param hires in any order
 * @param days how many days from day number `first` on
 */
export function hireHoursByDay(hires: readonly HireSpan[], first: number, days: number, zone: string): Float64Array {
  const hours = new Float64Array(days);
  let reached = -Infinity;
  for (const hire of [...hires].sort((a, b) => a.out - b.out)) {
    let from = Math.max(hire.out, reached);
    reached = Math.max(reached, hire.back);
    while (from < hire.back) {
      const { dayNo, minute } = minuteInZone(from, zone);
      // The next midnight may be an hour off on the day clocks change; the hours still add up over two days.
      const to = Math.min(hire.back, from + DAY - minute * 60_000);
      const i = dayNo - first;
      if (i >= 0 && i < days) hours[i]! += (to - from) / HOUR;
      from = to;
    }
  }
  return hours;
}

/** Share of all hire hours that were booked at least so many days ahead; `share[0]` = on the day or before. */
export type BookingCurve = Float64Array;

/** Without any booking dates: half of what comes is booked ten days ahead. Common practice, no source. */
const USUAL_HALF_DAYS = 10;
/** Hire hours that count as much as the usual curve. */
const USUAL_WEIGHT = 200;
const LONGEST_LEAD = 365;

/**
 * How far ahead people book, from hires that are over: what is not booked yet on a coming day is this
 * share short of what that day will see.
 */
export function bookingCurve(past: readonly HireSpan[]): BookingCurve {
  const byLead = new Float64Array(LONGEST_LEAD + 1);
  let all = 0;
  for (const { out, back, madeOn } of past) {
    if (madeOn === null || back <= out) continue;
    byLead[Math.max(0, Math.min(LONGEST_LEAD, Math.floor((out - madeOn) / DAY)))]! += (back - out) / HOUR;
    all += (back - out) / HOUR;
  }
  const share = new Float64Array(LONGEST_LEAD + 1);
  let ahead = 0;
  for (let lead = LONGEST_LEAD; lead >= 0; lead--) {
    ahead += byLead[lead]!;
    share[lead] = (ahead + USUAL_WEIGHT * 0.5 ** (lead / USUAL_HALF_DAYS)) / (all + USUAL_WEIGHT);
  }
  return share;
}

/** From and to, in any unit of time. */
export type Span = readonly [from: number, to: number];

/** The gaps between hires from `from` to `to`, in order; hires in any order, overlaps allowed. */
export function gapsBetween(hires: readonly Span[], from: number, to: number): Span[] {
  const gaps: Span[] = [];
  let free = from;
  for (const [out, back] of [...hires].sort((a, b) => a[0] - b[0])) {
    if (out >= to) break;
    if (out > free) gaps.push([free, out]);
    free = Math.max(free, back);
  }
  if (free < to) gaps.push([free, to]);
  return gaps;
}
