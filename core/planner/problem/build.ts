import { addDays, dayNumber, minuteInZone, weekday, type Day } from '../../calendar/index.ts';
import { gapsBetween, type Span as Gap } from '../../hires/index.ts';
import type { ModelTraits } from '../../fleet/index.ts';
import { ACCESS_MINUTES, accessOf, handsOnMinutes, RUN_MINUTES, TASKS, type TaskKind } from '../../service/index.ts';
import { VISIT_SETUP_MINUTES } from '../../visit/index.ts';
import { breakOn } from './pauses.ts';
import type { FreeWindow, PlanBreak, PlanProblem, PlanTechnician, Span } from './problem.ts';

/**
 * What a plan is made from, of one yard. Money in units, days as numbers from `firstDay` (0), minutes after midnight at
 * the base.
 */
export interface YardFacts {
  firstDay: Day;
  days: number;
  /** How much running past a limit weighs against all else; 1 = as estimated. */
  lateWeight: number;
  bases: YardBase[];
  people: YardPerson[];
  boats: YardBoat[];
  tasks: YardTask[];
  parts: YardPart[];
}

export interface YardBase {
  id: number;
  /** ISO weekdays. */
  workdays: readonly number[];
  /** Of a technician's working day, where no shift says otherwise. */
  dayMinutes: number;
  opensAt: number;
  closesAt: number;
  /** Days without work: public holidays and the like. */
  closed: ReadonlySet<Day>;
  liftSlots: number;
  /** The break of a working day: so long, in one piece within a stretch; null = none. */
  rest: PlanBreak | null;
  /** Days on which the lift takes fewer. */
  liftOut: readonly { first: Day; last: Day; slots: number }[];
  /** On day 0 no visit begins before; null = the whole day lies ahead. */
  now: number | null;
}

export interface YardPerson {
  id: number;
  baseId: number | null;
  skills: readonly string[];
  pace: number;
  ratePerHour: number;
  overtimeMinutes: number;
  overtimeFactor: number;
  /** Usual week; without any, the base's working days. */
  shifts: readonly { weekday: number; from: number; to: number; baseId: number | null }[];
  /** Away, at another base, or at other hours; the last one named holds. */
  exceptions: readonly PersonException[];
}

export type PersonException = { first: Day; last: Day } & (
  | { kind: 'away' }
  | { kind: 'base'; baseId: number }
  | { kind: 'hours'; from: number; to: number }
);

export interface YardBoat {
  id: number;
  baseId: number;
  /** Out and back in minutes from midnight of day 0, by the clock of its base. */
  hires: readonly Gap[];
  /** Income of a day on hire. */
  hireIncome: number;
  /** Chance that a day without a booking would still be hired, by day. */
  hireChance: readonly number[];
  engines: readonly { id: number; cylinders: number; traits?: ModelTraits }[];
}

export interface YardTask {
  engineId: number;
  boatId: number;
  task: TaskKind;
  /**
   * Days (from day 0, may be negative) by which the limit is reached: one case in ten before `early`, half before
   * `likely`, nine in ten before `late`; null = beyond a year.
   */
  early: number | null;
  likely: number | null;
  late: number | null;
  /** The limit is behind. */
  over: boolean;
  /** Nobody knows when it was done last. */
  unknown: boolean;
  /** Share of the interval used by day 0. */
  share: number;
  /** Price of its parts and fluids; 0 where none is known. */
  partsCost: number;
  parts: readonly { partId: number; quantity: number }[];
  /** Hands-on minutes where better ones are known than the estimate. */
  hands?: number;
  /** Unattended minutes where better ones are known than the estimate. */
  wait?: number;
  /** Never past the limit, at no price. */
  hard?: boolean;
  /** What is done with it and never alone; its minutes and parts are in. */
  brings?: readonly TaskKind[];
}

export interface YardPart {
  partId: number;
  baseId: number;
  onHand: number;
  arrivals: readonly { day: number; quantity: number }[];
}

/** Names of the problem's things, and back. */
export const planTaskId = (engineId: number, task: TaskKind) => `${engineId} ${task}`;
/** A part on the shelf of a base, as the problem names it. */
export const planPartId = (partId: number, baseId: number) => `${partId} at ${baseId}`;
/** The engine and the kind of a task the problem names. */
export function planTaskOf(id: string): { engineId: number; task: TaskKind } {
  const cut = id.indexOf(' ');
  return { engineId: Number(id.slice(0, cut)), task: id.slice(cut + 1) as TaskKind };
}

/** Where nobody wrote shifts down, a working day begins at eight. */
const USUAL_START = 480;
/** Shorter gaps are not worth walking over for. */
const LEAST_GAP = 30;
/** Work is begun on whole steps of so many minutes. */
const STEP = 5;

/**
 * The yard as it is at that instant: on the plan's first day nothing begins before it, where that day is today.
 *
 * @param zoneOf time zones by base
 */
export function fromNow(facts: YardFacts, now: Date, zoneOf: ReadonlyMap<number, string>): YardFacts {
  const first = dayNumber(facts.firstDay);
  return {
    ...facts,
    bases: facts.bases.map((b) => {
      const { dayNo, minute } = minuteInZone(now.getTime(), zoneOf.get(b.id)!);
      return { ...b, now: dayNo === first ? Math.min(1439, Math.ceil(minute / STEP) * STEP) : null };
    }),
  };
}

/** The yard with these boats and their work alone. */
export function factsOfBoats(facts: YardFacts, boats: ReadonlySet<number>): YardFacts {
  return {
    ...facts,
    tasks: facts.tasks.filter((t) => boats.has(t.boatId)),
    boats: facts.boats.filter((b) => boats.has(b.id)),
  };
}

/** Tasks of which nothing is known weigh as much as this share of one that is over. */
const UNKNOWN_RISK = 0.5;
const cents = (x: number) => Math.round(x * 100) / 100;

/**
 * The plan problem of a yard, by these rules:
 * - a boat is free between its hires while its base is open; a day without a booking costs the income of a
 *   day times the chance that it would still be hired;
 * - a task done early costs the share of its interval not used times what it costs in parts and work; late,
 *   for each day before it the chance that its limit has passed times the task's daily risk times the book's weight;
 * - left out, it runs up the late cost of the whole plan, and costs a visit of its own later.
 */
export function problemOf({ firstDay, days, lateWeight, bases, people, boats, tasks, parts }: YardFacts): PlanProblem {
  const base = new Map(bases.map((b) => [b.id, b]));
  const rates = people.map((p) => p.ratePerHour);
  const rate = rates.length > 0 ? rates.reduce((a, b) => a + b, 0) / rates.length : 0;
  const boat = new Map(boats.map((b) => [b.id, b]));
  return {
    format: 'diurna-plan-problem',
    version: bases.some((b) => b.rest) ? 2 : 1,
    name: `${firstDay}, ${days} days`,
    days,
    visit: { setupMinutes: VISIT_SETUP_MINUTES },
    bases: bases.map((b) => ({
      id: String(b.id),
      liftSlots: byDay(firstDay, days, (day) =>
        b.liftOut
          .filter((o) => o.first <= day && day <= o.last)
          .reduce((least, o) => Math.min(least, o.slots), b.liftSlots),
      ),
    })),
    technicians: people.map((p) => technicianOf(p, base, firstDay, days)),
    boats: boats.map((b) => ({
      id: String(b.id),
      base: String(b.baseId),
      free: freeWindows(b, base.get(b.baseId)!, firstDay, days),
    })),
    engines: boats.flatMap((b) =>
      b.engines.map((e) => ({
        id: String(e.id),
        boat: String(b.id),
        access: { ...ACCESS_MINUTES },
        running: { run: RUN_MINUTES },
      })),
    ),
    tasks: tasks.map((t) => {
      const info = TASKS[t.task];
      const { cylinders, traits } = boat.get(t.boatId)!.engines.find((e) => e.id === t.engineId)!;
      const hands = t.hands ?? handsOnMinutes(t.task, cylinders);
      const access = accessOf(t.task, traits);
      const { dayCost, skipCost } = pricesOf(
        t,
        days,
        lateWeight,
        hands,
        rate,
        access.reduce((sum, kind) => sum + ACCESS_MINUTES[kind], 0),
      );
      return {
        id: planTaskId(t.engineId, t.task),
        engine: String(t.engineId),
        kind: t.task,
        handsOn: hands,
        ...(info.running > 0 && { running: Math.min(hands, info.running) }),
        wait: t.wait ?? info.wait,
        access: [...access],
        skills: [...info.skills],
        needsLift: info.needsLift,
        dayCost,
        skipCost,
        parts: Object.fromEntries(
          t.parts.map(({ partId, quantity }) => [planPartId(partId, boat.get(t.boatId)!.baseId), cents(quantity)]),
        ),
      };
    }),
    parts: parts.map((p) => {
      const supply = new Array<number>(days).fill(0);
      if (days > 0) supply[0] = Math.max(0, p.onHand);
      // What is late to arrive is hoped for today at the earliest.
      for (const { day, quantity } of p.arrivals) if (day < days) supply[Math.max(0, day)]! += quantity;
      return { id: planPartId(p.partId, p.baseId), supply };
    }),
    pinned: [],
  };
}

const byDay = <T>(firstDay: Day, days: number, of: (day: Day, d: number) => T): T[] =>
  Array.from({ length: days }, (_, d) => of(addDays(firstDay, d), d));

/** Where a person is on a day, and from when to when; null = off. */
export function workOn(
  p: YardPerson,
  base: ReadonlyMap<number, YardBase>,
  day: Day,
): { baseId: number; shift: Span } | null {
  const on = p.exceptions.filter((x) => x.first <= day && day <= x.last);
  if (on.some((x) => x.kind === 'away')) return null;
  const usual = p.shifts.find((s) => s.weekday === weekday(day));
  const elsewhere = on.findLast((x) => x.kind === 'base');
  const baseId = elsewhere?.baseId ?? usual?.baseId ?? p.baseId;
  const at = baseId === null ? undefined : base.get(baseId);
  if (!at) return null;
  const hours = on.findLast((x) => x.kind === 'hours');
  if (hours) return { baseId: at.id, shift: { from: hours.from, to: hours.to } };
  if (at.closed.has(day)) return null;
  if (p.shifts.length > 0) return usual ? { baseId: at.id, shift: { from: usual.from, to: usual.to } } : null;
  return at.workdays.includes(weekday(day)) && at.dayMinutes > 0
    ? { baseId: at.id, shift: { from: USUAL_START, to: Math.min(1440, USUAL_START + at.dayMinutes) } }
    : null;
}

/** A day's work with its break, as far as that can be had within the shift. */
export function restOn(
  work: { baseId: number; shift: Span } | null,
  base: ReadonlyMap<number, YardBase>,
): PlanBreak | null {
  const rest = work && (base.get(work.baseId)?.rest ?? null);
  return rest && breakOn({ shift: [work.shift], break: [rest] }, 0);
}

function technicianOf(p: YardPerson, base: ReadonlyMap<number, YardBase>, firstDay: Day, days: number): PlanTechnician {
  const work = byDay(firstDay, days, (day) => workOn(p, base, day));
  const places = work.map((w) => (w ? String(w.baseId) : null));
  const one = places.find((x) => x !== null) ?? (p.baseId === null ? null : String(p.baseId));
  return {
    id: String(p.id),
    base: one !== null && places.every((x) => x === null || x === one) ? one : places,
    skills: [...p.skills],
    shift: work.map((w, d) => {
      if (!w) return null;
      const now = d === 0 ? (base.get(w.baseId)?.now ?? null) : null;
      const from = now === null ? w.shift.from : Math.max(w.shift.from, now);
      return from < w.shift.to ? { from, to: w.shift.to } : null;
    }),
    overtime: work.map((w) => (w ? p.overtimeMinutes : 0)),
    ratePerHour: p.ratePerHour,
    overtimeFactor: p.overtimeFactor,
    pace: p.pace,
    ...(work.some((w) => w && base.get(w.baseId)?.rest) && {
      break: work.map((w) => (w ? (base.get(w.baseId)?.rest ?? null) : null)),
    }),
  };
}

function freeWindows(b: YardBoat, at: YardBase, firstDay: Day, days: number): FreeWindow[][] {
  return byDay(firstDay, days, (_, d) => {
    const opens = Math.max(at.opensAt, d === 0 ? (at.now ?? 0) : 0);
    if (opens >= at.closesAt) return [];
    const midnight = d * 1440;
    const gaps = gapsBetween(b.hires, midnight + opens, midnight + at.closesAt);
    const booked = b.hires.some(([out, back]) => out < midnight + at.closesAt && back > midnight + at.opensAt);
    const idleCost = booked ? 0 : cents(b.hireIncome * (b.hireChance[d] ?? 0));
    return gaps
      .filter(([from, to]) => to - from >= LEAST_GAP)
      .map(([from, to]) => ({ from: Math.round(from - midnight), to: Math.round(to - midnight), idleCost }));
  });
}

/**
 * Chance that the limit has passed by the end of day `d`: straight lines between the three days and as far again
 * beyond.
 */
export function chancePast(t: Pick<YardTask, 'early' | 'likely' | 'late' | 'over' | 'unknown'>, d: number): number {
  if (t.over || t.unknown) return 1;
  const { early, likely, late } = t;
  if (early === null) return 0;
  const points: [number, number][] = [
    [early - Math.max(1, (likely ?? early) - early), 0],
    [early, 0.1],
  ];
  if (likely !== null) points.push([likely, 0.5]);
  if (late !== null) points.push([late, 0.9], [late + Math.max(1, late - (likely ?? late)), 1]);
  if (d <= points[0]![0]) return 0;
  for (let i = 1; i < points.length; i++) {
    const [x0, y0] = points[i - 1]!;
    const [x1, y1] = points[i]!;
    if (d <= x1) return x1 === x0 ? y1 : y0 + ((y1 - y0) * (d - x0)) / (x1 - x0);
  }
  return points[points.length - 1]![1];
}

function pricesOf(
  t: YardTask,
  days: number,
  lateWeight: number,
  hands: number,
  rate: number,
  access: number,
): { dayCost: (number | null)[]; skipCost: number } {
  const info = TASKS[t.task];
  const risk = info.riskPerDay * lateWeight * (t.unknown ? UNKNOWN_RISK : 1);
  const worth = t.partsCost + (hands / 60) * rate;
  const due = t.likely ?? t.early;
  let late = 0;
  const dayCost: (number | null)[] = [];
  for (let d = 0; d < days; d++) {
    const past = chancePast(t, d);
    const used =
      t.over || t.unknown
        ? 1
        : due === null || due <= 0
          ? Math.min(1, t.share)
          : Math.min(1, t.share + ((1 - t.share) * d) / due);
    dayCost.push(t.hard && past > 0.5 ? null : cents(Math.max(0, 1 - used) * worth + late));
    late += past * risk;
  }
  const ownVisit = ((VISIT_SETUP_MINUTES + access + hands) / 60) * rate;
  return { dayCost, skipCost: cents(late + ownVisit) };
}
