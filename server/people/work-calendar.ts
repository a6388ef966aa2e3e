import { addDays, dayInZone, instantInZone, type Day } from '@diurna/core/calendar';
import { TASKS, type Skill } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import { visitTasks } from '../visit/index.ts';
import { and, asc, eq, gte, inArray, isNull } from 'drizzle-orm';
import { default as ical, ICalEventStatus } from 'ical-generator';
import { createHash, randomBytes } from 'node:crypto';
import { tables } from '../db/index.ts';
import { readCalendar } from '../hires/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { lockShelves, refuseHalves } from '../stores/index.ts';

const {
  base,
  boat,
  closedDay,
  engine,
  job,
  jobTask,
  liftOut,
  part,
  partArrival,
  person,
  personException,
  personShift,
  setting,
  stockMovement,
} = tables;
type Names =
  | 'readWorkCalendar'
  | 'editPersonWork'
  | 'setPace'
  | 'addException'
  | 'removeException'
  | 'addClosedDay'
  | 'removeClosedDay'
  | 'importClosedDays'
  | 'addLiftOut'
  | 'removeLiftOut'
  | 'editPlanSettings'
  | 'listArrivals'
  | 'addArrival'
  | 'closeArrival'
  | 'giveCalendarKey'
  | 'personCalendar';

const HOLIDAY_YEARS = 3;
const FEED_BACK_DAYS = 30;
const hashOf = (key: string) => createHash('sha256').update(key).digest('hex');

export function workCalendarHandlers(): Handlers<Names> {
  return {
    async readWorkCalendar({ db, query }) {
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
          pace: p.pace,
          rateMinor: p.rateMinor,
          overtimeMinutes: p.overtimeMinutes,
          overtimePercent: p.overtimePercent,
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

    addException: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const [who] = await tx.select().from(person).where(eq(person.id, params.id));
        if (!who) throw notFound('person');
        const [row] = await tx
          .insert(personException)
          .values({ personId: params.id, ...body, reason: body.reason || null })
          .returning();
        await audit({ act: 'added', subject: 'work', subjectId: params.id, title: who.name, after: body });
        return { id: row!.id };
      }),

    removeException: ({ params, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.delete(personException).where(eq(personException.id, params.id)).returning();
        if (!row) throw notFound('entry');
        await audit({ act: 'taken back', subject: 'work', subjectId: row.personId, before: row });
        return { ok: true as const };
      }),

    addClosedDay: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx
          .insert(closedDay)
          .values({ baseId: params.id, ...body })
          .onConflictDoNothing()
          .returning();
        if (!row) throw faulty('day', 'That day is without work already.');
        await audit({
          act: 'added',
          subject: 'day without work',
          subjectId: row.id,
          title: `${body.day} ${body.name}`,
          after: row,
        });
        return { id: row.id };
      }),

    removeClosedDay: ({ params, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.delete(closedDay).where(eq(closedDay.id, params.id)).returning();
        if (!row) throw notFound('day');
        await audit({
          act: 'taken back',
          subject: 'day without work',
          subjectId: row.id,
          title: `${row.day} ${row.name}`,
          before: row,
        });
        return { ok: true as const };
      }),

    importClosedDays: ({ params, body, write, now }) =>
      write(async (tx, audit) => {
        const [at] = await tx.select().from(base).where(eq(base.id, params.id));
        if (!at) throw notFound('base');
        const today = dayInZone(now, at.timeZone);
        const last = addDays(today, HOLIDAY_YEARS * 366);
        const events = readCalendar(
          body,
          at.timeZone,
          instantInZone(today, 0, at.timeZone),
          instantInZone(last, 1439, at.timeZone),
        );
        const days = new Map<Day, string>();
        for (const e of events) {
          if (e.cancelled || !e.out || !e.back) continue;
          for (
            let day = dayInZone(e.out, at.timeZone);
            day <= dayInZone(e.back, at.timeZone) && day <= last;
            day = addDays(day, 1)
          )
            if (day >= today) days.set(day, (e.title || 'no work').slice(0, 80));
        }
        if (days.size === 0) throw new HttpProblem(422, 'The file holds no day from today on. Nothing was read.');
        const rows = await tx
          .insert(closedDay)
          .values([...days].map(([day, name]) => ({ baseId: at.id, day, name })))
          .onConflictDoNothing()
          .returning();
        if (rows.length > 0)
          await audit({
            act: 'imported',
            subject: 'days without work',
            subjectId: at.id,
            title: at.name,
            after: { added: rows.length, first: [...days.keys()].sort()[0] },
          });
        return { added: rows.length, known: days.size - rows.length };
      }),

    addLiftOut: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx
          .insert(liftOut)
          .values({ baseId: params.id, ...body })
          .returning();
        await audit({ act: 'added', subject: 'lift', subjectId: row!.id, title: body.reason, after: row });
        return { id: row!.id };
      }),

    removeLiftOut: ({ params, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.delete(liftOut).where(eq(liftOut.id, params.id)).returning();
        if (!row) throw notFound('entry');
        await audit({ act: 'taken back', subject: 'lift', subjectId: row.id, title: row.reason, before: row });
        return { ok: true as const };
      }),

    editPlanSettings: ({ body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, setting, 1, version, 'page of settings');
        const [row] = await tx
          .update(setting)
          .set({ ...rest, ...nextVersion(setting) })
          .returning();
        await audit({ act: 'changed', subject: 'settings', title: 'planning', before, after: rest });
        return { version: row!.version };
      }),

    async listArrivals({ db, query }) {
      const rows = await db
        .select({ a: partArrival, p: part })
        .from(partArrival)
        .innerJoin(part, eq(part.id, partArrival.partId))
        .where(
          and(
            isNull(partArrival.arrivedAt),
            query.partId === undefined ? undefined : eq(partArrival.partId, query.partId),
          ),
        )
        .orderBy(asc(partArrival.day), asc(part.number))
        .limit(1000);
      return rows.map(({ a, p }) => ({
        id: a.id,
        partId: a.partId,
        number: p.number,
        name: p.name,
        unit: p.unit,
        baseId: a.baseId,
        day: a.day,
        quantity: a.quantity,
        note: a.note,
      }));
    },

    addArrival: ({ body, write }) =>
      write(async (tx, audit) => {
        const [p] = await tx.select().from(part).where(eq(part.id, body.partId));
        if (!p) throw notFound('part');
        refuseHalves(p, body.quantity, 'quantity');
        const [row] = await tx
          .insert(partArrival)
          .values({ ...body, note: body.note || null })
          .returning();
        await audit({ act: 'added', subject: 'order', subjectId: row!.id, title: p.number, after: body });
        return { id: row!.id };
      }),

    closeArrival: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const [row] = await tx.select().from(partArrival).where(eq(partArrival.id, params.id)).for('update');
        if (!row) throw notFound('order');
        if (row.arrivedAt) throw new HttpProblem(409, 'This order is closed already.');
        const [p] = await tx.select().from(part).where(eq(part.id, row.partId));
        refuseHalves(p!, body.received, 'received');
        await tx
          .update(partArrival)
          .set({ arrivedAt: now, ...nextVersion(partArrival) })
          .where(eq(partArrival.id, params.id));
        if (body.received > 0) {
          await lockShelves(tx, row.baseId, [row.partId]);
          await tx
            .insert(stockMovement)
            .values({
              partId: row.partId,
              baseId: row.baseId,
              quantity: body.received,
              reason: 'received',
              personId: who.id,
              note: row.note,
              at: now,
            });
        }
        await audit({
          act: 'changed',
          subject: 'order',
          subjectId: row.id,
          before: row,
          after: { received: body.received },
        });
        return { ok: true as const };
      }),

    giveCalendarKey: ({ write, who }) =>
      write(async (tx, audit) => {
        const key = randomBytes(24).toString('base64url');
        const [row] = await tx
          .update(person)
          .set({ calendarKeyHash: hashOf(key) })
          .where(eq(person.id, who.id))
          .returning();
        if (!row) throw notFound('person');
        await audit({ act: 'changed', subject: 'calendar address', subjectId: row.id, title: row.name });
        return { path: `/api/calendars/${key}.ics` };
      }),

    async personCalendar({ db, params, now }) {
      const [who] = await db
        .select()
        .from(person)
        .where(and(eq(person.calendarKeyHash, hashOf(params.key.replace(/\.ics$/, ''))), eq(person.active, true)));
      if (!who) throw new HttpProblem(404, 'There is no calendar at this address. Make a new address in the book.');
      const from = addDays(now.toISOString().slice(0, 10), -FEED_BACK_DAYS);
      const jobs = await db
        .select({ j: job, boatName: boat.name, berth: boat.berth, baseName: base.name, zone: base.timeZone })
        .from(job)
        .innerJoin(boat, eq(boat.id, job.boatId))
        .innerJoin(base, eq(base.id, boat.baseId))
        .where(and(eq(job.technicianId, who.id), gte(job.day, from)))
        .orderBy(asc(job.day))
        .limit(2000);
      const tasks =
        jobs.length === 0
          ? []
          : await db
              .select({ t: jobTask, position: engine.position })
              .from(jobTask)
              .innerJoin(engine, eq(engine.id, jobTask.engineId))
              .where(
                inArray(
                  jobTask.jobId,
                  jobs.map(({ j }) => j.id),
                ),
              );
      const tasksOf = await visitTasks(
        db,
        now,
        tasks.map(({ t }) => t.engineId),
      );
      const calendar = ical({
        name: `Work of ${who.name}`,
        prodId: { company: 'Diurna', product: 'Day book', language: 'EN' },
      });
      for (const { j, boatName, berth, baseName, zone } of jobs) {
        const own = tasks.filter(({ t }) => t.jobId === j.id);
        const minutes = visitMinutes(tasksOf(own.map(({ t }) => t)), who.pace).elapsed;
        const words = own
          .map(({ t, position }) => `${position === 'single' ? '' : `${position}: `}${TASKS[t.task].word}`)
          .join('\n');
        const common = {
          id: `job-${j.id}@diurna.example`,
          sequence: j.version,
          summary: `${boatName}: ${[...new Set(own.map(({ t }) => TASKS[t.task].word.toLowerCase()))].join(', ')}`,
          description: words,
          location: [baseName, berth && `berth ${berth}`].filter(Boolean).join(', '),
          status: j.status === 'cancelled' ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
          stamp: now,
        };
        // Written as instants: every calendar shows them on its own clock.
        if (j.startMinute !== null)
          calendar.createEvent({
            ...common,
            start: instantInZone(j.day, j.startMinute, zone),
            end: instantInZone(j.day, j.startMinute + Math.max(5, Math.round(minutes)), zone),
          });
        else
          calendar.createEvent({
            ...common,
            start: new Date(`${j.day}T00:00:00Z`),
            end: new Date(`${addDays(j.day, 1)}T00:00:00Z`),
            allDay: true,
          });
      }
      return calendar.toString();
    },
  };
}
