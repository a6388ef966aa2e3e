import { addMonthsToNumber, dayFromNumber, dayNumber, type Day } from '../calendar/index.ts';
import type { Crossing, HoursAhead } from '../usage/index.ts';
import type { TaskKind } from './tasks.ts';

/** When a task falls due on engines of a model: every so many hours or months, whichever comes first. */
export interface ServiceRule {
  task: TaskKind;
  everyHours: number | null;
  everyMonths: number | null;
  /** For an engine bought new: hours of the first service; left out or null = no other than the later ones. */
  firstHours?: number | null;
  /**
   * `rolling` (also when left out): counted from the job. `ladder`: at whole multiples from zero; a job shortly before
   * a rung serves it.
   */
  counting?: 'rolling' | 'ladder';
  /**
   * Month and day (`MM-DD`) by which it is done every year besides, such as the season's end; null or left out = none.
   */
  anchor?: string | null;
  /**
   * On a ladder a job serves the rung ahead when it comes within this percentage of the interval before it; left out =
   * EARLY_PERCENT.
   */
  earlyPercent?: number | null | undefined;
  /** Past a limit by no more than this percentage of the interval it is due, not over; left out = 0. */
  latePercent?: number | null | undefined;
}

/** Where the boating season ends, by hemisphere. Common practice, no source. */
export const SEASON_END = { north: '10-31', south: '04-30' } as const;

/** Done so shortly before an anchor, it is done for that year. Common practice, no source. */
const ANCHOR_EARLY_DAYS = 60;

/**
 * The first time the anchor comes round after the task was done, as a day number; 29 February is the 28th in other
 * years.
 */
export function anchorAfter(anchor: string, doneOn: number): number {
  const from = dayFromNumber(doneOn + ANCHOR_EARLY_DAYS);
  for (let year = Number(from.slice(0, 4)); ; year++) {
    const leap = dayNumber(`${year}-03-01`) - dayNumber(`${year}-02-28`) === 2;
    const day = dayNumber(`${year}-${anchor === '02-29' && !leap ? '02-28' : anchor}`);
    if (day > doneOn + ANCHOR_EARLY_DAYS) return day;
  }
}

/**
 * How early a job may come and still serve the rung ahead, where the programme does not say. Common practice, no
 * source.
 */
export const EARLY_PERCENT = 25;

/**
 * Life hours at which the task falls due again after it was done at `hours`. The rule must have hours.
 *
 * @param isNew nothing was done yet since the engine was new
 */
export function limitAfter(
  { everyHours, firstHours, counting, earlyPercent }: ServiceRule,
  hours: number,
  isNew: boolean,
): number {
  const every = everyHours!;
  if (isNew && firstHours != null && firstHours < every) return hours + firstHours;
  if (counting !== 'ladder') return hours + every;
  const served = Math.floor((hours + ((earlyPercent ?? EARLY_PERCENT) / 100) * every) / every + 1e-9);
  return (served + 1) * every;
}

/**
 * The last time the task was done, or the day the engine was new. `hours` are life hours, null when not written down.
 */
export interface LastDone {
  day: Day;
  hours: number | null;
  from: 'service' | 'new';
}

/**
 * What is known of the engine on the day asked about. `lifeHours` and its day are those of the last reading, null
 * without one.
 */
export interface EngineUse {
  lifeHours: number | null;
  lastReadDay: Day | null;
  /** How it will run; null where nobody has worked it out. */
  ahead: UseAhead | null;
}

export interface UseAhead {
  /** When it has run so many hours more than at the end of day number `day`, which may lie behind the last reading. */
  crossing(day: number, hours: number): Crossing;
  /**
   * Hours run from the end of day number `day` to the start of day `to`; null where neither readings nor hires reach
   * back so far.
   */
  hours(day: number, to: number): HoursAhead | null;
}

/**
 * Three days of one event: one case in ten is before `early`, one in ten after `late`; null = more than a year ahead.
 */
export interface DaySpread {
  early: Day | null;
  likely: Day | null;
  late: Day | null;
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
  /** When the hours limit will be reached; null when it cannot be said. */
  hoursOn: DaySpread | null;
  /** True where the hours since the last time are worked out, because there is no meter or nobody wrote them down. */
  estimated: boolean;
  last: LastDone | null;
  /** True when an hours limit stands in the rule and could not be checked. */
  hoursUnchecked: boolean;
  /** A limit is passed, by no more than the rule lets pass. */
  tolerated: boolean;
}

/** Meters show one decimal; sums of them do too. */
const tenth = (hours: number) => Math.round(hours * 10) / 10;

/** "Due": within this share of the interval, or this many days, of the limit. */
const DUE_HOURS_SHARE = 0.05;
const DUE_DAYS = 7;
/** "Soon": within this share of the interval, or the six weeks people plan ahead. */
const SOON_HOURS_SHARE = 0.2;
const SOON_DAYS = 42;
/** An hours limit is soon too when one case in ten reaches it within so many days. */
const SOON_EARLY_DAYS = 14;

/**
 * When the task falls due: hours and months, whichever comes first. The calendar limit counts for
 * engines that never ran. A limit is passed when it is exceeded, not when it is reached.
 *
 * @param rule   hours > 0 and/or whole months > 0; with neither the result is `fine` and says nothing.
 * @param last   null = no history: the state is `unknown`, never assumed fine.
 * @param today  the day at the engine's base.
 * Common practice, no source ("100 h or 12 months, whichever comes first").
 */
export function dueState(rule: ServiceRule, last: LastDone | null, use: EngineUse, today: Day): Due {
  return dueOn(rule, last, use, dayNumber(today));
}

/** `dueState` with the day as a number, for whole fleets. */
export function dueOn(rule: ServiceRule, last: LastDone | null, use: EngineUse, todayNo: number): Due {
  const due: Due = {
    task: rule.task,
    state: 'fine',
    by: null,
    hoursLeft: null,
    limitHours: null,
    daysLeft: null,
    limitDay: null,
    share: null,
    hoursOn: null,
    estimated: false,
    last,
    hoursUnchecked: false,
    tolerated: false,
  };
  if (rule.everyHours === null && rule.everyMonths === null && rule.anchor == null) return due;
  if (last === null) {
    due.state = 'unknown';
    return due;
  }

  let hoursShare: number | null = null;
  let interval = 0;
  let likely: number | null = null;
  let early: number | null = null;
  if (rule.everyHours !== null) {
    const found = hoursLimit(rule, last, use, todayNo);
    if (last.hours !== null) due.limitHours = tenth(limitAfter(rule, last.hours, last.from === 'new'));
    if (found === null) {
      due.hoursUnchecked = true;
    } else {
      due.hoursLeft = found.left;
      due.estimated = found.estimated;
      hoursShare = 1 - due.hoursLeft / found.every;
      interval = found.every;
      if (found.on) {
        ({ likely, early } = found.on);
        due.hoursOn = { early: dayOrNull(early), likely: dayOrNull(likely), late: dayOrNull(found.on.late) };
      }
    }
  }

  const late = (rule.latePercent ?? 0) / 100;
  const lateHours = late * interval;
  let lateDays = 0;
  let monthsShare: number | null = null;
  if (rule.everyMonths !== null || rule.anchor != null) {
    const from = dayNumber(last.day);
    const limit = calendarLimit(rule, from);
    due.limitDay = dayFromNumber(limit);
    due.daysLeft = limit - todayNo;
    monthsShare = (todayNo - from) / (limit - from);
    lateDays = Math.floor(late * (limit - from));
  }

  if (hoursShare === null && monthsShare === null) {
    due.state = 'unknown';
    return due;
  }
  due.by = pickFirst(due, hoursShare, monthsShare, likely === null ? null : likely - todayNo);
  due.share = Math.round(Math.max(hoursShare ?? -Infinity, monthsShare ?? -Infinity) * 1000) / 1000;
  due.state = stateOf(
    interval,
    due,
    early === null ? null : early - todayNo,
    likely === null ? null : likely - todayNo,
  );
  if (due.state === 'over' && late > 0 && (due.hoursLeft ?? 0) >= -lateHours && (due.daysLeft ?? 0) >= -lateDays) {
    due.state = 'due';
    due.tolerated = true;
  }
  return due;
}

/**
 * The day number of the calendar limit after it was done on `doneOn`: the months or the anchor, whichever comes first.
 */
export function calendarLimit({ everyMonths, anchor }: ServiceRule, doneOn: number): number {
  return Math.min(
    everyMonths === null ? Infinity : addMonthsToNumber(doneOn, everyMonths),
    anchor == null ? Infinity : anchorAfter(anchor, doneOn),
  );
}

const dayOrNull = (n: number | null) => (n === null ? null : dayFromNumber(n));

/**
 * Hours left to the limit and when they are gone: from the meter; where it or the hours of the last time are not known,
 * from what was run since that day.
 */
function hoursLimit(
  rule: ServiceRule,
  last: LastDone,
  use: EngineUse,
  todayNo: number,
): { left: number; every: number; estimated: boolean; on: Crossing | null } | null {
  const isNew = last.from === 'new';
  if (last.hours !== null && use.lifeHours !== null) {
    const limit = limitAfter(rule, last.hours, isNew);
    const left = tenth(limit - use.lifeHours);
    // A first service has an interval of its own; on a ladder the way to the next rung.
    const every = Math.max(limit - last.hours, 1e-9);
    return {
      left,
      every,
      estimated: false,
      on:
        left < 0 || use.lastReadDay === null || use.ahead === null
          ? null
          : use.ahead.crossing(dayNumber(use.lastReadDay), left),
    };
  }
  if (use.ahead === null) return null;
  const doneOn = dayNumber(last.day);
  const run = use.ahead.hours(doneOn, todayNo);
  // Without the hours of the last time there is no ladder to count on.
  const every = limitAfter({ ...rule, counting: 'rolling' }, 0, isNew);
  // Estimates are not told in tenths.
  return run && { left: Math.round(every - run.mean), every, estimated: true, on: use.ahead.crossing(doneOn, every) };
}

/** The limit that is nearer in time; without a forecast to compare by, the one more used up. */
function pickFirst(
  due: Due,
  hoursShare: number | null,
  monthsShare: number | null,
  likelyIn: number | null,
): 'hours' | 'months' {
  if (hoursShare === null) return 'months';
  if (monthsShare === null) return 'hours';
  const hoursOver = due.hoursLeft! < 0;
  const daysOver = due.daysLeft! < 0;
  if (hoursOver !== daysOver) return hoursOver ? 'hours' : 'months';
  if (!hoursOver && due.hoursOn !== null) return likelyIn !== null && likelyIn <= due.daysLeft! ? 'hours' : 'months';
  return hoursShare >= monthsShare ? 'hours' : 'months';
}

function stateOf(every: number, due: Due, earlyIn: number | null, likelyIn: number | null): DueState {
  const { hoursLeft, daysLeft } = due;
  if ((hoursLeft !== null && hoursLeft < 0) || (daysLeft !== null && daysLeft < 0)) return 'over';
  if (
    (hoursLeft !== null && hoursLeft <= every * DUE_HOURS_SHARE) ||
    (likelyIn !== null && likelyIn <= DUE_DAYS) ||
    (daysLeft !== null && daysLeft <= DUE_DAYS)
  ) {
    return 'due';
  }
  if (
    (hoursLeft !== null && hoursLeft <= every * SOON_HOURS_SHARE) ||
    (earlyIn !== null && earlyIn <= SOON_EARLY_DAYS) ||
    (daysLeft !== null && daysLeft <= SOON_DAYS)
  ) {
    return 'soon';
  }
  return 'fine';
}

/**
 * When the task falls due, whichever limit comes first: each of the three days is the earlier of the hours
 * limit's and the calendar's, which is exact. Null when nothing can be said.
 */
export function dueDays(due: Due): DaySpread | null {
  if (due.hoursOn === null)
    return due.limitDay === null || (due.hoursLeft !== null && due.hoursLeft < 0)
      ? null
      : { early: due.limitDay, likely: due.limitDay, late: due.limitDay };
  const first = (day: Day | null) =>
    due.limitDay === null ? day : day === null || due.limitDay < day ? due.limitDay : day;
  return { early: first(due.hoursOn.early), likely: first(due.hoursOn.likely), late: first(due.hoursOn.late) };
}

const rank = Object.fromEntries(DUE_STATES.map((s, i) => [s, i])) as Record<DueState, number>;

/** Worst first: by state, then by the share of the interval used. */
export function worstFirst(a: Due, b: Due): number {
  return rank[a.state] - rank[b.state] || (b.share ?? 0) - (a.share ?? 0);
}
