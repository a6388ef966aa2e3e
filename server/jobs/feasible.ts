import { addDays, dayInZone, dayNumber, dayWord, minuteInZone, type Day } from '@diurna/core/calendar';
import { reasonsAgainst, type Bar, type FeasibleDay, type Reason, type WorkAsked } from '@diurna/core/feasible';
import { engineName } from '@diurna/core/fleet';
import { shortNames } from '@diurna/core/people';
import { gapsBetween } from '@diurna/core/hires';
import { restOn, workOn, type YardPerson } from '@diurna/core/planner';
import { TASKS, waitsIn, type TaskKind } from '@diurna/core/service';
import { secondMinutes, visitMinutes, visitSteps } from '@diurna/core/visit';
import { and, asc, eq, gt, gte, inArray, isNull, lt, lte, ne } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { readAsked, readHands } from '../service/index.ts';
import { keptByCards, partsOfTasks, servedBy } from '../stores/index.ts';
import { templatesInForce, visitTasks } from '../visit/index.ts';

const { base, boat, engine, hire, job, jobTask, partArrival, person: hand, setting } = tables;
type TaskKey = { engineId: number; task: TaskKind };

/** Work as it is meant: whose, when, and the card it stands on already. */
export interface Meant {
  boatId: number;
  technicianId: number;
  day: Day;
  startMinute: number | null;
  tasks: readonly TaskKey[];
  jobId?: number | undefined;
  /** The card stays with its person on its day: only what its tasks want is looked at. */
  stays?: boolean;
}

/** What would free it is looked for so many days ahead. */
const AHEAD = 14;
const DAY_MS = 86_400_000;
const NOTHING: readonly never[] = [];
/** What stood against the card where it stands before anything was added to it. */
const OF_THE_PLACE: readonly Bar[] = ['person off', 'other base', 'boat out', 'boat taken'];

/** Everything that is against this work, by this person, on this day; none = it can be done. */
export async function whatIsAgainst(db: Db | Tx, now: Date, meant: Meant): Promise<Reason[]> {
  const asked = await readWorkAsked(db, now, meant);
  const reasons = asked === null ? [] : reasonsAgainst(asked, dayWord);
  return meant.stays ? reasons.filter((r) => !OF_THE_PLACE.includes(r.bar)) : reasons;
}

async function readWorkAsked(db: Db | Tx, now: Date, meant: Meant): Promise<WorkAsked | null> {
  // One after the other: a transaction has one connection.
  const [place] = await db
    .select({ name: boat.name, base })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, meant.boatId));
  const { bases, people } = await readHands(db, meant.day, addDays(meant.day, AHEAD), meant.technicianId);
  const person = people.find((p) => p.id === meant.technicianId);
  if (!place || !person || meant.tasks.length === 0) return null;
  const names = await namesOf(db);
  const nameOf = (id: number) => names.get(id) ?? 'somebody';
  const engines = await db
    .select({ id: engine.id, position: engine.position })
    .from(engine)
    .where(eq(engine.boatId, meant.boatId));
  const nameOfEngine = (id: number) => engineName(place.name, engines.find((e) => e.id === id)?.position ?? 'single');
  const ids = [...new Set(meant.tasks.map((t) => t.engineId))];
  const tasks = (await visitTasks(db, now, ids))(meant.tasks);
  const steps = visitSteps(tasks, await templatesInForce(db));
  const around = await readAround(db, now, meant, person.pace);
  const [settings] = await db.select({ clock: setting.clock }).from(setting);
  const days = await readDays(db, meant, place.base, { bases, people, person, nameOf, around });
  return {
    boatName: place.name,
    baseId: place.base.id,
    baseName: place.base.name,
    person: { name: nameOf(person.id), skills: person.skills },
    tasks: meant.tasks.map((t) => ({ engineName: nameOfEngine(t.engineId), task: t.task })),
    minutes: visitMinutes(tasks, person.pace).elapsed,
    secondMinutes: secondMinutes(steps),
    start: meant.startMinute,
    clock: settings?.clock,
    parts: await partsFor(db, meant, place.base.id),
    waits: await waitsOf(db, meant, nameOfEngine),
    days,
  };
}

interface Yard {
  bases: Awaited<ReturnType<typeof readHands>>['bases'];
  people: readonly YardPerson[];
  person: YardPerson;
  nameOf: (id: number) => string;
  around: Awaited<ReturnType<typeof readAround>>;
}

/** How things stand on the day asked about, and on those after it. */
async function readDays(
  db: Db | Tx,
  meant: Meant,
  at: typeof base.$inferSelect,
  { bases, people, person, nameOf, around }: Yard,
): Promise<FeasibleDay[]> {
  const basesById = new Map(bases.map((b) => [b.id, b]));
  const baseNames = new Map((await db.select({ id: base.id, name: base.name }).from(base)).map((b) => [b.id, b.name]));
  const lying = basesById.get(at.id)!;
  // Who hands boats out holds a lower unit as well as anybody; they are there when the base is open.
  const dock = (
    await db
      .select({ id: hand.id, baseId: hand.baseId })
      .from(hand)
      .where(and(eq(hand.active, true), eq(hand.role, 'dock'), eq(hand.baseId, at.id)))
  ).map((d) => ({ ...person, ...d, skills: [], shifts: [], exceptions: [] }));
  return Array.from({ length: AHEAD }, (_, d): FeasibleDay => {
    const day = addDays(meant.day, d);
    const work = workOn(person, basesById, day);
    const slots = lying.liftOut
      .filter((o) => o.first <= day && day <= o.last)
      .reduce((least, o) => Math.min(least, o.slots), lying.liftSlots);
    return {
      day,
      hand: work && {
        baseId: work.baseId,
        baseName: baseNames.get(work.baseId) ?? '',
        ...work.shift,
        hard: work.shift.to + person.overtimeMinutes,
        rest: restOn(work, basesById),
      },
      others: [...people, ...dock].flatMap((p) =>
        p.id !== person.id && workOn(p, basesById, day)?.baseId === at.id
          ? [{ name: nameOf(p.id), skills: p.skills }]
          : [],
      ),
      gaps: around.gaps(meant.boatId, at, day),
      liftLeft: slots - around.lifts(at.id, day),
      taken: around.taken(day, nameOf),
      busy: around.busy(day),
    };
  });
}

/** What people of the yard are called. */
async function namesOf(db: Db | Tx): Promise<Map<number, string>> {
  const rows = await db.select({ id: hand.id, name: hand.name }).from(hand).where(eq(hand.active, true));
  return shortNames(rows.map((r) => [r.id, r.name] as const));
}

/** When boats lie at their base and are not on hire, by day, in minutes of the day. */
function gapsOf(now: Date, firstDay: Day, hires: readonly (typeof hire.$inferSelect)[]) {
  const from = dayNumber(firstDay);
  return (boatId: number, at: typeof base.$inferSelect, day: Day) => {
    const midnight = (dayNumber(day) - from) * 1440;
    const minuteOf = (instant: Date) => {
      const { dayNo, minute } = minuteInZone(instant.getTime(), at.timeZone);
      return (dayNo - from) * 1440 + minute;
    };
    const out = hires
      .filter((h) => h.boatId === boatId)
      .map((h): [number, number] => [minuteOf(h.outAt), minuteOf(h.backAt)]);
    const opens = day === dayInZone(now, at.timeZone) ? Math.max(at.opensAt, minuteOf(now) - midnight) : at.opensAt;
    if (opens >= at.closesAt) return [];
    return gapsBetween(out, midnight + opens, midnight + at.closesAt).map(([a, b]) => ({
      from: a - midnight,
      to: b - midnight,
    }));
  };
}

/** Hires of these boats that touch the days looked at. */
function hiresNear(db: Db | Tx, boatIds: number[], firstDay: Day) {
  const from = dayNumber(firstDay);
  return db
    .select()
    .from(hire)
    .where(
      and(
        inArray(hire.boatId, boatIds),
        isNull(hire.cancelledAt),
        gt(hire.backAt, new Date((from - 2) * DAY_MS)),
        lt(hire.outAt, new Date((from + AHEAD + 2) * DAY_MS)),
      ),
    );
}

/** A line for each task of the cards of the days looked at, this one’s own left out. */
function cardsNear(db: Db | Tx, meant: Meant) {
  const last = addDays(meant.day, AHEAD);
  return (
    db
      // Only what is looked at: a card carries what it was issued with and worked by.
      .select({
        j: {
          id: job.id,
          technicianId: job.technicianId,
          boatId: job.boatId,
          day: job.day,
          status: job.status,
          startMinute: job.startMinute,
        },
        t: { engineId: jobTask.engineId, task: jobTask.task },
        base,
      })
      .from(job)
      .innerJoin(jobTask, eq(jobTask.jobId, job.id))
      .innerJoin(boat, eq(boat.id, job.boatId))
      .innerJoin(base, eq(base.id, boat.baseId))
      .where(
        and(
          gte(job.day, meant.day),
          lt(job.day, last),
          ne(job.status, 'cancelled'),
          meant.jobId === undefined ? undefined : ne(job.id, meant.jobId),
        ),
      )
      .orderBy(asc(job.id))
      .limit(20_000)
  );
}

/** Other open cards and hires of these days: of the boat, the person, and whatever else takes the lift of the base. */
async function readAround(db: Db | Tx, now: Date, meant: Meant, pace: number) {
  const cards = await cardsNear(db, meant);
  const own = cards.filter((c) => c.j.technicianId === meant.technicianId);
  const boats = [...new Set([meant.boatId, ...own.map((c) => c.j.boatId)])];
  const hires = await hiresNear(db, boats, meant.day);
  const tasksOf = await visitTasks(
    db,
    now,
    own.map((c) => c.t.engineId),
  );
  const gaps = gapsOf(now, meant.day, hires);
  return {
    gaps,
    lifts: (baseId: number, day: Day) =>
      new Set(
        cards.filter((c) => c.j.day === day && c.base.id === baseId && TASKS[c.t.task].needsLift).map((c) => c.j.id),
      ).size,
    taken: (day: Day, nameOf: (id: number) => string) => {
      const other = cards.find((c) => c.j.day === day && c.j.boatId === meant.boatId && c.j.status === 'open');
      return other ? nameOf(other.j.technicianId) : null;
    },
    busy: (day: Day) =>
      [...new Set(own.filter((c) => c.j.day === day).map((c) => c.j.id))].map((id) => {
        const lines = own.filter((c) => c.j.id === id);
        const { j, base: at } = lines[0]!;
        return {
          id: String(id),
          minutes: visitMinutes(tasksOf(lines.map(({ t }) => ({ engineId: t.engineId, task: t.task }))), pace).elapsed,
          start: j.startMinute,
          // What is finished stands where it was.
          windows: j.status === 'open' ? gaps(j.boatId, at, day) : NOTHING,
        };
      }),
  };
}

/** The parts it takes beside what other cards keep back, and what is on its way. */
async function partsFor(db: Db | Tx, meant: Meant, baseId: number): Promise<WorkAsked['parts']> {
  const { parts } = await partsOfTasks(db, meant.tasks, baseId, meant.jobId);
  if (parts.length === 0) return [];
  const kept = await keptByCards(db, baseId);
  const before = meant.jobId === undefined ? [] : (await tasksOfCard(db, meant.jobId)).own;
  const mine = before.length === 0 ? [] : (await partsOfTasks(db, before, baseId, meant.jobId)).parts;
  const arrivals = await db
    .select()
    .from(partArrival)
    .where(
      and(
        isNull(partArrival.arrivedAt),
        eq(partArrival.baseId, baseId),
        lte(partArrival.day, addDays(meant.day, 365)),
        inArray(
          partArrival.partId,
          parts.map((p) => p.partId),
        ),
      ),
    )
    .orderBy(asc(partArrival.day));
  return parts.map((p) => {
    const ownShare = mine.find((m) => m.partId === p.partId)?.quantity ?? 0;
    const there = arrivals.filter((a) => a.partId === p.partId && a.day <= meant.day);
    const others = kept.filter((k) => k.partId === p.partId);
    const free =
      servedBy(p) +
      there.reduce((sum, a) => sum + a.quantity, 0) -
      others.reduce((sum, k) => sum + k.quantity, 0) +
      ownShare;
    const amount = (n: number) => (p.unit === 'mL' ? `${Math.round(n)} mL` : String(Math.round(n * 100) / 100));
    return {
      name: `${p.name} ${p.number}`,
      quantity: amount(p.quantity),
      free: amount(Math.max(0, free)),
      short: free < p.quantity - 1e-6,
      keptFor: others.filter((k) => k.jobId !== meant.jobId),
      arrives: arrivals.find((a) => a.partId === p.partId && a.day > meant.day)?.day ?? null,
    };
  });
}

async function tasksOfCard(db: Db | Tx, jobId: number): Promise<{ own: TaskKey[] }> {
  const own = await db
    .select({ engineId: jobTask.engineId, task: jobTask.task })
    .from(jobTask)
    .where(and(eq(jobTask.jobId, jobId), eq(jobTask.state, 'open')));
  return { own };
}

/** Work that was asked for after other work, which is neither done nor asked for here. */
async function waitsOf(
  db: Db | Tx,
  { tasks }: Meant,
  nameOf: (engineId: number) => string,
): Promise<WorkAsked['waits']> {
  const asked = await readAsked(db, [...new Set(tasks.map((t) => t.engineId))]);
  return tasks.flatMap((t) => {
    const before = waitsIn(asked.get(t.engineId) ?? []).get(t.task);
    return before === undefined || tasks.some((x) => x.engineId === t.engineId && x.task === before)
      ? []
      : [{ engineName: nameOf(t.engineId), task: t.task, before }];
  });
}
