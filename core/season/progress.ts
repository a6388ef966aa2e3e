import { addDays, dayNumber, type Day } from '../calendar/index.ts';
import type { LastDone, TaskKind } from '../service/index.ts';
import type { SeasonItem, VisitFrom } from './campaign.ts';
import { DAYS_BEFORE_CLOSING, DAYS_BEFORE_OPENING, type OffSeason } from './season.ts';

/**
 * From when on work counts as this season's.
 *
 * @param lastBack when its last hire ends; null = none before the closing
 */
export function countsFrom({ closes, opens }: OffSeason, lastBack: Day | null): VisitFrom {
  const before = addDays(closes, -DAYS_BEFORE_CLOSING);
  return {
    before,
    after: lastBack !== null && lastBack > before ? lastBack : before,
    spring: addDays(opens, -DAYS_BEFORE_OPENING),
  };
}

/** The day a piece of the season's work was done; null = it is still to be done. */
export function doneOn(
  { visit, task }: Pick<SeasonItem, 'visit' | 'task'>,
  last: ReadonlyMap<TaskKind, LastDone>,
  from: VisitFrom,
): Day | null {
  const done = last.get(task);
  return done && done.from !== 'new' && done.day >= from[visit] ? done.day : null;
}

/** How a campaign runs: boats a week, and when it is over. */
export interface Pace {
  left: number;
  /** Boats a week from now on, to be through by the day. */
  needed: number;
  /** Boats a week in the weeks behind; null = nothing is done yet. */
  reached: number | null;
  /** When the last one is done at that pace: with 10, 50 and 90 % of the chance; null where nothing tells. */
  finish: { early: Day; likely: Day; late: Day } | null;
}

/** The pace of so many weeks behind counts. */
const WEEKS_BEHIND = 4;
const Z90 = 1.281551565545;

/**
 * Pace needed and reached. Boats done are taken to come by chance at an even rate (Poisson): the time until the rest is
 * done is then a ratio of two gammas, taken as log-normal with variance 1/left + 1/done.
 *
 * @param done days on which boats were done
 */
export function paceOf(total: number, done: readonly Day[], from: Day, by: Day, today: Day): Pace {
  const left = Math.max(0, total - done.length);
  const weeks = (a: Day, b: Day) => (dayNumber(b) - dayNumber(a)) / 7;
  const needed = left / Math.max(1 / 7, weeks(today, by));
  // Since it began, at most some weeks: people have other work before and after.
  const first = done.reduce((least, day) => (day < least ? day : least), today);
  const start = [addDays(today, -7 * WEEKS_BEHIND), first < from ? from : first].sort().at(-1)!;
  const recent = done.filter((day) => day >= start && day <= today).length;
  const span = Math.max(1, weeks(start, addDays(today, 1)));
  if (recent === 0) return { left, needed, reached: null, finish: null };
  const reached = recent / span;
  if (left === 0) {
    const last = done.reduce((most, day) => (day > most ? day : most), done[0]!);
    return { left, needed: 0, reached, finish: { early: last, likely: last, late: last } };
  }
  const spread = Z90 * Math.sqrt(1 / left + 1 / recent);
  const at = (factor: number) => addDays(today, Math.ceil((7 * left * factor) / reached));
  return { left, needed, reached, finish: { early: at(Math.exp(-spread)), likely: at(1), late: at(Math.exp(spread)) } };
}
