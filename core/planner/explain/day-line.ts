import { freePause } from '../problem/pauses.ts';
import type { PlanBreak, Span } from '../problem/problem.ts';
import { DayPlan, type Slot } from '../search/day.ts';

/** One visit of a person's day, as it is to be timed. */
export interface LineVisit {
  id: string;
  /** Gaps of its boat that day. */
  windows: readonly { from: number; to: number }[];
  minutes: number;
  /** When it was said to begin, or began; null = some time of the day. */
  start: number | null;
  /** It was begun or finished then: it stands, whatever else was said. */
  stands?: boolean;
}

export interface DayLine {
  starts: Map<string, number>;
  /** Where the break falls; null = there is none, or no room for it. */
  breakAt: Span | null;
  /** The visit the break lies inside of, which takes that much longer; null = none. */
  pausedIn: string | null;
  /** Visits that find no time beside the others. */
  left: string[];
}

const EPS = 1e-6;
/** Hours are written down in whole minutes: two visits may touch by less. */
const ROUNDED = 1;

interface Fixed extends Span {
  id: string;
}

/**
 * A person's day by the hour: start times that were said stand where they do not overlap; the others come as
 * early as the gaps of their boats and the break allow.
 *
 * @param shift its hours, overtime till `hard`, and the break of it; null = none
 */
export function dayLine(
  visits: readonly LineVisit[],
  shift: { from: number; to: number; hard: number; rest: PlanBreak | null },
): DayLine {
  const starts = new Map<string, number>();
  const fixed: Fixed[] = [];
  const rank = (v: LineVisit) => (v.stands ? 0 : 1440) + (v.start ?? Infinity);
  for (const v of [...visits].sort((a, b) => rank(a) - rank(b))) {
    if (v.start === null) continue;
    const to = v.start + v.minutes;
    if (!v.stands && fixed.some((f) => v.start! < f.to - ROUNDED && to > f.from + ROUNDED)) continue;
    fixed.push({ id: v.id, from: v.start, to });
    starts.set(v.id, v.start);
  }
  const { rest, spans, pausedIn } = resting(fixed, shift.rest);
  // What has its hour is a slot with no play.
  const held = merged(spans).map((f): Slot => ({
    release: f.from,
    deadline: f.to,
    minutes: Math.max(0, f.to - f.from - ROUNDED),
  }));
  const from = Math.min(shift.from, ...spans.map((f) => f.from));
  const hard = Math.max(shift.hard, ...spans.map((f) => f.to));
  const open: { visit: LineVisit; slot: Slot }[] = [];
  const left: string[] = [];
  const planOf = (extra: readonly Slot[]) =>
    new DayPlan([...held, ...open.map((o) => o.slot), ...extra], from, hard, rest);
  for (const v of [...visits].filter((x) => !starts.has(x.id)).sort((a, b) => b.minutes - a.minutes)) {
    const slot = v.windows
      .map((w): Slot => ({ release: Math.max(w.from, shift.from), deadline: w.to, minutes: v.minutes }))
      .find((s) => s.deadline - s.release >= v.minutes - EPS && planOf([s]).end < Infinity);
    if (slot) open.push({ visit: v, slot });
    else left.push(v.id);
  }
  const plan = planOf([]);
  const timed = plan.timed();
  // Many visits are put in order of their deadlines: slots are found again by themselves.
  for (const { visit, slot } of open) {
    const at = timed.starts[plan.visits.indexOf(slot)];
    if (at !== undefined) starts.set(visit.id, at);
  }
  const inside = fixed.find((f) => f.id === pausedIn);
  const inOpen = open.find((o) => timed.pausedIn !== null && o.slot === plan.visits[timed.pausedIn]);
  const at = inside && shift.rest ? Math.max(inside.from, shift.rest.from) : rest ? timed.pause : null;
  return {
    starts,
    breakAt: at === null || !shift.rest ? null : { from: at, to: at + shift.rest.minutes },
    pausedIn: pausedIn ?? inOpen?.visit.id ?? null,
    left,
  };
}

/** Stretches that overlap made one: a person did two things at once, as the ticks have it. */
function merged(spans: readonly Span[]): Span[] {
  const out: Span[] = [];
  for (const s of [...spans].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1);
    if (last && s.from < last.to) last.to = Math.max(last.to, s.to);
    else out.push({ from: s.from, to: s.to });
  }
  return out;
}

/**
 * How the break goes with visits that have their hour: beside them, else inside the first that has time behind it; what
 * was said leaves no room for it otherwise.
 */
function resting(
  fixed: readonly Fixed[],
  rest: PlanBreak | null,
): { rest: PlanBreak | null; spans: Fixed[]; pausedIn: string | null } {
  const spans = [...fixed];
  const beside = spans.map((f) => ({ start: f.from, elapsed: f.to - f.from - ROUNDED }));
  if (!rest || freePause(rest, beside)) return { rest, spans, pausedIn: null };
  const inside = spans.find((f) => {
    const from = Math.max(f.from, rest.from);
    const to = f.to + rest.minutes;
    return (
      from <= f.to &&
      from + rest.minutes <= rest.to &&
      !spans.some((o) => o !== f && o.from < to - ROUNDED && o.to > f.from + ROUNDED)
    );
  });
  return inside
    ? {
        rest: null,
        spans: spans.map((f) => (f === inside ? { ...f, to: f.to + rest.minutes } : f)),
        pausedIn: inside.id,
      }
    : { rest: null, spans, pausedIn: null };
}
