import { dayFromNumber, dayNumber, type Day } from '../calendar/index.ts';
import type { Due, LastDone } from './due.ts';
import type { TaskKind } from './tasks.ts';

/** A task somebody put off, knowingly. */
export interface Deferral {
  id: number;
  task: TaskKind;
  /** When it comes back. */
  until: Day;
  /** Put off to the spring: it comes back when boats are brought out again. */
  spring: boolean;
  reason: string;
  /** Who allowed it, and on what day. */
  by: string | null;
  on: Day;
}

/** When boats are brought out again, by hemisphere. Common practice, no source. */
export const SPRING = { north: '04-01', south: '10-01' } as const;
/** Nothing is put off further than this: by then it is another year's work. */
export const MOST_DEFERRED_DAYS = 400;

/** The next spring after today, at a base that has not said when it opens. */
export function nextSpring(hemisphere: 'north' | 'south', today: Day): Day {
  const year = Number(today.slice(0, 4));
  const own = `${year}-${SPRING[hemisphere]}`;
  return own > today ? own : `${year + 1}-${SPRING[hemisphere]}`;
}

/** Whether it still holds: not once the task was done since. */
export const deferralHolds = ({ on }: Deferral, last: LastDone | null): boolean =>
  last === null || last.from === 'new' || last.day < on;

/**
 * How a task stands that was put off: by the day it comes back, where its own limits come sooner. On that day it is
 * due,
 * after it over.
 */
export function deferredDue(due: Due, { until }: Deferral, todayNo: number): Due {
  const daysLeft = dayNumber(until) - todayNo;
  const own = [due.limitDay, due.hoursOn?.likely ?? null].filter((day) => day !== null);
  const sooner =
    due.state === 'over' || due.state === 'unknown' || due.state === 'due' || own.some((day) => day < until);
  if (!sooner) return due;
  return {
    ...due,
    state: daysLeft < 0 ? 'over' : daysLeft <= 7 ? 'due' : daysLeft <= 42 ? 'soon' : 'fine',
    by: 'months',
    hoursLeft: null,
    limitHours: null,
    hoursOn: null,
    daysLeft,
    limitDay: dayFromNumber(todayNo + daysLeft),
    share: daysLeft <= 0 ? 1 : Math.round(1000 / (1 + daysLeft)) / 1000,
    tolerated: false,
  };
}
