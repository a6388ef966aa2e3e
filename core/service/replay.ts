import { calendarLimit, limitAfter, type ServiceRule } from './due.ts';

/** Hours run up to a day, counted from any beginning; never falls. */
export type HoursUpTo = (dayNo: number) => number;

/** More services of one task than this in a stretch say that the rule is a slip. */
const MOST = 400;

/**
 * How often a task falls due in a stretch of days if it is always done on the day it falls due: whichever
 * limit comes first, each next one counted from there.
 *
 * @param last when and at how many hours it was done before; `new` = the engine was new then
 * @param hours life hours up to the end of a day number, in the same count as `last.hours`
 * @param limits at most this day; returns the day numbers, those before `from` counted as due on `from`
 */
export function servicesIn(
  rule: ServiceRule,
  last: { dayNo: number; hours: number; isNew: boolean },
  hours: HoursUpTo,
  from: number,
  to: number,
): number[] {
  const days: number[] = [];
  if (rule.everyHours === null && rule.everyMonths === null && rule.anchor == null) return days;
  let at = last;
  while (days.length < MOST) {
    const byMonths = calendarLimit(rule, at.dayNo);
    const limit = rule.everyHours === null ? Infinity : limitAfter(rule, at.hours, at.isNew);
    const next = Math.max(
      from,
      at.dayNo + 1,
      Math.min(byMonths, limit === Infinity ? Infinity : dayOf(hours, limit, Math.max(from, at.dayNo + 1), to)),
    );
    if (!(next < to)) break;
    days.push(next);
    at = { dayNo: next, hours: hours(next), isNew: false };
  }
  return days;
}

/** The first day from `from` on at whose end that many hours are run, by halving; Infinity when not before `to`. */
function dayOf(hours: HoursUpTo, limit: number, from: number, to: number): number {
  if (hours(to - 1) < limit) return Infinity;
  let low = from;
  let high = to - 1;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (hours(mid) >= limit) high = mid;
    else low = mid + 1;
  }
  return low;
}
