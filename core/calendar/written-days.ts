import { addDays, isDay, type Day } from './day.ts';

/** Which comes first where a day is written in three figures with the year last. */
export const DAY_ORDERS = ['day-first', 'month-first'] as const;
export type DayOrder = (typeof DAY_ORDERS)[number];

/** `1/4/2026`, `01-04-26`; dots are kept apart, because nobody puts the month first before a dot (common practice). */
const YEAR_LAST = /^(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})$/;
const YEAR_FIRST = /^(\d{4})([./-])(\d{1,2})\2(\d{1,2})$/;
const SERIAL = /^(\d{5})(\.\d+)?$/;
const WITH_TIME = /^(\S+)[ T]+(\d{1,2}):([0-5]\d)(?::[0-5]\d)?$/;

const two = (figure: string) => figure.padStart(2, '0');
const existing = (year: string, month: string, day: string): Day | null => {
  const text = `${year.length === 2 ? `20${year}` : year}-${two(month)}-${two(day)}`;
  return isDay(text) ? text : null;
};

/**
 * A day as people and spreadsheets write it: `2026-04-15`, `15/4/2026`, `4/15/26`, or the serial number a spreadsheet
 * keeps, which counts from 1900 with a 29 February 1900 that never was, so that from March on day 0 is 30 December 1899
 * (ECMA-376 part 1, 18.17.4.1).
 *
 * @returns null where it is no day, or none in that order
 */
export function writtenDay(cell: string, order: DayOrder): Day | null {
  const serial = SERIAL.exec(cell);
  // 1954 to 2099: five figures outside of it are something else.
  if (serial && Number(serial[1]) >= 20_000 && Number(serial[1]) <= 73_050)
    return addDays('1899-12-30', Number(serial[1]));
  const [, year, , month, day] = YEAR_FIRST.exec(cell) ?? [];
  if (year) return existing(year, month!, day!);
  const [, one, mark, other, last] = YEAR_LAST.exec(cell) ?? [];
  if (!one) return null;
  return mark === '.' || order === 'day-first' ? existing(last!, other!, one) : existing(last!, one, other!);
}

/**
 * A day with its time by the clock, `15/4/2026 9:30` or a serial number with a fraction of the day.
 *
 * @returns the day and the minute of it; null where it is none
 */
export function writtenTime(cell: string, order: DayOrder): { day: Day; minute: number } | null {
  const [, text = '', hour, minute] = WITH_TIME.exec(cell) ?? [];
  if (hour !== undefined) {
    const day = Number(hour) < 24 ? writtenDay(text, order) : null;
    return day === null ? null : { day, minute: Number(hour) * 60 + Number(minute) };
  }
  const serial = SERIAL.exec(cell);
  const day = serial?.[2] === undefined ? null : writtenDay(serial[1]!, order);
  const of = Math.round(Number(serial?.[2] ?? 0) * 1440);
  if (day === null) return null;
  return of === 1440 ? { day: addDays(day, 1), minute: 0 } : { day, minute: of };
}

/**
 * Which order the days of one file are written in, told by those that fit one order only; the more of them win.
 *
 * @returns `order` null where no cell has an order; `sure` false where each could be read both ways
 */
export function orderOf(cells: Iterable<string>): { order: DayOrder | null; sure: boolean } {
  const fits = { 'day-first': 0, 'month-first': 0 };
  let asked = false;
  for (const cell of cells) {
    const text = WITH_TIME.exec(cell)?.[1] ?? cell;
    const mark = YEAR_LAST.exec(text)?.[2];
    if (mark === undefined || mark === '.') continue;
    asked = true;
    const [first, second] = DAY_ORDERS.map((order) => writtenDay(text, order));
    // The fourth of April is the same both ways and tells nothing.
    if (first !== null && second === null) fits['day-first']++;
    if (second !== null && first === null) fits['month-first']++;
  }
  return {
    order: asked ? (fits['month-first'] > fits['day-first'] ? 'month-first' : 'day-first') : null,
    sure: !asked || fits['day-first'] !== fits['month-first'],
  };
}
