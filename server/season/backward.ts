import type { SeasonPlan } from '@diurna/contract/season-plan';
import type { SeasonBoat } from '@diurna/contract/season';
import { addDays, dayNumber, type Day } from '@diurna/core/calendar';
import {
  campaignProblem,
  costOn,
  planBackwards,
  SEASON_VISITS,
  USUAL_COSTS,
  type BackwardProblem,
  type CampaignCosts,
  type SeasonDay,
  type SeasonVisit,
  type WantedVisit,
} from '@diurna/core/season';
import type { TaskOfEngine } from '@diurna/core/stores';
import { eq } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { readRibbon } from '../day/index.ts';
import type { FleetCache } from '../service/index.ts';
import { readSeason } from './read-season.ts';
import { partsByWeek } from './wanted.ts';

const { base, setting } = tables;

/** Of the hands that are free so much is filled: the rest goes between visits. Common practice, no source. */
const FILLED = 0.92;
/** An hour of overtime against a usual one. Common practice, no source. */
const OVERTIME_RATE = 1.5;
/** So many days after the last one wanted are planned, at most a year. */
const BEYOND = 21;
const MOST_DAYS = 240;
const ROUNDS = 1600;
const LENT_MINUTES = 420;

/** The visits whose work a planned one does: what missed its last hire goes in at lay-up. */
const doneAt = (next: SeasonVisit | null, visit: SeasonVisit): readonly SeasonVisit[] =>
  next === 'after' && visit === 'after' ? ['before', 'after'] : [visit];
const openOf = (b: SeasonBoat, visits: readonly SeasonVisit[]) =>
  b.visits.filter((v) => visits.includes(v.visit)).flatMap((v) => v.tasks.filter((t) => t.doneOn === null));

/** The visits of each boat that are on no card and come before it is laid up, or before it goes out again. */
function wantedOf(b: SeasonBoat): WantedVisit[] {
  const { boatId, next, lastOut, lastBack, firstOut } = b;
  if (next === null) return [];
  const wanted = (visit: SeasonVisit): WantedVisit[] => {
    const together = doneAt(next, visit);
    const tasks = openOf(b, together).flatMap((t) => (t.job === null ? [t.task] : []));
    const own = b.visits.filter((v) => together.includes(v.visit));
    const minutes = own.reduce((sum, v) => sum + v.freeMinutes, 0);
    return tasks.length === 0
      ? []
      : [{ boatId, visit, minutes, tasks, held: b.held.length > 0, lastOut, lastBack, firstOut }];
  };
  return next === 'before' ? [...wanted('before'), ...wanted('after')] : wanted(next);
}

/** What is worked at in each week from today: by the plan's days, and those of cards. */
function takenOn(
  boats: readonly SeasonBoat[],
  wanted: readonly WantedVisit[],
  places: readonly (number | null)[],
  today: Day,
): Map<number, TaskOfEngine[]> {
  const weeks = new Map<number, TaskOfEngine[]>();
  const take = (day: number, tasks: readonly TaskOfEngine[]) => {
    const week = Math.max(0, Math.floor(day / 7));
    weeks.set(week, [...(weeks.get(week) ?? []), ...tasks.map(({ engineId, task }) => ({ engineId, task }))]);
  };
  const boatOf = new Map(boats.map((b) => [b.boatId, b]));
  for (const [i, w] of wanted.entries()) {
    const [at, b] = [places[i] ?? null, boatOf.get(w.boatId)!];
    if (at !== null)
      take(
        at,
        openOf(b, doneAt(b.next, w.visit)).filter((t) => t.job === null),
      );
  }
  for (const b of boats)
    for (const t of openOf(b, SEASON_VISITS)) if (t.job) take(dayNumber(t.job.day) - dayNumber(today), [t]);
  return weeks;
}

/** As the base says, else as usual. */
const costsOf = (of: Record<keyof CampaignCosts, number | null>): CampaignCosts => ({
  frostDay: of.frostDay ?? USUAL_COSTS.frostDay,
  waitDay: of.waitDay ?? USUAL_COSTS.waitDay,
  oldOil: of.oldOil ?? USUAL_COSTS.oldOil,
  notAtAll: of.notAtAll ?? USUAL_COSTS.notAtAll,
});

async function daysOf(db: Db, fleet: FleetCache, now: Date, baseId: number, from: Day, days: number, share: number) {
  const ribbon = await readRibbon(db, fleet, now, { from, days, baseId });
  const [row] = await db
    .select({ lifts: base.liftSlots, longest: base.dayMinutes })
    .from(base)
    .where(eq(base.id, baseId));
  return ribbon.map((r): SeasonDay => {
    const works = r.capacityMinutes > 0;
    const free = Math.max(0, r.capacityMinutes * FILLED - r.loadMinutes);
    return { minutes: (free * share) / 100, longest: works ? row!.longest : 0, lifts: works ? row!.lifts : 0 };
  });
}

function finishOf(places: readonly (number | null)[], today: Day): Day | null {
  if (places.length === 0 || places.includes(null)) return null;
  return addDays(
    today,
    places.reduce<number>((most, p) => Math.max(most, p ?? 0), 0),
  );
}

/** So many boats stay as they are: out on the water, or in store, another season. */
const LEFT = 5;

/** The work without that of the boats whose visits cost most where they stand. */
function withoutDearest(problem: BackwardProblem, places: readonly (number | null)[]): BackwardProblem['work'] {
  const costs = new Map<string, number>();
  const boatOf = (id: string) => id.split(' ')[0]!;
  for (const [i, w] of problem.work.entries()) {
    const at = places[i] ?? null;
    const cost = at === null ? w.undone : costOn(w, at, problem);
    costs.set(boatOf(w.id), (costs.get(boatOf(w.id)) ?? 0) + cost);
  }
  const dearest = new Set(
    [...costs]
      .sort((a, b) => b[1] - a[1])
      .slice(0, LEFT)
      .map(([boat]) => boat),
  );
  return problem.work.filter((w) => !dearest.has(boatOf(w.id)));
}

function whatIfsOf(problem: BackwardProblem, places: readonly (number | null)[], today: Day): SeasonPlan['whatIfs'] {
  const works = (d: SeasonDay) => d.longest > 0;
  const others: [SeasonPlan['whatIfs'][number]['what'], BackwardProblem][] = [
    [
      'a technician lent',
      {
        ...problem,
        days: problem.days.map((d) => (works(d) ? { ...d, minutes: d.minutes + LENT_MINUTES * FILLED } : d)),
      },
    ],
    [
      'two lift turns more',
      { ...problem, days: problem.days.map((d) => (works(d) ? { ...d, lifts: d.lifts + 2 } : d)) },
    ],
    [
      'a week more until it has to be over',
      {
        ...problem,
        work: problem.work.map((w) => (w.lateADay > 0 ? { ...w, by: Math.min(problem.days.length - 1, w.by + 7) } : w)),
      },
    ],
    ['five boats left as they are', { ...problem, work: withoutDearest(problem, places) }],
    ['no overtime', { ...problem, overtime: { ...problem.overtime, share: 0 } }],
  ];
  return others.map(([what, other]) => {
    const { cost, places, undone } = planBackwards(other, ROUNDS / 8);
    return { what, cost, finish: finishOf(places, today), undone };
  });
}

/** Lays the next visits of a base's campaign over its days, backwards from the last one that is wanted. */
export async function readSeasonPlan(
  db: Db,
  fleet: FleetCache,
  now: Date,
  { baseId, share }: { baseId: number; share: number },
): Promise<SeasonPlan> {
  const { today, off, phase, boats, season, places: stands } = await readSeason(db, fleet, baseId, now);
  const wanted = off === null ? [] : boats.flatMap(wantedOf);
  const empty = {
    ...{ cost: 0, bound: 0, overtimeMinutes: 0, undone: 0, finish: null, room: null },
    ...{ weeks: [], visits: [], whatIfs: [], parts: [] },
  };
  const by = off === null ? null : phase === 'opening' ? off.opens : off.putAwayBy;
  if (off === null || by === null || wanted.length === 0)
    return {
      baseId,
      today,
      share,
      by,
      ...empty,
      parts: await partsByWeek(db, baseId, today, takenOn(boats, [], [], today)),
    };
  const end = addDays(by > today ? by : today, BEYOND);
  const length = Math.min(MOST_DAYS, Math.round((Date.parse(end) - Date.parse(today)) / 86_400_000) + 1);
  const [settings] = await db.select({ hireDay: setting.hireDayMinor, rate: setting.rateMinor }).from(setting);
  const days = await daysOf(db, fleet, now, baseId, today, length, share);
  const problem = campaignProblem(wanted, {
    today,
    opens: off.opens,
    putAwayBy: off.putAwayBy,
    frost: phase === 'opening' ? null : off.frost,
    days,
    hireDay: settings!.hireDay / 100,
    overtimeMinute: (settings!.rate / 100 / 60) * OVERTIME_RATE,
    costs: costsOf(season),
  });
  const plan = planBackwards(problem, ROUNDS);
  return {
    baseId,
    today,
    share,
    by,
    finish: finishOf(plan.places, today),
    cost: plan.cost,
    bound: plan.bound,
    overtimeMinutes: Math.round(plan.overtime),
    undone: plan.undone,
    room: phase === 'opening' || stands.length === 0 ? null : stands.reduce((sum, p) => sum + p.room, 0),
    weeks: weeksOf(problem, plan.places, today, wanted, boats.filter((b) => b.laidUpOn !== null).length),
    visits: visitsOf(problem, plan.places, today, wanted, boats),
    whatIfs: plan.cost < 0.005 ? [] : whatIfsOf(problem, plan.places, today),
    parts: await partsByWeek(db, baseId, today, takenOn(boats, wanted, plan.places, today)),
  };
}

/** Each visit with its day and what that costs, the nearest first. */
function visitsOf(
  problem: BackwardProblem,
  places: readonly (number | null)[],
  today: Day,
  wanted: readonly WantedVisit[],
  boats: readonly SeasonBoat[],
): SeasonPlan['visits'] {
  const names = new Map(boats.map((b) => [b.boatId, b.boatName]));
  return wanted
    .map(({ boatId, visit, minutes }, i) => {
      const at = places[i] ?? null;
      const work = problem.work[i]!;
      return {
        ...{ boatId, boatName: names.get(boatId)!, visit, minutes },
        day: at === null ? null : addDays(today, at),
        cost: at === null ? work.undone : costOn(work, at, problem),
      };
    })
    .sort((a, b) => ((a.day ?? '9') < (b.day ?? '9') ? -1 : 1));
}

function weeksOf(
  { work, days }: BackwardProblem,
  places: readonly (number | null)[],
  today: Day,
  wanted: readonly WantedVisit[],
  laidUp: number,
): SeasonPlan['weeks'] {
  const awayBy = (day: number) =>
    laidUp + wanted.filter((w, i) => w.visit === 'after' && places[i] !== null && places[i]! <= day).length;
  const weeks = Array.from({ length: Math.ceil(days.length / 7) }, (_, n) => {
    const own = days.slice(n * 7, n * 7 + 7);
    const here = work.filter((_w, i) => places[i] !== null && Math.floor(places[i]! / 7) === n);
    return {
      from: addDays(today, n * 7),
      boats: here.length,
      minutes: Math.round(here.reduce((sum, w) => sum + w.minutes, 0)),
      available: Math.round(own.reduce((sum, d) => sum + d.minutes, 0)),
      lifts: here.filter((w) => w.lift).length,
      liftSlots: own.reduce((sum, d) => sum + d.lifts, 0),
      away: awayBy(n * 7 + 6),
    };
  });
  const last = weeks.findLastIndex((w) => w.boats > 0);
  return weeks.slice(0, last + 1);
}
