import { MOST_HIRE_DAYS, type Hire } from '@diurna/contract/hires';
import { addDays, clockInZone, dayInZone, instantInZone } from '@diurna/core/calendar';
import { and, asc, count, eq, gt, gte, isNull, lt, or, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { tables, type Tx, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { BOAT_GONE, faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { workUnderWay } from '../jobs/index.ts';
import { runningIn, type FleetCache } from '../service/index.ts';
import { openSnags } from '../snags/index.ts';
import { calendarHandlers, feedHandlers } from './calendars.ts';
import type { FeedOptions } from './feeds.ts';
import { giveHire } from './give-hire.ts';
import { heldOf, letGoHandlers } from './let-go.ts';
import { overlapping } from './write-hires.ts';

export { readCalendarApart } from './calendar-apart.ts';
export { readFeed, takeFeedsDue, type FeedOptions } from './feeds.ts';
export { heldOf } from './let-go.ts';

const { hire, hireFeed, boat, base, person } = tables;
const bookedFor = alias(boat, 'booked_for');
const seer = alias(person, 'seer');
const LONGEST_DAYS = 400;
const DAY_MS = 86_400_000;

interface Edit {
  boatId: number;
  outDay: string;
  outTime: string;
  backDay: string;
  backTime: string;
  reference: string | null;
}

const minutes = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

/** The times of the form as instants, by the clock of the boat's base. */
async function timesOf(
  tx: Tx,
  edit: Edit,
): Promise<{
  boatName: string;
  timeZone: string;
  fields: { boatId: number; outAt: Date; backAt: Date; reference: string | null };
}> {
  const [found] = await tx
    .select({ name: boat.name, retired: boat.retired, timeZone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, edit.boatId));
  if (!found || found.retired) throw faulty('boatId', BOAT_GONE);
  const outAt = instantInZone(edit.outDay, minutes(edit.outTime), found.timeZone);
  const backAt = instantInZone(edit.backDay, minutes(edit.backTime), found.timeZone);
  if (backAt <= outAt) throw faulty('backTime', 'The boat is back before it is out. Check both days and times.');
  if (backAt.getTime() - outAt.getTime() > LONGEST_DAYS * 86_400_000)
    throw faulty('backDay', `A hire of more than ${LONGEST_DAYS} days is a slip; check the year.`);
  return {
    boatName: found.name,
    timeZone: found.timeZone,
    fields: { boatId: edit.boatId, outAt, backAt, reference: edit.reference === '' ? null : edit.reference },
  };
}

const spanText = (outAt: Date, backAt: Date, zone: string) =>
  `${dayInZone(outAt, zone)} ${clockInZone(outAt, zone)} to ${dayInZone(backAt, zone)} ${clockInZone(backAt, zone)}`;

async function overlapsText(
  tx: Tx,
  fields: { boatId: number; outAt: Date; backAt: Date },
  zone: string,
  except: number | null,
): Promise<string[]> {
  const found = await overlapping(tx, fields.boatId, fields.outAt, fields.backAt, except);
  return found.map((o) => `${spanText(o.outAt, o.backAt, zone)}${o.reference ? ` (${o.reference})` : ''}`);
}

/** The hires of the book: what was booked, by whom it is kept, and what happens to it at the dock. */
export const hiresHandlers = (fleet: FleetCache, options: FeedOptions) => ({
  ...ownHandlers(fleet),
  ...letGoHandlers(fleet),
  ...calendarHandlers(),
  ...feedHandlers(options),
});

function ownHandlers(fleet: FleetCache): Handlers<'listHires' | 'addHire' | 'giveHire' | 'editHire' | 'cancelHire'> {
  return {
    async listHires({ db, query, now }) {
      await fleet.refresh(now);
      const zones = await db.select({ timeZone: base.timeZone }).from(base);
      // Days begin at different instants at different bases: from the first of them to the last.
      const starts = zones.map((z) => instantInZone(query.from, 0, z.timeZone).getTime());
      const ends = zones.map((z) =>
        instantInZone(addDays(query.from, Math.min(query.days, MOST_HIRE_DAYS)), 0, z.timeZone).getTime(),
      );
      const where: SQL | undefined = and(
        gt(hire.backAt, new Date(Math.min(...starts))),
        lt(hire.outAt, new Date(Math.max(...ends))),
        // The longest hire bounds how far back one that still runs may have begun.
        gte(hire.outAt, new Date(Math.min(...starts) - LONGEST_DAYS * 86_400_000)),
        query.baseId === undefined ? undefined : eq(boat.baseId, query.baseId),
        query.boatId === undefined ? undefined : eq(hire.boatId, query.boatId),
        query.q ? or(holdsText(boat.name, query.q), holdsText(hire.reference, query.q)) : undefined,
        query.cancelled === 'yes' ? undefined : isNull(hire.cancelledAt),
      );
      const [rows, [total]] = await Promise.all([
        db
          .select({
            h: hire,
            boatName: boat.name,
            baseId: boat.baseId,
            timeZone: base.timeZone,
            feed: hireFeed.name,
            letGoBy: person.name,
            cameBackBy: seer.name,
            givenFrom: { boatId: bookedFor.id, boatName: bookedFor.name },
          })
          .from(hire)
          .innerJoin(boat, eq(boat.id, hire.boatId))
          .innerJoin(base, eq(base.id, boat.baseId))
          .leftJoin(hireFeed, eq(hireFeed.id, hire.feedId))
          .leftJoin(person, eq(person.id, hire.letGoBy))
          .leftJoin(seer, eq(seer.id, hire.cameBackBy))
          .leftJoin(bookedFor, eq(bookedFor.id, hire.givenFrom))
          .where(where)
          .orderBy(asc(hire.outAt), asc(hire.id))
          .limit(query.size)
          .offset((query.page - 1) * query.size),
        db.select({ n: count() }).from(hire).innerJoin(boat, eq(boat.id, hire.boatId)).where(where),
      ]);
      const fresh = runningIn(
        fleet,
        rows.map(({ h }) => h.boatId),
      );
      // What whoever stands at the dock has to know, of the boats that go out next; farther ahead it says nothing.
      const goes = (h: typeof hire.$inferSelect) =>
        h.letGoAt === null && h.cancelledAt === null && h.outAt.getTime() < now.getTime() + DAY_MS;
      const going = [...new Set(rows.filter(({ h }) => goes(h)).map(({ h }) => h.boatId))];
      const [underWay, snags] = await Promise.all([workUnderWay(db, going, now), openSnags(db, going)]);
      const workOn = (h: typeof hire.$inferSelect) => (goes(h) ? (underWay.get(h.boatId) ?? []) : []);
      return {
        rows: rows.map(({ h, boatName, baseId, timeZone, feed, letGoBy, cameBackBy, givenFrom }): Hire => ({
          givenFrom,
          letGo: h.letGoAt ? { at: h.letGoAt.toISOString(), by: letGoBy } : null,
          cameBack: h.cameBackAt ? { at: h.cameBackAt.toISOString(), by: cameBackBy } : null,
          underWay: workOn(h)
            .filter((u) => !u.open)
            .map((u) => u.text),
          snags: goes(h) ? (snags.get(h.boatId) ?? []) : [],
          held: h.letGoAt
            ? []
            : [
                ...heldOf(fleet, h.boatId),
                ...workOn(h)
                  .filter((u) => u.open)
                  .map((u) => u.text),
              ],
          notReady: goes(h) ? (fleet.boats.get(h.boatId)?.notReady ?? null) : null,
          runIn: fresh.get(h.boatId) ?? [],
          id: h.id,
          boatId: h.boatId,
          boatName,
          baseId,
          out: h.outAt.toISOString(),
          back: h.backAt.toISOString(),
          outDay: dayInZone(h.outAt, timeZone),
          outTime: clockInZone(h.outAt, timeZone),
          backDay: dayInZone(h.backAt, timeZone),
          backTime: clockInZone(h.backAt, timeZone),
          madeAt: h.madeAt?.toISOString() ?? null,
          reference: h.reference,
          source: feed ?? (h.uid === null ? null : 'calendar file'),
          fromFeed: h.feedId !== null,
          cancelled: h.cancelledAt !== null,
          version: h.version,
        })),
        total: total!.n,
        page: query.page,
        size: query.size,
      };
    },

    addHire: ({ body: { repeat, ...edit }, write, now }) =>
      write(async (tx, audit) => {
        const times = Array.from({ length: repeat?.times ?? 1 }, (_, k) => k * (repeat?.everyDays ?? 0));
        const overlaps: string[] = [];
        let first: { id: number; version: number } | null = null;
        for (const days of times) {
          // By calendar days at the base: nine in the morning stays nine when clocks change.
          const { boatName, timeZone, fields } = await timesOf(tx, {
            ...edit,
            outDay: addDays(edit.outDay, days),
            backDay: addDays(edit.backDay, days),
          });
          overlaps.push(...(await overlapsText(tx, fields, timeZone, null)));
          const [row] = await tx
            .insert(hire)
            .values({ ...fields, madeAt: now })
            .returning();
          first ??= row!;
          await audit({
            act: 'added',
            subject: 'hire',
            subjectId: row!.id,
            title: boatName,
            after: { hire: spanText(fields.outAt, fields.backAt, timeZone), reference: fields.reference },
          });
        }
        return { id: first!.id, version: first!.version, overlaps: overlaps.slice(0, 5), hires: times.length };
      }),

    giveHire: ({ params, body, write, who, now }) =>
      write((tx, audit) => giveHire(tx, audit, { id: params.id, ...body }, who, now)),

    editHire: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...edit } = body;
        const before = await lockVersion(tx, hire, params.id, version, 'hire');
        refuseFeed(before.feedId);
        const { boatName, timeZone, fields } = await timesOf(tx, edit);
        const overlaps = await overlapsText(tx, fields, timeZone, params.id);
        const [row] = await tx
          .update(hire)
          .set({ ...fields, ...(fields.boatId !== before.boatId && { givenFrom: null }), ...nextVersion(hire) })
          .where(eq(hire.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'hire',
          subjectId: row!.id,
          title: boatName,
          before: {
            boatId: before.boatId,
            hire: spanText(before.outAt, before.backAt, timeZone),
            reference: before.reference,
          },
          after: {
            boatId: fields.boatId,
            hire: spanText(fields.outAt, fields.backAt, timeZone),
            reference: fields.reference,
          },
        });
        return { id: row!.id, version: row!.version, overlaps };
      }),

    cancelHire: ({ params, body, write, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, hire, params.id, body.version, 'hire');
        refuseFeed(before.feedId);
        const [place] = await tx
          .select({ name: boat.name, timeZone: base.timeZone })
          .from(boat)
          .innerJoin(base, eq(base.id, boat.baseId))
          .where(eq(boat.id, before.boatId));
        const [row] = await tx
          .update(hire)
          .set({ cancelledAt: body.cancelled ? now : null, ...nextVersion(hire) })
          .where(eq(hire.id, params.id))
          .returning();
        await audit({
          act: body.cancelled ? 'cancelled' : 'taken back',
          subject: 'hire',
          subjectId: row!.id,
          title: place!.name,
          before: { hire: spanText(before.outAt, before.backAt, place!.timeZone) },
        });
        return { id: row!.id, version: row!.version };
      }),
  };
}

function refuseFeed(feedId: number | null): void {
  if (feedId !== null)
    throw new HttpProblem(
      409,
      'This hire is kept by a calendar feed and would be changed back at its next reading. Change it where the bookings are kept.',
    );
}
