import { asc, and, eq, ne } from 'drizzle-orm';
import { transaction, tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { comingByFeed, readFeed, type FeedOptions } from './feeds.ts';
import { bookingsOf, lockHires, writeCalendar } from './write-hires.ts';

const { hireFeed, base } = tables;

/** Calendars of the booking desk, read once from a file. */
export function calendarHandlers(): Handlers<'previewCalendar' | 'importCalendar'> {
  const zoneOfBase = async (db: Db | Tx, baseId: number) => {
    const [found] = await db.select({ timeZone: base.timeZone }).from(base).where(eq(base.id, baseId));
    if (!found) throw notFound('base');
    return found.timeZone;
  };
  return {
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
  };
}

/** Calendars of the booking desk, followed by their address. */
export function feedHandlers(options: FeedOptions): Handlers<'listFeeds' | 'addFeed' | 'editFeed' | 'readFeed'> {
  return {
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
