import { addDays, type Day } from '../calendar/index.ts';

/** A day of any year, "11-01". */
export type MonthDay = string;

/** When boats of a base come out and go in again, and how cold its nights get. */
export interface BaseSeason {
  /** The last day of its season and the first of the next; null = it never closes. */
  closes: MonthDay | null;
  opens: MonthDay | null;
  /** The coldest night to be expected in each month, January first, in °C; null = nobody entered it. */
  lows: readonly number[] | null;
  /** Stabiliser in mL to 10 L, as its bottle says; null or left out = the usual dose. */
  doseMlPerTen?: number | null;
}

/** One time of standing: from the last day of a season to the first of the next. */
export interface OffSeason {
  closes: Day;
  opens: Day;
  /** "2026/27", or "2026" where it lies within one year: how people call it. */
  name: string;
}

/** By what decisions of one time of standing are kept: the year it opens in, wherever its closing day is moved to. */
export const seasonKey = ({ opens }: OffSeason): string => opens.slice(0, 4);

/** Before it closes so many days belong to it: oil and the first dose go in before the last hire. */
export const DAYS_BEFORE_CLOSING = 35;
/** After the season has opened so many days are still looked at as its recommission. */
export const DAYS_AFTER_OPENING = 28;
/** Recommission may begin so many days before opening. Common practice, no source. */
export const DAYS_BEFORE_OPENING = 42;
/** Where no frost comes, boats are put away within so many days of closing: salt does not wait either. */
const DAYS_WITHOUT_FROST = 28;

/** A day of the calendar; 29 February is the 28th where a year has none. */
function inYear(monthDay: MonthDay, year: number): Day {
  const leap = new Date(Date.UTC(year, 1, 29)).getUTCMonth() === 1;
  return `${year}-${monthDay === '02-29' && !leap ? '02-28' : monthDay}`;
}

/**
 * The time of standing that a day belongs to: the one it lies in, or was just in, else the next one.
 *
 * @returns null for a base that never closes
 */
export function offSeasonOf({ closes, opens }: BaseSeason, day: Day): OffSeason | null {
  if (closes === null || opens === null) return null;
  const year = Number(day.slice(0, 4));
  for (const from of [year - 1, year, year + 1]) {
    const first = inYear(closes, from);
    const next = inYear(opens, from) > first ? inYear(opens, from) : inYear(opens, from + 1);
    if (addDays(next, DAYS_AFTER_OPENING) >= day) return { closes: first, opens: next, name: nameOf(first, next) };
  }
  return null;
}

/** The time of standing that was over last on that day; null for a base that never closes. */
export function offSeasonBehind(season: BaseSeason, day: Day): OffSeason | null {
  const ahead = offSeasonOf(season, day);
  if (ahead === null || ahead.opens <= day) return ahead;
  return offSeasonOf(season, addDays(ahead.opens, -366));
}

/** The next day after this one on which a season begins; null for a base that never closes. */
export function openingAfter(season: BaseSeason, day: Day): Day | null {
  const off = offSeasonOf(season, day);
  if (off === null || off.opens > day) return off && off.opens;
  return offSeasonOf(season, addDays(off.opens, DAYS_AFTER_OPENING + 1))!.opens;
}

const nameOf = (closes: Day, opens: Day) =>
  closes.slice(0, 4) === opens.slice(0, 4) ? closes.slice(0, 4) : `${closes.slice(0, 4)}/${opens.slice(2, 4)}`;

/** Months (1 to 12) in which water can freeze; null = nobody entered how cold it gets. */
export function frostMonths({ lows }: BaseSeason): number[] | null {
  return lows && lows.flatMap((low, i) => (low <= 0 ? [i + 1] : []));
}

/**
 * The first day of a time of standing on which frost may come: its own beginning where it lies in such a month.
 *
 * @returns null where none comes; where nobody entered it, it is taken to come with the closing
 */
export function firstFrost(season: BaseSeason, { closes, opens }: OffSeason): Day | null {
  const months = frostMonths(season);
  if (months === null) return closes;
  for (let day = closes; day < opens; day = firstOfNextMonth(day))
    if (months.includes(Number(day.slice(5, 7)))) return day;
  return null;
}

function firstOfNextMonth(day: Day): Day {
  const [year, month] = [Number(day.slice(0, 4)), Number(day.slice(5, 7))];
  return month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`;
}

/** By when every boat is to be put away: before frost, where it comes after closing; else some weeks after closing. */
export function putAwayBy(season: BaseSeason, off: OffSeason): Day {
  const frost = firstFrost(season, off);
  const usual = addDays(off.closes, DAYS_WITHOUT_FROST);
  const by = frost !== null && frost < usual && frost > off.closes ? frost : usual;
  return by < off.opens ? by : off.opens;
}

/** What a day is for the work of the season. */
export type Phase = 'running' | 'closing' | 'standing' | 'opening';

/** Where a day stands in it: the season runs, it is about to close, boats stand, they are brought out again. */
export function phaseOf({ closes, opens }: OffSeason, day: Day): Phase {
  if (day < addDays(closes, -DAYS_BEFORE_CLOSING)) return 'running';
  if (day >= addDays(opens, -DAYS_BEFORE_OPENING)) return 'opening';
  return day <= closes ? 'closing' : 'standing';
}

/** The same season half a year later: what a base on the other half of the earth begins with. */
export function mirrored({ closes, opens, lows }: BaseSeason): BaseSeason {
  const half = (monthDay: MonthDay) => {
    const month = ((Number(monthDay.slice(0, 2)) + 5) % 12) + 1;
    const last = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1]!;
    const date = Math.min(Number(monthDay.slice(3)), last);
    return `${String(month).padStart(2, '0')}-${String(date).padStart(2, '0')}`;
  };
  return {
    closes: closes === null ? null : half(closes),
    opens: opens === null ? null : half(opens),
    lows: lows && [...lows.slice(6), ...lows.slice(0, 6)],
  };
}

/** A base of the northern half of the earth, before anybody entered its own. Common practice, no source. */
export const USUAL_NORTH: BaseSeason = { closes: '10-31', opens: '04-01', lows: null };
/** What a base begins with. */
export const usualSeasonOf = (hemisphere: 'north' | 'south'): BaseSeason =>
  hemisphere === 'north' ? USUAL_NORTH : mirrored(USUAL_NORTH);
