/**
 * A calendar day, `YYYY-MM-DD` (ISO 8601), meant in the time zone of a base.
 * Days carry no clock time, so they never move when clocks change.
 */
export type Day = string;

const DAY_MS = 86_400_000;
const PATTERN = /^(\d{4})-(\d{2})-(\d{2})$/;

/** True when the text is a day that exists: `2028-02-29` is one, `2027-02-29` is not. */
export function isDay(text: string): boolean {
  const match = PATTERN.exec(text);
  if (!match) return false;
  const ms = Date.parse(`${text}T00:00:00Z`);
  return Number.isFinite(ms) && new Date(ms).toISOString().startsWith(text);
}

/** Days since 1970-01-01. Throws a RangeError when the text is no day. */
export function dayNumber(day: Day): number {
  const ms = Date.UTC(+day.slice(0, 4), +day.slice(5, 7) - 1, +day.slice(8, 10));
  if (!Number.isFinite(ms)) throw new RangeError(`"${day}" is not a day (YYYY-MM-DD)`);
  return ms / DAY_MS;
}

/** The day that lies `n` days after 1970-01-01. */
export function dayFromNumber(n: number): Day {
  return new Date(n * DAY_MS).toISOString().slice(0, 10);
}

/** The day `n` days later (earlier when negative). */
export function addDays(day: Day, n: number): Day {
  return dayFromNumber(dayNumber(day) + n);
}

/** Whole days from `from` to `to`; negative when `to` is earlier. */
export function daysBetween(from: Day, to: Day): number {
  return dayNumber(to) - dayNumber(from);
}

/**
 * The same day of the month `n` months later; where that month is shorter, its last day
 * (31 January + 1 month = 28 or 29 February).
 */
export function addMonths(day: Day, n: number): Day {
  return dayFromNumber(addMonthsToNumber(dayNumber(day), n));
}

/** `addMonths` on day numbers, for loops over whole fleets. */
export function addMonthsToNumber(dayNo: number, n: number): number {
  const date = new Date(dayNo * DAY_MS);
  const year = date.getUTCFullYear();
  const month = date.getUTCMonth() + n;
  const lastOfMonth = new Date(Date.UTC(year, month + 1, 0)).getUTCDate();
  return Date.UTC(year, month, Math.min(date.getUTCDate(), lastOfMonth)) / DAY_MS;
}

/** ISO weekday: 1 = Monday ... 7 = Sunday. */
export function weekday(day: Day): number {
  return ((((dayNumber(day) + 3) % 7) + 7) % 7) + 1;
}

/** ISO 8601 week: 2027-01-01 lies in week 53 of 2026. */
export function isoWeek(day: Day): { year: number; week: number } {
  const thursday = dayNumber(day) + 4 - weekday(day);
  const year = +dayFromNumber(thursday).slice(0, 4);
  const newYear = Date.UTC(year, 0, 1) / DAY_MS;
  return { year, week: Math.floor((thursday - newYear) / 7) + 1 };
}
