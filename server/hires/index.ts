import { MOST_HIRE_DAYS, type Hire } from '@diurna/contract/hires';
import { addDays, clockInZone, dayInZone, instantInZone } from '@diurna/core/calendar';
import { and, asc, count, eq, gt, gte, isNull, lt, ne, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { transaction, tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { tellRoles } from '../findings/index.ts';
import type { Handlers } from '../http/api.ts';
import { BOAT_GONE, faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { runningIn, type FleetCache } from '../service/index.ts';
import { comingByFeed, readFeed, type FeedOptions } from './feeds.ts';
import { bookingsOf, lockHires, overlapping, writeCalendar } from './write-hires.ts';

export { readCalendarApart } from './calendar-apart.ts';
export { readFeed, takeFeedsDue, type FeedOptions } from './feeds.ts';

const { hire, hireFeed, boat, base, person } = tables;
const PAGE = 500;
const LONGEST_DAYS = 400;

type Names =
  | 'letGo'
  | 'listHires'
  | 'addHire'
  | 'editHire'
  | 'cancelHire'
  | 'previewCalendar'
  | 'importCalendar'
  | 'listFeeds'
  | 'addFeed'
  | 'editFeed'
  | 'readFeed';

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

/** Why a boat may not go, one line for each reason; empty = nothing holds it. */
export function heldOf(fleet: FleetCache, boatId: number): string[] {
  return (fleet.boats.get(boatId)?.engines ?? []).flatMap((e) =>
    e.held.map((why) =>
      e.position === 'single' ? why : `${e.position[0]!.toUpperCase()}${e.position.slice(1)}: ${why}`,
    ),
  );
}

export function hiresHandlers(fleet: FleetCache, options: FeedOptions): Handlers<Names> {
  const zoneOfBase = async (db: Db | Tx, baseId: number) => {
    const [found] = await db.select({ timeZone: base.timeZone }).from(base).where(eq(base.id, baseId));
    if (!found) throw notFound('base');
    return found.timeZone;
  };
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
          })
          .from(hire)
          .innerJoin(boat, eq(boat.id, hire.boatId))
          .innerJoin(base, eq(base.id, boat.baseId))
          .leftJoin(hireFeed, eq(hireFeed.id, hire.feedId))
          .leftJoin(person, eq(person.id, hire.letGoBy))
          .where(where)
          .orderBy(asc(hire.outAt), asc(hire.id))
          .limit(PAGE)
          .offset((query.page - 1) * PAGE),
        db.select({ n: count() }).from(hire).innerJoin(boat, eq(boat.id, hire.boatId)).where(where),
      ]);
      const fresh = runningIn(
        fleet,
        rows.map(({ h }) => h.boatId),
      );
      return {
        rows: rows.map(({ h, boatName, baseId, timeZone, feed, letGoBy }): Hire => ({
          letGo: h.letGoAt ? { at: h.letGoAt.toISOString(), by: letGoBy } : null,
          held: h.letGoAt ? [] : heldOf(fleet, h.boatId),
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
        size: PAGE,
      };
    },

    addHire: ({ body, write, now }) =>
      write(async (tx, audit) => {
        const { boatName, timeZone, fields } = await timesOf(tx, body);
        const overlaps = await overlapsText(tx, fields, timeZone, null);
        const [row] = await tx
          .insert(hire)
          .values({ ...fields, madeAt: now })
          .returning();
        await audit({
          act: 'added',
          subject: 'hire',
          subjectId: row!.id,
          title: boatName,
          after: { hire: spanText(fields.outAt, fields.backAt, timeZone), reference: fields.reference },
        });
        return { id: row!.id, version: row!.version, overlaps };
      }),

    letGo: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, hire, params.id, body.version, 'hire');
        if (before.cancelledAt !== null)
          throw new HttpProblem(409, 'This hire was called off. Nothing goes out on it.');
        if (before.letGoAt !== null) throw new HttpProblem(409, 'The boat was let go already.');
        const [boatRow] = await tx.select({ name: boat.name }).from(boat).where(eq(boat.id, before.boatId));
        // Asked of the book itself, not of this process's cache: a hold put on a moment ago counts.
        const held = await rowsOf(
          tx,
          z.object({ why: z.string() }),
          sql`
          select h.why from hold h join engine e on e.id = h.engine_id where e.boat_id = ${before.boatId}
            and not e.retired and h.released_at is null
          union all
          select f.seen || ' To be decided on the card.' from finding f join engine e on e.id = f.engine_id
            join job j on j.id = f.job_id
          where e.boat_id = ${before.boatId} and not e.retired and f.state = 'open' and f.weight in ('hold', 'stop')
            and j.status <> 'cancelled'`,
        );
        if (held.length > 0)
          throw new HttpProblem(
            409,
            `${boatRow!.name} is held and does not go out. ${held.map((h) => h.why).join(' ')} A coordinator lets it go once the checks are done.`,
            held.map((h) => ({ path: 'held', text: h.why })),
          );
        const [row] = await tx
          .update(hire)
          .set({ letGoAt: now, letGoBy: who.id, ...nextVersion(hire) })
          .where(eq(hire.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'hire',
          subjectId: params.id,
          title: boatRow!.name,
          after: { letGo: true },
        });
        const fresh = runningIn(fleet, [before.boatId]).get(before.boatId) ?? [];
        if (fresh.length > 0)
          await tellRoles(
            tx,
            ['coordinator', 'administrator'],
            `${boatRow!.name} is out on hire while it is run in. ${fresh.join(' ')}`,
            null,
            who.id,
            now,
          );
        return { id: row!.id, version: row!.version };
      }),

    editHire: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...edit } = body;
        const before = await lockVersion(tx, hire, params.id, version, 'hire');
        refuseFeed(before.feedId);
        const { boatName, timeZone, fields } = await timesOf(tx, edit);
        const overlaps = await overlapsText(tx, fields, timeZone, params.id);
        const [row] = await tx
          .update(hire)
          .set({ ...fields, ...nextVersion(hire) })
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

    async previewCalendar({ db, query, body, now }) {
      const timeZone = await zoneOfBase(db, query.baseId);
      const events = await bookingsOf(body, timeZone, now);
      return transaction(db, (tx) => writeCalendar(tx, events, { feedId: null, timeZone }, now, false), true);
    },

    async importCalendar({ db, query, body, write, now }) {
      const timeZone = await zoneOfBase(db, query.baseId);
      const events = await bookingsOf(body, timeZone, now);
      return write(async (tx, audit) => {
        await lockHires(tx);
        const result = await writeCalendar(tx, events, { feedId: null, timeZone }, now, true);
        const { add, change, cancel } = result.counts;
        if (add + change + cancel > 0)
          await audit({ act: 'imported', subject: 'hires', title: 'calendar file', after: result.counts });
        return result;
      });
    },

    // The address of a calendar is often all it takes to read it: only who keeps the feeds sees it.
    async listFeeds({ db, now, who }) {
      const [rows, coming] = await Promise.all([
        db.select().from(hireFeed).orderBy(asc(hireFeed.name)),
        comingByFeed(db, now),
      ]);
      return rows.map((f) => ({
        ...f,
        url: who.role === 'administrator' ? f.url : null,
        readAt: f.readAt?.toISOString() ?? null,
        hires: coming.get(f.id) ?? 0,
      }));
    },

    addFeed: ({ body, write }) =>
      write(async (tx, audit) => {
        await refuseTwin(tx, body.url, null);
        const [row] = await tx.insert(hireFeed).values(body).returning();
        await audit({
          act: 'added',
          subject: 'feed',
          subjectId: row!.id,
          title: row!.name,
          after: withoutAddress(body),
        });
        return { id: row!.id, version: row!.version };
      }),

    editFeed: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, hireFeed, params.id, version, 'feed');
        await refuseTwin(tx, rest.url, params.id);
        const [row] = await tx
          .update(hireFeed)
          .set({ ...rest, ...nextVersion(hireFeed) })
          .where(eq(hireFeed.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'feed',
          subjectId: row!.id,
          title: row!.name,
          before: { name: before.name, baseId: before.baseId, active: before.active },
          after: { ...withoutAddress(rest), addressChanged: rest.url !== before.url },
        });
        return { id: row!.id, version: row!.version };
      }),

    async readFeed({ db, params, who, requestId, now }) {
      return { ok: true as const, ...(await readFeed(db, params.id, now, { personId: who.id, requestId }, options)) };
    },
  };
}

/** The same calendar followed twice would double its hires. @throws 409 with the name of the other */
async function refuseTwin(tx: Tx, url: string, except: number | null): Promise<void> {
  await lockHires(tx);
  const [twin] = await tx
    .select({ name: hireFeed.name })
    .from(hireFeed)
    .where(and(eq(hireFeed.url, url), except === null ? undefined : ne(hireFeed.id, except)));
  if (twin)
    throw new HttpProblem(409, `The book follows this address already, as "${twin.name}". Change that one instead.`);
}

/** What the audit keeps of a feed. */
const withoutAddress = ({ url: _, ...rest }: { url: string; [key: string]: unknown }) => rest;

function refuseFeed(feedId: number | null): void {
  if (feedId !== null)
    throw new HttpProblem(
      409,
      'This hire is kept by a calendar feed and would be changed back at its next reading. Change it where the bookings are kept.',
    );
}
