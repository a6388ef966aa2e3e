import { addDays, type Day } from '@diurna/core/calendar';
import { restOn, workOn, type PersonException, type YardBase, type YardPerson } from '@diurna/core/planner';
import { and, asc, eq, gte, inArray, lte, or } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';

const { base, closedDay, job, liftOut, person, personException, personShift, setting } = tables;

/**
 * People who get work: technicians who are in the yard, and whoever has an open card.
 *
 * @param also somebody else who is to get some
 */
export function workers(db: Db | Tx, also?: number) {
  const handed = db.select({ id: job.technicianId }).from(job).where(eq(job.status, 'open'));
  return db
    .select()
    .from(person)
    .where(
      and(
        eq(person.active, true),
        or(
          eq(person.role, 'technician'),
          inArray(person.id, handed),
          also === undefined ? undefined : eq(person.id, also),
        ),
      ),
    )
    .orderBy(asc(person.name))
    .limit(1000);
}

/**
 * Who works when and where between two days, as the core counts it.
 *
 * @param also somebody who is to get work and has none yet
 */
export async function readHands(
  db: Db | Tx,
  firstDay: Day,
  lastDay: Day,
  also?: number,
): Promise<{ bases: (YardBase & { timeZone: string })[]; people: YardPerson[] }> {
  const [settings, bases, people, shifts, exceptions, closed, lifts] = await Promise.all([
    db.select({ rateMinor: setting.rateMinor }).from(setting),
    db.select().from(base).orderBy(asc(base.id)),
    workers(db, also),
    db.select().from(personShift),
    db
      .select()
      .from(personException)
      .where(and(lte(personException.firstDay, lastDay), gte(personException.lastDay, firstDay)))
      .orderBy(asc(personException.id)),
    db
      .select()
      .from(closedDay)
      .where(and(gte(closedDay.day, firstDay), lte(closedDay.day, lastDay))),
    db
      .select()
      .from(liftOut)
      .where(and(lte(liftOut.firstDay, lastDay), gte(liftOut.lastDay, firstDay))),
  ]);
  const usual = settings[0]?.rateMinor ?? 0;
  return {
    bases: bases.map((b) => ({
      id: b.id,
      timeZone: b.timeZone,
      workdays: b.workdays,
      dayMinutes: b.dayMinutes,
      opensAt: b.opensAt,
      closesAt: b.closesAt,
      liftSlots: b.liftSlots,
      rest: b.breakMinutes > 0 ? { from: b.breakFrom, to: b.breakTo, minutes: b.breakMinutes } : null,
      now: null,
      closed: new Set(closed.filter((c) => c.baseId === b.id).map((c) => c.day)),
      liftOut: lifts
        .filter((l) => l.baseId === b.id)
        .map((l) => ({ first: l.firstDay, last: l.lastDay, slots: l.slots })),
    })),
    people: people.map((p) => ({
      id: p.id,
      baseId: p.baseId,
      skills: p.skills,
      pace: p.pace,
      ratePerHour: (p.rateMinor ?? usual) / 100,
      overtimeMinutes: p.overtimeMinutes,
      overtimeFactor: p.overtimePercent / 100,
      shifts: shifts
        .filter((s) => s.personId === p.id)
        .map((s) => ({ weekday: s.weekday, from: s.fromMinute, to: s.toMinute, baseId: s.baseId })),
      exceptions: exceptions.filter((x) => x.personId === p.id).map(exceptionOf),
    })),
  };
}

function exceptionOf(x: typeof personException.$inferSelect): PersonException {
  const days = { first: x.firstDay, last: x.lastDay };
  if (x.kind === 'base') return { ...days, kind: 'base', baseId: x.baseId! };
  if (x.kind === 'hours') return { ...days, kind: 'hours', from: x.fromMinute!, to: x.toMinute! };
  return { ...days, kind: 'away' };
}

/** Minutes of technicians there are on each day, at one base or all. */
export async function handsByDay(db: Db, from: Day, days: number, baseId: number | null): Promise<number[]> {
  const { bases, people } = await readHands(db, from, addDays(from, days - 1));
  const byId = new Map(bases.map((b) => [b.id, b]));
  return Array.from({ length: days }, (_, d) =>
    people.reduce((sum, p) => {
      const work = workOn(p, byId, addDays(from, d));
      return work && (baseId === null || work.baseId === baseId)
        ? sum + work.shift.to - work.shift.from - (restOn(work, byId)?.minutes ?? 0)
        : sum;
    }, 0),
  );
}
