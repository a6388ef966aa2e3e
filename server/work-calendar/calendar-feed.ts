import { addDays, instantInZone } from '@diurna/core/calendar';
import { TASKS } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import { and, asc, eq, gte, inArray } from 'drizzle-orm';
import { default as ical, ICalEventStatus } from 'ical-generator';
import { createHash, randomBytes } from 'node:crypto';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { visitTasks } from '../visit/index.ts';
import { HttpProblem, notFound } from '../http/problem.ts';

const { base, boat, engine, job, jobTask, person } = tables;
const FEED_BACK_DAYS = 30;
const hashOf = (key: string) => createHash('sha256').update(key).digest('hex');

export const calendarFeedHandlers: Handlers<'giveCalendarKey' | 'personCalendar'> = {
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
