import type { DayPerson, DayReply } from '@diurna/contract/day';
import { addDays, dayNumber, minuteInZone, type Day } from '@diurna/core/calendar';
import { mattersOf } from '@diurna/core/day';
import { engineName } from '@diurna/core/fleet';
import { planTaskId } from '@diurna/core/planner';
import { and, asc, eq, gt, isNull, lt } from 'drizzle-orm';
import { among, tables, type Db } from '../db/index.ts';
import { findingsWhere, holdsWhere, undecidedHolds } from '../findings/index.ts';
import { jobSummaries } from '../jobs/index.ts';
import { outlineOf, type YardBook } from '../planner/index.ts';
import type { FleetCache } from '../service/index.ts';

const { base, boat, finding, hire, hireFeed, hold, job, part, partArrival } = tables;
/** What is to be decided looks at places so many days ahead. */
export const LOOK_AHEAD = 14;
const MOST_OLD = 40;
const DAY_MS = 86_400_000;

type Board = Awaited<ReturnType<typeof outlineOf>>;

/** Hires of these boats that have not begun, by the clock of their bases from the first midnight on. */
async function hiresAhead(
  db: Db,
  now: Date,
  boatIds: readonly number[],
  first: Day,
  zoneOf: ReadonlyMap<number, string>,
) {
  if (boatIds.length === 0) return [];
  const rows = await db
    .select({ h: hire, baseId: boat.baseId })
    .from(hire)
    .innerJoin(boat, eq(boat.id, hire.boatId))
    .where(
      and(
        among(hire.boatId, [...boatIds]),
        isNull(hire.cancelledAt),
        isNull(hire.letGoAt),
        gt(hire.outAt, now),
        lt(hire.outAt, new Date(now.getTime() + LOOK_AHEAD * DAY_MS)),
      ),
    )
    .orderBy(asc(hire.outAt));
  return rows.map(({ h, baseId }) => {
    const at = (instant: Date) => {
      const { dayNo, minute } = minuteInZone(instant.getTime(), zoneOf.get(baseId) ?? 'UTC');
      return (dayNo - dayNumber(first)) * 1440 + minute;
    };
    return {
      id: h.id,
      version: h.version,
      boatId: h.boatId,
      out: at(h.outAt),
      back: at(h.backAt),
      reference: h.reference,
    };
  });
}

interface Deciding {
  yard: YardBook;
  day: Day;
  today: Day;
  baseId: number | null;
  people: readonly DayPerson[];
  minute: number;
}

/** What a day wants somebody to decide; today also what stands open in the book. */
export async function readMatters(
  db: Db,
  fleet: FleetCache,
  now: Date,
  { yard, day, today, baseId, people, minute }: Deciding,
): Promise<DayReply['matters']> {
  const facts = yard.fromNow(now);
  const tasks = new Map(
    yard.dues.map(({ facts: { id, position }, due, on }) => [
      planTaskId(id, due.task),
      { engineId: id, position, due, likely: on?.likely ?? null },
    ]),
  );
  const outline = await outlineOf(db, fleet, { ...yard, facts }, today);
  const board = { ...outline, yard: facts, tasks };
  const ahead = (boatIds: number[]) => hiresAhead(db, now, boatIds, day, yard.zoneOf);
  if (day > today) {
    const hires = await ahead(bookedTwice(outline));
    return mattersOf({ ...NOTHING_OPEN, board, people, today, minute: 0, hires, clock: yard.clock });
  }
  const [holds, undecided, old, open] = await Promise.all([
    holdsWhere(db, and(isNull(hold.releasedAt), baseId === null ? undefined : eq(boat.baseId, baseId))),
    undecidedHolds(db, baseId),
    jobSummaries(db, now, and(eq(job.status, 'open'), lt(job.day, today)), MOST_OLD, 0),
    openInBook(db, fleet, today, baseId),
  ]);
  const hires = await ahead([...new Set([...holds, ...undecided].map((h) => h.boatId)), ...bookedTwice(outline)]);
  return mattersOf({ board, people, today, minute, clock: yard.clock, holds, undecided, hires, old, ...open });
}

/** On a day to come only what that day wants is told: the rest is for today. */
const NOTHING_OPEN = {
  holds: [],
  undecided: [],
  old: [],
  lateParts: [],
  calendars: [],
  unread: { engines: 0, names: [] },
  waiting: [],
};

/** Boats with two hires at one time. */
const bookedTwice = (outline: Board): number[] =>
  Object.entries(outline.boats).flatMap(([id, { hires }]) => {
    const list = [...hires].sort((a, b) => a[0] - b[0]);
    return list.some(([out], i) => i > 0 && out < list[i - 1]![1]) ? [Number(id)] : [];
  });

const MOST_OPEN = 12;
const UNREAD_DAYS = 7;

/** What waits in the book for somebody: parts that did not come, calendars that failed, meters unread, findings. */
async function openInBook(db: Db, fleet: FleetCache, today: Day, baseId: number | null) {
  const late = await db
    .select({ a: partArrival, name: part.name, unit: part.unit, baseName: base.name })
    .from(partArrival)
    .innerJoin(part, eq(part.id, partArrival.partId))
    .innerJoin(base, eq(base.id, partArrival.baseId))
    .where(
      and(
        isNull(partArrival.arrivedAt),
        lt(partArrival.day, today),
        baseId === null ? undefined : eq(partArrival.baseId, baseId),
      ),
    )
    .orderBy(asc(partArrival.day))
    .limit(MOST_OPEN);
  const calendars = await db
    .select({ id: hireFeed.id, name: hireFeed.name, outcome: hireFeed.outcome })
    .from(hireFeed)
    .where(and(eq(hireFeed.active, true), eq(hireFeed.failed, true)));
  const waiting = (await findingsWhere(db, and(eq(finding.state, 'open'), eq(finding.weight, 'act'))))
    .filter((f) => fleet.engines.has(f.engineId))
    .filter((f) => baseId === null || fleet.engines.get(f.engineId)!.baseId === baseId)
    .slice(0, MOST_OPEN);
  const unread = fleet
    .inOrder()
    .filter((e) => e.meterId !== null && (baseId === null || e.baseId === baseId))
    .filter((e) => e.lastReadDay === null || e.lastReadDay <= addDays(today, -UNREAD_DAYS));
  return {
    lateParts: late.map(({ a, name, unit, baseName }) => ({
      id: a.id,
      partId: a.partId,
      name,
      quantity: unit === 'mL' ? `${(a.quantity / 1000).toFixed(1)} L` : String(a.quantity),
      baseName,
      day: a.day,
    })),
    calendars: calendars.map((c) => ({ ...c, outcome: c.outcome ?? '' })),
    unread: { engines: unread.length, names: unread.slice(0, 3).map((e) => engineName(e.boatName, e.position)) },
    waiting: waiting.map((f) => ({
      jobId: f.jobId,
      boatName: engineName(fleet.engines.get(f.engineId)!.boatName, fleet.engines.get(f.engineId)!.position),
      seen: f.seen,
    })),
  };
}
