import { makesPlans } from '@diurna/contract';
import { type Skill } from '@diurna/core/service';
import { and, asc, eq, gte, inArray } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { closedDay, liftOut, person, personException, personShift, setting } = tables;

export const workingPeopleHandlers: Handlers<'readWorkCalendar' | 'editPersonWork' | 'setPace'> = {
  async readWorkCalendar({ db, query, who }) {
    const plans = makesPlans(who.role);
    const [people, shifts, exceptions, closed, lifts, settings] = await Promise.all([
      db
        .select()
        .from(person)
        .where(and(eq(person.active, true), inArray(person.role, ['technician', 'coordinator', 'administrator'])))
        .orderBy(asc(person.name))
        .limit(1000),
      db.select().from(personShift).orderBy(asc(personShift.weekday)),
      db
        .select()
        .from(personException)
        .where(gte(personException.lastDay, query.from))
        .orderBy(asc(personException.firstDay)),
      db.select().from(closedDay).where(gte(closedDay.day, query.from)).orderBy(asc(closedDay.day)).limit(2000),
      db.select().from(liftOut).where(gte(liftOut.lastDay, query.from)).orderBy(asc(liftOut.firstDay)).limit(500),
      db.select().from(setting),
    ]);
    const { lateWeightPercent, moveCostMinor, rateMinor, hireDayMinor, version } = settings[0]!;
    return {
      people: people.map((p) => ({
        id: p.id,
        version: p.version,
        name: p.name,
        role: p.role,
        baseId: p.baseId,
        skills: p.skills as Skill[],
        // What somebody earns, and how fast they are, is for those who plan with it.
        pace: plans ? p.pace : null,
        rateMinor: plans ? p.rateMinor : null,
        overtimeMinutes: p.overtimeMinutes,
        overtimePercent: plans ? p.overtimePercent : null,
        calendar: p.calendarKeyHash !== null,
        shifts: shifts.filter((s) => s.personId === p.id).map(({ personId: _, ...s }) => s),
        exceptions: exceptions
          .filter((x) => x.personId === p.id)
          .map(({ id, kind, firstDay, lastDay, baseId, fromMinute, toMinute, reason }) => ({
            id,
            kind,
            firstDay,
            lastDay,
            baseId,
            fromMinute,
            toMinute,
            reason,
          })),
      })),
      closed,
      liftOut: lifts,
      settings: { lateWeightPercent, moveCostMinor, rateMinor, hireDayMinor, version },
    };
  },

  editPersonWork: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { version, shifts, ...rest } = body;
      const before = await lockVersion(tx, person, params.id, version, 'person');
      const old = await tx.select().from(personShift).where(eq(personShift.personId, params.id));
      await tx.delete(personShift).where(eq(personShift.personId, params.id));
      if (shifts.length > 0) await tx.insert(personShift).values(shifts.map((s) => ({ personId: params.id, ...s })));
      const [row] = await tx
        .update(person)
        .set({ ...rest, ...nextVersion(person) })
        .where(eq(person.id, params.id))
        .returning();
      const { skills, pace, rateMinor, overtimeMinutes, overtimePercent } = before;
      await audit({
        act: 'changed',
        subject: 'work',
        subjectId: row!.id,
        title: row!.name,
        before: { skills, pace, rateMinor, overtimeMinutes, overtimePercent, shifts: old },
        after: { ...rest, shifts },
      });
      return { id: row!.id, version: row!.version };
    }),

  setPace: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, person, params.id, body.version, 'person');
      const [row] = await tx
        .update(person)
        .set({ pace: body.pace, ...nextVersion(person) })
        .where(eq(person.id, params.id))
        .returning();
      await audit({
        act: 'changed',
        subject: 'work',
        subjectId: row!.id,
        title: row!.name,
        before: { pace: before.pace },
        after: { pace: body.pace },
      });
      return { id: row!.id, version: row!.version };
    }),
};
