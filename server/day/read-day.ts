import type { DayPerson, DayReply } from '@diurna/contract/day';
import { hiresSince } from '@diurna/core/ahead';
import { boatsOf, GOING_DAYS, pressing } from '@diurna/core/day';
import { dayNumber, minuteInZone, type Day } from '@diurna/core/calendar';
import { factsOfBoats, type YardFacts } from '@diurna/core/planner';
import { and, asc, eq, ne } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Who } from '../http/api.ts';
import { shared } from '../http/shared.ts';
import type { Think } from '../think.ts';
import { linesOf } from './lines.ts';
import { LOOK_AHEAD, readMatters } from './read-matters.ts';
import { readWorked } from './worked.ts';
import { jobSummaries } from '../jobs/index.ts';
import { outlineOf, readYard, todayOfBook } from '../planner/index.ts';
import { workers, type FleetCache } from '../service/index.ts';
import { partsOfAll } from '../stores/index.ts';
import { visitTasks, workOfJobs } from '../visit/index.ts';

const { base, job } = tables;
const MOST_JOBS = 500;
const MOST_BOATS = 60;
const NOON = 720;
const DAY_MS = 86_400_000;

/**
 * A day by the hour, as this person sees it: only who decides gets what is to be decided, today and on days to come.
 */
export async function readDay(
  db: Db,
  think: Think,
  now: Date,
  who: Who,
  day: Day,
  baseId: number | null,
): Promise<DayReply> {
  const today = await todayOfBook(db, now, baseId);
  const mayDecide = (who.role === 'coordinator' || who.role === 'administrator') && day >= today;
  const minute = Math.floor(now.getTime() / 60_000);
  return whileUnchanged(db, `day ${day} ${baseId ?? 'all'} ${mayDecide ? 'decides' : 'reads'} ${minute}`, async () =>
    shared(await think('day', { now: now.getTime(), today, mayDecide, day, baseId })),
  );
}

/** Works a day out of the whole fleet. */
export async function workOutDay(
  db: Db,
  fleet: FleetCache,
  {
    now,
    today,
    mayDecide,
    day,
    baseId,
  }: { now: Date; today: Day; mayDecide: boolean; day: Day; baseId: number | null },
): Promise<DayReply> {
  await fleet.refresh(now);
  const [yard, bases, cards, people] = await Promise.all([
    mayDecide
      ? readYard(db, fleet, now, day, LOOK_AHEAD, baseId, longestAway(fleet, now, day))
      : readYard(db, fleet, now, day, 1, baseId, 0),
    db.select().from(base).orderBy(asc(base.id)),
    jobSummaries(db, now, and(eq(job.day, day), ne(job.status, 'cancelled')), MOST_JOBS, 0),
    workers(db),
  ]);
  const jobs = cards.filter((j) => baseId === null || j.baseId === baseId);
  const zone = bases.find((b) => b.id === (baseId ?? bases[0]?.id))?.timeZone ?? 'UTC';
  const minute = day === today ? minuteInZone(now.getTime(), zone).minute : null;
  // Only boats somebody works on: where they stand on this day is all the lines need of the plan.
  const worked = new Set(jobs.map((j) => j.boatId));
  const lineYard = { ...yard, facts: factsOfBoats(yard.facts, worked) };
  const board = day >= today ? await outlineOf(db, fleet, lineYard, today) : null;
  const tasksOf = await visitTasks(
    db,
    now,
    jobs.flatMap((j) => j.tasks.map((t) => t.engineId)),
  );
  const workOf = await workOfJobs(
    db,
    now,
    jobs.map((j) => j.id),
  );
  const workedOf = await readWorked(db, day, jobs, bases);
  const lines = linesOf({ workedOf, minute, day, yard: lineYard, board, jobs, tasksOf, workOf, bases, baseId, people });
  const boats = boatsOf([...fleet.boats.values()], fleet.allDue(now), day, baseId, lines, minute, yard.clock);
  const shown = pressing(boats.list, MOST_BOATS);
  return {
    day,
    today,
    now: minute,
    currency: yard.currency,
    people: lines,
    lifts: liftsOf(yard.facts, bases, day, lines),
    boats: shown.list,
    boatsMore: shown.more,
    boatsOut: boats.out,
    boatsBack: boats.list.filter((b) => b.way === 'back' && b.at < NOON).length,
    boatsGoing: boats.list.filter((b) => b.way === 'out' && b.at >= 2 * NOON).length,
    kits: await kitsOf(db, lines),
    matters:
      mayDecide && board
        ? await readMatters(db, fleet, now, { yard, day, today, baseId, people: lines, minute: minute ?? 0 })
        : null,
  };
}

/** Limits passed on a hire matter before it: how far beyond the days looked at the hires that begin soon reach. */
function longestAway(fleet: FleetCache, now: Date, day: Day): number {
  const soon = now.getTime() + (GOING_DAYS + 2) * DAY_MS;
  let last = 0;
  for (const boat of fleet.boats.values())
    for (const h of hiresSince(boat, now.getTime()))
      if (h.out > now.getTime() && h.out < soon) last = Math.max(last, h.back);
  return Math.max(0, Math.ceil(last / DAY_MS) + 1 - dayNumber(day) - LOOK_AHEAD);
}

/** How many visits that need the lift each base can take on the day, and has. */
function liftsOf(
  facts: YardFacts,
  bases: readonly { id: number; name: string }[],
  day: Day,
  lines: readonly DayPerson[],
): DayReply['lifts'] {
  const visits = lines.flatMap((p) => p.visits);
  return bases.flatMap((b) => {
    const own = facts.bases.find((f) => f.id === b.id);
    if (!own) return [];
    const slots = own.liftOut
      .filter((o) => o.first <= day && day <= o.last)
      .reduce((least, o) => Math.min(least, o.slots), own.liftSlots);
    return [
      { baseId: b.id, baseName: b.name, slots, used: visits.filter((v) => v.baseId === b.id && v.needsLift).length },
    ];
  });
}

/** The parts to pick for each open card of the day, in the order they are wanted. */
async function kitsOf(db: Db, lines: readonly DayPerson[]): Promise<DayReply['kits']> {
  const pickings = lines.flatMap((p) =>
    p.visits
      .filter((v) => v.status === 'open')
      .map((v) => ({ ...v, technician: p.name, tasks: v.tasks.filter((t) => t.state === 'open') })),
  );
  return (await partsOfAll(db, pickings))
    .map(({ picking, parts, partsUnknown }) => ({
      jobId: picking.jobId,
      boatName: picking.boatName,
      baseId: picking.baseId,
      baseName: picking.baseName,
      technician: picking.technician,
      start: picking.start,
      lines: parts,
      unknown: [...new Set(partsUnknown.map((u) => u.task))],
    }))
    .filter((k) => k.lines.length > 0 || k.unknown.length > 0)
    .sort((a, b) => (a.start ?? 9999) - (b.start ?? 9999));
}
