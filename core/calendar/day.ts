/**
 * A calendar day, `YYYY-MM-DD` (ISO 8601), meant in the time zone of a base.
 * Days carry no clock time, so they never move when clocks change.
 */
export type Day = string;

const PATTERN = /^(\d{4})-(\d{2})-(\d{2})$/;

/** True when the text is a day that exists: `2028-02-29` is one, `2027-02-29` is not. */
export function isDay(text: string): boolean {
  const match = PATTERN.exec(text);
  if (!match) return false;
  const ms = Date.parse(`${text}T00:00:00Z`);
  return Number.isFinite(ms) && new Date(ms).toISOString().startsWith(text);
}

/**
 * The day arithmetic below counts in whole numbers, because whole fleets go through it at every look and
 * `Date` objects took four fifths of that time. Years run from March, so that the leap day is the last of
 * its year; 400 years are 146,097 days.
 */
const ERA_DAYS = 146_097;
/** Days from 0000-03-01 to 1970-01-01. */
const EPOCH = 719_468;

function numberOf(year: number, month: number, dayOfMonth: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month > 2 ? month - 3 : month + 9) + 2) / 5) + dayOfMonth - 1;
  return era * ERA_DAYS + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - EPOCH;
}

/** Year, month 1 to 12 and day of the month in one number, `YYYYMMDD`. */
function civil(n: number): number {
  const z = n + EPOCH;
  const era = Math.floor(z / ERA_DAYS);
  const dayOfEra = z - era * ERA_DAYS;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const fromMarch = Math.floor((5 * dayOfYear + 2) / 153);
  const month = fromMarch < 10 ? fromMarch + 3 : fromMarch - 9;
  return (
    (yearOfEra + era * 400 + (month <= 2 ? 1 : 0)) * 10_000 +
    month * 100 +
    dayOfYear -
    Math.floor((153 * fromMarch + 2) / 5) +
    1
  );
}

/** Days since 1970-01-01. Throws a RangeError when the text is no date at all. */
export function dayNumber(day: Day): number {
  const digit = (at: number) => day.charCodeAt(at) - 48;
  const n = numberOf(
    digit(0) * 1000 + digit(1) * 100 + digit(2) * 10 + digit(3),
    digit(5) * 10 + digit(6),
    digit(8) * 10 + digit(9),
  );
  if (!(n > -800_000 && n < 3_000_000)) throw new RangeError(`"${day}" is not a day (YYYY-MM-DD)`);
  return n;
}

const TWO_FIGURES = Array.from({ length: 100 }, (_, i) => String(i).padStart(2, '0'));

/** The day that lies `n` days after 1970-01-01. */
export function dayFromNumber(n: number): Day {
  const date = civil(n);
  const year = Math.floor(date / 10_000);
  return `${year < 1000 ? String(year).padStart(4, '0') : year}-${TWO_FIGURES[Math.floor(date / 100) % 100]}-${TWO_FIGURES[date % 100]}`;
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
  const from = civil(dayNo);
  const months = Math.floor(from / 10_000) * 12 + (Math.floor(from / 100) % 100) - 1 + n;
  const year = Math.floor(months / 12);
  const month = months - year * 12 + 1;
  const first = numberOf(year, month, 1);
  const next = month === 12 ? numberOf(year + 1, 1, 1) : numberOf(year, month + 1, 1);
  return Math.min(first + (from % 100) - 1, next - 1);
}

/** ISO weekday: 1 = Monday ... 7 = Sunday. */
export function weekday(day: Day): number {
  return ((((dayNumber(day) + 3) % 7) + 7) % 7) + 1;
}

/** ISO 8601 week: 2027-01-01 lies in week 53 of 2026. */
export function isoWeek(day: Day): { year: number; week: number } {
  const thursday = dayNumber(day) + 4 - weekday(day);
  const year = +dayFromNumber(thursday).slice(0, 4);
  const newYear = numberOf(year, 1, 1);
  return { year, week: Math.floor((thursday - newYear) / 7) + 1 };
}

const shortDay = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  timeZone: 'UTC',
});
/** "Fri 17 Apr". */
export const dayWord = (day: Day): string => shortDay.format(new Date(`${day}T12:00:00Z`)).replace(',', '');
