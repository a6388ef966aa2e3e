import { DayPlan, type Slot } from '../search/day.ts';

/** One visit of a person's day, as it is to be timed. */
export interface LineVisit {
  id: string;
  /** Gaps of its boat that day. */
  windows: readonly { from: number; to: number }[];
  minutes: number;
  /** When it was said to begin; null = some time of the day. */
  start: number | null;
}

export interface DayLine {
  starts: Map<string, number>;
  /** Where the break falls; null = no room for one. */
  breakAt: { from: number; to: number } | null;
  /** Visits that find no time beside the others. */
  left: string[];
}

/** A break of half an hour around noon. Common practice, no source. */
const BREAK_MINUTES = 30;
const BREAK_FROM = 11 * 60 + 30;
const BREAK_TO = 14 * 60;
const EPS = 1e-6;
/** Hours are written down in whole minutes: two visits may touch by less. */
const ROUNDED = 1;

/**
 * A person's day by the hour: start times that were said stand where they do not overlap; the others come as
 * early as the gaps of their boats allow, with a break around noon where there is room for one.
 */
export function dayLine(visits: readonly LineVisit[], shift: { from: number; to: number; hard: number }): DayLine {
  const starts = new Map<string, number>();
  const left: string[] = [];
  const fixed: { from: number; to: number }[] = [];
  const open: { visit: LineVisit; slot: Slot }[] = [];
  for (const v of [...visits].sort((a, b) => (a.start ?? Infinity) - (b.start ?? Infinity))) {
    if (v.start === null) continue;
    const to = v.start + v.minutes;
    if (fixed.some((f) => v.start! < f.to - ROUNDED && to > f.from + ROUNDED)) continue;
    fixed.push({ from: v.start, to });
    starts.set(v.id, v.start);
  }
  // What has its hour is a slot with no play.
  const held = fixed.map((f): Slot => ({
    release: f.from,
    deadline: f.to,
    minutes: Math.max(0, f.to - f.from - ROUNDED),
  }));
  const from = Math.min(shift.from, ...fixed.map((f) => f.from));
  const hard = Math.max(shift.hard, ...fixed.map((f) => f.to));
  const fits = (extra: readonly Slot[]) => new DayPlan([...held, ...open.map((o) => o.slot), ...extra], from, hard);
  for (const v of [...visits].filter((x) => !starts.has(x.id)).sort((a, b) => b.minutes - a.minutes)) {
    const slot = v.windows
      .map((w): Slot => ({ release: Math.max(w.from, shift.from), deadline: w.to, minutes: v.minutes }))
      .find((s) => s.deadline - s.release >= v.minutes - EPS && fits([s]).end < Infinity);
    if (slot) open.push({ visit: v, slot });
    else left.push(v.id);
  }
  const pause: Slot = { release: BREAK_FROM, deadline: BREAK_TO, minutes: BREAK_MINUTES };
  const spans = shift.from < BREAK_FROM && shift.to > BREAK_TO;
  const withPause = spans ? fits([pause]) : null;
  const paused =
    withPause !== null && withPause.end < Infinity && withPause.end <= Math.max(shift.to, fits([]).end) + EPS;
  const plan = paused ? withPause : fits([]);
  const times = plan.starts();
  // Many visits are put in order of their deadlines: slots are found again by themselves.
  const timeOf = (slot: Slot) => times[plan.visits.indexOf(slot)];
  for (const { visit, slot } of open) {
    const at = timeOf(slot);
    if (at !== undefined) starts.set(visit.id, at);
  }
  const at = paused ? timeOf(pause) : undefined;
  return { starts, breakAt: at === undefined ? null : { from: at, to: at + BREAK_MINUTES }, left };
}
