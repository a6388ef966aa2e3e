import type { BoatFacts } from '../ahead/index.ts';
import { dayInZone, dayNumber, type Day } from '../calendar/index.ts';
import type { OffSeason } from './season.ts';

const DAY_MS = 86_400_000;

/** The hires of a boat on both sides of a time of standing. */
export interface HiresAround {
  /** The last one that begins before the closing is over; null = none. */
  last: { out: Day; back: Day } | null;
  /** When the first one after the opening begins; null = none yet. */
  first: Day | null;
}

/** Its last hire that begins before the closing is over, and the first after the opening. */
export function hiresAround({ hires }: Pick<BoatFacts, 'hires'>, off: OffSeason, zone: string): HiresAround {
  const around = hires.filter(
    (h) => h.out >= (dayNumber(off.closes) - 60) * DAY_MS && h.out <= (dayNumber(off.opens) + 120) * DAY_MS,
  );
  const day = (instant: number) => dayInZone(new Date(instant), zone);
  let last: HiresAround['last'] = null;
  let first: Day | null = null;
  for (const h of around) {
    const out = day(h.out);
    if (out <= off.closes && (last === null || out > last.out)) last = { out, back: day(h.came ?? h.back) };
    if (out >= off.opens && (first === null || out < first)) first = out;
  }
  return { last, first };
}
