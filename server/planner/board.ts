import type { BoardReply } from '@diurna/contract/planner';
import { hiresSince } from '@diurna/core/ahead';
import { dayInZone, dayNumber, minuteInZone, type Day } from '@diurna/core/calendar';
import { classKeyOf } from '@diurna/core/hires';
import { planPartId, planTaskId, planTaskOf, problemOf, type PlannedVisit } from '@diurna/core/planner';
import { nearestLimit } from '@diurna/core/service';
import { asc, desc, eq, inArray } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import type { FleetCache } from '../service/index.ts';
import { openJobs, readYard, type YardBook } from './facts.ts';

const { acceptedPlan, base, boat, part, person } = tables;
const DAY_MS = 86_400_000;

/** Today where the book's first base is. */
export async function todayOfBook(db: Db, now: Date, baseId: number | null): Promise<Day> {
  const [first] = await db
    .select({ zone: base.timeZone })
    .from(base)
    .where(baseId === null ? undefined : eq(base.id, baseId))
    .orderBy(asc(base.id))
    .limit(1);
  return dayInZone(now, first?.zone ?? 'UTC');
}

/** The plan that was accepted last. */
export async function lastAccepted(db: Db | Tx): Promise<BoardReply['accepted']> {
  const [row] = await db
    .select({ p: acceptedPlan, by: person.name })
    .from(acceptedPlan)
    .leftJoin(person, eq(person.id, acceptedPlan.personId))
    .orderBy(desc(acceptedPlan.id))
    .limit(1);
  return row
    ? {
        id: row.p.id,
        at: row.p.at.toISOString(),
        by: row.by,
        firstDay: row.p.firstDay,
        visits: row.p.visits,
        cost: row.p.cost,
      }
    : null;
}

/** The problem of the book for some days from now on, with open cards as the plan that stands. */
export async function readBoard(
  db: Db,
  fleet: FleetCache,
  now: Date,
  { from, days, baseId }: { from?: Day | undefined; days: number; baseId: number | null },
): Promise<BoardReply> {
  const today = await todayOfBook(db, now, baseId);
  const yard = await readYard(db, fleet, now, from ?? today, days, baseId);
  const facts = yard.fromNow(now);
  return {
    ...(await outlineOf(db, fleet, { ...yard, facts }, today)),
    problem: problemOf(facts),
    tasks: Object.fromEntries(
      yard.dues.map(({ facts: f, due, on }, i) => [
        planTaskId(f.id, due.task),
        {
          engineId: f.id,
          task: due.task,
          position: f.position,
          modelId: f.modelId,
          state: due.state,
          text: nearestLimit(due),
          likely: on?.likely ?? null,
          brings: [...(facts.tasks[i]!.brings ?? [])],
        },
      ]),
    ),
  };
}

/** The board of a yard that was read, without its work: the open cards on it, and the names to show it by. */
export async function outlineOf(
  db: Db | Tx,
  fleet: FleetCache,
  { facts, moveCost, currency, zoneOf }: YardBook,
  today: Day,
): Promise<Omit<BoardReply, 'problem' | 'tasks'>> {
  const { firstDay, days } = facts;
  const first = dayNumber(firstDay);
  const [boats, people, bases, accepted] = await Promise.all([
    db
      .select({ id: boat.id, name: boat.name, berth: boat.berth, baseId: boat.baseId, boatClass: boat.boatClass })
      .from(boat)
      .where(
        among(
          boat.id,
          facts.boats.map((b) => b.id),
        ),
      ),
    db
      .select({ id: person.id, name: person.name, baseId: person.baseId })
      .from(person)
      .where(
        inArray(
          person.id,
          facts.people.map((p) => p.id),
        ),
      ),
    db.select({ id: base.id, name: base.name }).from(base),
    lastAccepted(db),
  ]);
  const partRows =
    facts.parts.length === 0
      ? []
      : await db
          .select()
          .from(part)
          .where(inArray(part.id, [...new Set(facts.parts.map((p) => p.partId))]));
  const known = new Set(facts.tasks.map((t) => planTaskId(t.engineId, t.task)));
  const standing = (
    await openJobs(
      db,
      facts.boats.map((b) => b.id),
    )
  ).flatMap((j): BoardReply['standing'] => {
    const day = dayNumber(j.day) - first;
    const tasks = j.tasks
      .filter((t) => t.state !== 'done')
      .map((t) => planTaskId(t.engineId, t.task))
      .filter((t) => known.has(t));
    if (day < 0 || day >= days || tasks.length === 0) return [];
    return [
      {
        boat: String(j.boatId),
        day,
        technician: String(j.technicianId),
        start: j.startMinute ?? 0,
        elapsed: 0,
        tasks,
        jobId: j.id,
        version: j.version,
        pinned: j.pinned,
        started: j.tasks.some((t) => t.state === 'done'),
      },
    ];
  });
  return {
    firstDay,
    today,
    days,
    currency,
    moveCost,
    standing,
    accepted,
    boats: Object.fromEntries(
      boats.map((b) => {
        const zone = zoneOf.get(b.baseId)!;
        const place = (instant: number) => {
          const { dayNo, minute } = minuteInZone(instant, zone);
          return (dayNo - first) * 1440 + minute;
        };
        const hires = hiresSince(fleet.boats.get(b.id), (first - 1) * DAY_MS)
          .filter((h) => h.back > (first - 1) * DAY_MS && h.out < (first + days + 1) * DAY_MS)
          .map((h): [number, number] => [place(h.out), place(h.back)]);
        const engines = fleet.boats.get(b.id)?.engines ?? [];
        const classKey = classKeyOf(
          b.boatClass,
          engines.map((e) => e.modelId),
        );
        const held = engines.flatMap((e) => e.held);
        return [String(b.id), { name: b.name, baseId: b.baseId, berth: b.berth, classKey, held, hires }];
      }),
    ),
    people: Object.fromEntries(people.map((p) => [String(p.id), { name: p.name, baseId: p.baseId }])),
    bases: Object.fromEntries(bases.map((b) => [String(b.id), { name: b.name }])),
    parts: Object.fromEntries(
      facts.parts.map(({ partId, baseId: at }) => {
        const p = partRows.find((x) => x.id === partId)!;
        return [planPartId(partId, at), { partId, number: p.number, name: p.name, unit: p.unit }];
      }),
    ),
  };
}

/** A visit's tasks as the book knows them. */
export const taskKeys = (v: Pick<PlannedVisit, 'tasks'>) => v.tasks.map(planTaskOf);
