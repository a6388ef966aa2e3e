import { addMonthsToNumber, dayFromNumber, dayNumber, type Day } from '../calendar/index.ts';
import type { TaskKind } from './tasks.ts';

/** When a task falls due on engines of a model: every so many hours or months, whichever comes first. */
export interface ServiceRule {
  task: TaskKind;
  everyHours: number | null;
  everyMonths: number | null;
}

/** The last time the task was done, or the day the engine was new. `hours` are life hours, null when not written down. */
export interface LastDone {
  day: Day;
  hours: number | null;
  from: 'service' | 'new';
}

/** What is known of the engine on the day asked about. `lifeHours` is null without a meter. */
export interface EngineUse {
  lifeHours: number | null;
  hoursPerWeek: number | null;
}

/** From worst to best. */
export const DUE_STATES = ['over', 'due', 'soon', 'unknown', 'fine'] as const;
export type DueState = (typeof DUE_STATES)[number];

export interface Due {
  task: TaskKind;
  state: DueState;
  /** Which limit comes first; null when unknown. */
  by: 'hours' | 'months' | null;
  /** Hours to the hours limit, negative when past it; null where hours do not count or are not known. */
  hoursLeft: number | null;
  limitHours: number | null;
  /** Days to the calendar limit, negative when past it; null where months do not count. */
  daysLeft: number | null;
  limitDay: Day | null;
  /** Share of the interval used, of the limit that comes first: 1 = exactly at the limit; null when unknown. */
  share: number | null;
  /** The day the hours limit is reached at the present rate; null when it cannot be said. */
  hoursLimitAbout: Day | null;
  last: LastDone | null;
  /** True when an hours limit stands in the rule and could not be checked. */
  hoursUnchecked: boolean;
}

/** Meters show one decimal; sums of them do too. */
const tenth = (hours: number) => Math.round(hours * 10) / 10;

/** "Due": within this share of the interval, or this many days, of the limit. */
const DUE_HOURS_SHARE = 0.05;
const DUE_DAYS = 7;
/** "Soon": within this share of the interval, or the six weeks people plan ahead. */
const SOON_HOURS_SHARE = 0.2;
const SOON_DAYS = 42;

/**
 * When the task falls due: hours and months, whichever comes first. The calendar limit counts for
 * engines that never ran. A limit is passed when it is exceeded, not when it is reached.
 *
 * @param rule   hours > 0 and/or whole months > 0; with neither the result is `fine` and says nothing.
 * @param last   null = no history: the state is `unknown`, never assumed fine.
 * @param today  the day at the engine's base.
 * Common practice, no source ("100 h or 12 months, whichever comes first").
 */
export function dueState(
  rule: ServiceRule,
  last: LastDone | null,
  use: EngineUse,
  today: Day,
): Due {
  return dueOn(rule, last, use, dayNumber(today));
}

/** `dueState` with the day as a number, for whole fleets. */
export function dueOn(
  rule: ServiceRule,
  last: LastDone | null,
  use: EngineUse,
  todayNo: number,
): Due {
  const due: Due = {
    task: rule.task,
    state: 'fine',
    by: null,
    hoursLeft: null,
    limitHours: null,
    daysLeft: null,
    limitDay: null,
    share: null,
    hoursLimitAbout: null,
    last,
    hoursUnchecked: false,
  };
  if (rule.everyHours === null && rule.everyMonths === null) return due;
  if (last === null) {
    due.state = 'unknown';
    return due;
  }

  let hoursShare: number | null = null;
  if (rule.everyHours !== null) {
    if (last.hours === null || use.lifeHours === null) {
      due.hoursUnchecked = true;
      if (last.hours !== null) due.limitHours = tenth(last.hours + rule.everyHours);
    } else {
      due.limitHours = tenth(last.hours + rule.everyHours);
      due.hoursLeft = tenth(due.limitHours - use.lifeHours);
      hoursShare = 1 - due.hoursLeft / rule.everyHours;
      if (use.hoursPerWeek !== null && use.hoursPerWeek > 0 && due.hoursLeft > 0) {
        const days = Math.floor((due.hoursLeft / use.hoursPerWeek) * 7);
        if (days < 3650) due.hoursLimitAbout = dayFromNumber(todayNo + days);
      }
    }
  }

  let monthsShare: number | null = null;
  if (rule.everyMonths !== null) {
    const from = dayNumber(last.day);
    const limit = addMonthsToNumber(from, rule.everyMonths);
    due.limitDay = dayFromNumber(limit);
    due.daysLeft = limit - todayNo;
    monthsShare = (todayNo - from) / (limit - from);
  }

  if (hoursShare === null && monthsShare === null) {
    due.state = 'unknown';
    return due;
  }
  due.by = pickFirst(due, hoursShare, monthsShare);
  due.share = Math.round(Math.max(hoursShare ?? -Infinity, monthsShare ?? -Infinity) * 1000) / 1000;
  due.state = stateOf(rule, due);
  return due;
}

/** The limit that is nearer in time; without a rate to compare by, the one more used up. */
function pickFirst(due: Due, hoursShare: number | null, monthsShare: number | null): 'hours' | 'months' {
  if (hoursShare === null) return 'months';
  if (monthsShare === null) return 'hours';
  const hoursOver = due.hoursLeft! < 0;
  const daysOver = due.daysLeft! < 0;
  if (hoursOver !== daysOver) return hoursOver ? 'hours' : 'months';
  if (!hoursOver && due.hoursLimitAbout !== null) {
    return due.hoursLimitAbout <= due.limitDay! ? 'hours' : 'months';
  }
  return hoursShare >= monthsShare ? 'hours' : 'months';
}

function stateOf(rule: ServiceRule, due: Due): DueState {
  const { hoursLeft, daysLeft } = due;
  const every = rule.everyHours ?? 0;
  if ((hoursLeft !== null && hoursLeft < 0) || (daysLeft !== null && daysLeft < 0)) return 'over';
  if (
    (hoursLeft !== null && hoursLeft <= every * DUE_HOURS_SHARE) ||
    (daysLeft !== null && daysLeft <= DUE_DAYS)
  ) {
    return 'due';
  }
  if (
    (hoursLeft !== null && hoursLeft <= every * SOON_HOURS_SHARE) ||
    (daysLeft !== null && daysLeft <= SOON_DAYS)
  ) {
    return 'soon';
  }
  return 'fine';
}

const rank = Object.fromEntries(DUE_STATES.map((s, i) => [s, i])) as Record<DueState, number>;

/** Worst first: by state, then by the share of the interval used. */
export function worstFirst(a: Due, b: Due): number {
  return rank[a.state] - rank[b.state] || (b.share ?? 0) - (a.share ?? 0);
}
