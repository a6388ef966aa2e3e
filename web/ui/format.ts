import type { Writing } from '@diurna/contract/people';
import { addDays, isoWeek, timeOfDay, weekday, type Day } from '@diurna/core/calendar';
import { toMillilitres, volumeText } from '@diurna/core/units';

export { plural } from '@diurna/core/units';

const LOCALE = 'en-GB';
const noon = (day: Day) => new Date(`${day}T12:00:00Z`);
const dayLong = new Intl.DateTimeFormat(LOCALE, { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' });
const dayShort = new Intl.DateTimeFormat(LOCALE, { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });
const dayYear = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });

/** How the yard of this book writes hours, weeks and volumes: told once by the session, read by all that is drawn. */
let writing: Writing = { clock: '24', weekStarts: 1, volumes: 'litres' };
export function writeAs(yards: Writing): void {
  writing = yards;
}

/** Day a week begins on: 1 = Monday, 7 = Sunday. */
export const weekStarts = (): number => writing.weekStarts;
/** The days of a week in the yard's order, 1 = Monday. */
export const daysOfWeek = (): number[] => Array.from({ length: 7 }, (_, i) => ((writing.weekStarts - 1 + i) % 7) + 1);
export const twelveHours = (): boolean => writing.clock === '12';

/** An hour over a column: "9", or "9 am" where a reader needs to be told. */
export const columnHour = (minute: number, first: boolean): string => {
  const hour = Math.floor(minute / 60) % 24;
  if (!twelveHours()) return String(hour);
  return `${hour % 12 || 12}${first || hour % 12 === 0 ? (hour < 12 ? ' am' : ' pm') : ''}`;
};
/** "9:05" or "9:05 am" of minutes after a midnight. */
export const timeText = (minute: number): string => timeOfDay(minute, writing.clock);
/** A volume nobody printed, in the yard's units. */
export const millilitresText = (ml: number): string => volumeText(ml, writing.volumes);

/** "Thursday 15 April" */
export const longDay = (day: Day) => dayLong.format(noon(day)).replace(',', '');
/** "Thu 15 Apr" */
export const shortDay = (day: Day) => dayShort.format(noon(day)).replace(',', '');
/** "15 Apr 2026": where the year matters. */
export const fullDay = (day: Day) => dayYear.format(noon(day));
export const dayLetter = (day: Day) => 'MTWTFSS'[weekday(day) - 1]!;
/**
 * "week 17": of the week the day lies in, however the yard begins its weeks; ISO 8601 counts them by their Thursdays.
 */
export function weekText(day: Day): string {
  const first = addDays(day, -((weekday(day) - writing.weekStarts + 7) % 7));
  return `week ${isoWeek(addDays(first, (4 - writing.weekStarts + 7) % 7)).week}`;
}

/** The hour of an instant on the clock of the reader's own device. */
export function hourText(instant: number): string {
  const at = new Date(instant);
  const text = timeText(at.getHours() * 60 + at.getMinutes());
  return twelveHours() ? text : text.padStart(5, '0');
}

const deviceDay = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric' });
/** An instant on the clock of the reader's own device. */
export const clockText = (instant: string): string =>
  `${deviceDay.format(new Date(instant))}, ${hourText(new Date(instant).getTime())}`;

const oneDecimal = new Intl.NumberFormat(LOCALE, {
  minimumFractionDigits: 1,
  maximumFractionDigits: 1,
  useGrouping: false,
});
export const hoursText = (hours: number | null) => (hours === null ? '' : oneDecimal.format(hours));

/** A quantity as it is counted: pieces whole, fluids in mL or L. */
export const quantityText = (quantity: number, unit: 'each' | 'mL') =>
  unit === 'mL' ? millilitresText(quantity) : String(quantity);

export function moneyText(minor: number | null, currency: string): string {
  return minor === null ? '' : new Intl.NumberFormat(LOCALE, { style: 'currency', currency }).format(minor / 100);
}

/**
 * A price as people compare it: of a piece, or of the yard's unit of volume; prices of fluids are kept by the litre.
 */
export function priceText(minor: number, unit: 'each' | 'mL', currency: string): string {
  if (unit === 'each') return moneyText(minor, currency);
  return writing.volumes === 'litres'
    ? `${moneyText(minor, currency)} a litre`
    : `${moneyText((minor * toMillilitres(1, 'US qt')) / 1000, currency)} a quart`;
}

/** A sum as it is typed: "12.50" */
export const moneyFigure = (minor: number) => (minor / 100).toFixed(2);
/** Minor units of a typed sum; null when empty; what is no sum stays text, so that the schema can say so. */
export function minorOf(text: string): number | string | null {
  const clean = text.trim().replace(',', '.');
  if (clean === '') return null;
  return /^\d+(\.\d{1,2})?$/.test(clean) ? Math.round(Number(clean) * 100) : clean;
}
