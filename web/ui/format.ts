import { isoWeek, weekday, type Day } from '@diurna/core/calendar';
import { volumeText } from '@diurna/core/units';

export { plural } from '@diurna/core/units';

const LOCALE = 'en-GB';
const noon = (day: Day) => new Date(`${day}T12:00:00Z`);
const dayLong = new Intl.DateTimeFormat(LOCALE, { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' });
const dayShort = new Intl.DateTimeFormat(LOCALE, { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });
const dayYear = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });

/** "Thursday 15 April" */
export const longDay = (day: Day) => dayLong.format(noon(day)).replace(',', '');
/** "Thu 15 Apr" */
export const shortDay = (day: Day) => dayShort.format(noon(day)).replace(',', '');
/** "15 Apr 2026": where the year matters. */
export const fullDay = (day: Day) => dayYear.format(noon(day));
export const dayLetter = (day: Day) => 'MTWTFSS'[weekday(day) - 1]!;
export const weekText = (day: Day) => `week ${isoWeek(day).week}`;

/** An instant on the clock of the reader's own device. */
export const clockText = (instant: string) =>
  new Intl.DateTimeFormat(LOCALE, {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  }).format(new Date(instant));

const oneDecimal = new Intl.NumberFormat(LOCALE, {
  minimumFractionDigits: 1,
  maximumFractionDigits: 1,
  useGrouping: false,
});
export const hoursText = (hours: number | null) => (hours === null ? '' : oneDecimal.format(hours));

/** A quantity as it is counted: pieces whole, fluids in mL or L. */
export const quantityText = (quantity: number, unit: 'each' | 'mL') =>
  unit === 'mL' ? volumeText(quantity) : String(quantity);

export function moneyText(minor: number | null, currency: string): string {
  return minor === null ? '' : new Intl.NumberFormat(LOCALE, { style: 'currency', currency }).format(minor / 100);
}

/** A sum as it is typed: "12.50" */
export const moneyFigure = (minor: number) => (minor / 100).toFixed(2);
/** Minor units of a typed sum; null when empty; what is no sum stays text, so that the schema can say so. */
export function minorOf(text: string): number | string | null {
  const clean = text.trim().replace(',', '.');
  if (clean === '') return null;
  return /^\d+(\.\d{1,2})?$/.test(clean) ? Math.round(Number(clean) * 100) : clean;
}
