import { dayFromNumber, dayNumber, type Day } from '../calendar/index.ts';
import type { LastDone } from './due.ts';

/** An engine that was found to use oil. */
export interface OilWatch {
  /** What was seen. */
  seen: string;
  /** How often its level was read since, and nothing found. */
  held: number;
}

/** The level of an engine that uses oil is read so often. Common practice, no source. */
export const OIL_WATCH_DAYS = 7;
/** Having held so often it is an engine like any other again. Common practice, no source. */
export const OIL_HELD_TIMES = 3;

/** Whether its level is still read more often than the programme says. */
export const oilWatched = ({ held }: OilWatch): boolean => held < OIL_HELD_TIMES;

/** Why the level is wanted, in words. */
export function oilWatchText({ seen, held }: OilWatch): string {
  const left = OIL_HELD_TIMES - held;
  return `${seen} It is read every week and before each hire, until it has held ${left === 1 ? 'once more' : `${left} times${held > 0 ? ' more' : ''}`}.`;
}

/**
 * By when the level is wanted: a week after it was read last, and before the first hire that would go out with a level
 * from before the hire before it.
 *
 * @param hires days they go out and come back, in the order they go out, those behind too
 * @param last when the level was read last; null = nobody knows: it is wanted today
 */
export function levelWantedOn(last: LastDone | null, hires: readonly { out: Day; back: Day }[], today: Day): Day {
  if (last === null) return today;
  let wanted = dayFromNumber(dayNumber(last.day) + OIL_WATCH_DAYS);
  let back: Day | null = null;
  for (const h of hires) {
    if (h.out >= today && back !== null && back > last.day) {
      if (h.out < wanted) wanted = h.out;
      break;
    }
    if (back === null || h.back > back) back = h.back;
  }
  return wanted;
}
