import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { z } from 'zod';
import { databaseTrouble } from '../db/away.ts';
import { transaction, tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { HttpProblem } from '../http/problem.ts';
import { writeAudit } from '../http/api.ts';
import { Unreachable } from '../http/fetch-outside.ts';
import { fetchFeed } from './fetch-feed.ts';
import { bookingsOf, lockHires, writeCalendar } from './write-hires.ts';

const { hireFeed, hire, base } = tables;

const AGAIN_MINUTES = 15;

/** How feeds are read: hosts of this network that may be, and where it is told why one cannot. */
export interface FeedOptions {
  privateFeeds: string[];
  logger: Logger;
  /** Ends the reading; nothing of it is written then. */
  signal?: AbortSignal;
}

/** Reads one feed now. What goes wrong is written down as a sentence and leaves the hires as they are. */
export async function readFeed(
  db: Db,
  feedId: number,
  now: Date,
  by: { personId: number | null; requestId: string | null },
  { privateFeeds, logger, signal }: FeedOptions,
): Promise<{ outcome: string; failed: boolean }> {
  const [feed] = await db
    .select({ f: hireFeed, timeZone: base.timeZone })
    .from(hireFeed)
    .innerJoin(base, eq(base.id, hireFeed.baseId))
    .where(eq(hireFeed.id, feedId));
  if (!feed) throw new HttpProblem(404, 'This feed is not in the book any more.');
  let outcome: string;
  let failed = false;
  try {
    const events = await bookingsOf(await fetchFeed(feed.f.url, privateFeeds, signal), feed.timeZone, now);
    outcome = await transaction(db, async (tx) => {
      await lockHires(tx);
      signal?.throwIfAborted();
      const { counts } = await writeCalendar(tx, events, { feedId, timeZone: feed.timeZone }, now, true);
      const done = [
        [counts.add, 'new'],
        [counts.change, 'changed'],
        [counts.cancel, 'called off'],
        [counts.same, 'as before'],
      ]
        .filter(([n]) => n !== 0)
        .map(([n, word]) => `${n} ${word}`);
      if (counts.add + counts.change + counts.cancel > 0)
        await writeAudit(tx, now, by.personId, by.requestId, {
          act: 'imported',
          subject: 'hires',
          title: feed.f.name,
          after: counts,
        });
      return `${done.length === 0 ? 'Empty' : `Read: ${done.join(', ')}`}${
        counts.faulty > 0 ? `; ${counts.faulty} left out, because they name no boat or no time` : ''
      }.`;
    });
  } catch (error) {
    signal?.throwIfAborted();
    failed = true;
    if (error instanceof Unreachable) logger.warn({ feedId, why: error.why }, 'feed cannot be read');
    outcome = databaseTrouble(error)
      ? 'The book was busy; the calendar is read again in a quarter of an hour.'
      : error instanceof HttpProblem
        ? error.message
        : error instanceof Error && !('code' in error)
          ? error.message
          : 'The calendar could not be read.';
  }
  await db.update(hireFeed).set({ readAt: now, outcome, failed }).where(eq(hireFeed.id, feedId));
  return { outcome, failed };
}

/**
 * Takes every feed that was not read for a quarter of an hour, to be read by whoever calls. Several app processes may:
 * each feed is taken by one of them, in a transaction together with what makes sure that it is read.
 */
export async function takeFeedsDue(db: Db | Tx, now: Date): Promise<{ id: number; name: string }[]> {
  const taken = await rowsOf(
    db,
    z.object({ id: z.number(), name: z.string() }),
    sql`
    update hire_feed set read_at = ${now.toISOString()}::timestamptz where id in (
      select id from hire_feed where active and (read_at is null
        or read_at < ${now.toISOString()}::timestamptz - make_interval(mins => ${AGAIN_MINUTES}))
      for update skip locked)
    returning id, name`,
  );
  return taken;
}

/** Hires of each feed that are not over. */
export async function comingByFeed(db: Db, now: Date): Promise<Map<number, number>> {
  const rows = await db
    .select({ feedId: hire.feedId, n: sql<number>`count(*)::int` })
    .from(hire)
    .where(and(isNull(hire.cancelledAt), gt(hire.backAt, now), sql`${hire.feedId} is not null`))
    .groupBy(hire.feedId);
  return new Map(rows.map((r) => [r.feedId!, r.n]));
}
