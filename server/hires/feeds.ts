import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { databaseTrouble } from '../db/away.ts';
import { transaction, tables, type Db } from '../db/index.ts';
import { HttpProblem } from '../http/problem.ts';
import { writeAudit } from '../http/api.ts';
import { fetchFeed, UnreadableFeed } from './fetch-feed.ts';
import { bookingsOf, lockHires, writeCalendar } from './write-hires.ts';

const { hireFeed, hire, base } = tables;

const AGAIN_MINUTES = 15;

/** How feeds are read: hosts of this network that may be, and where it is told why one cannot. */
export interface FeedOptions {
  privateFeeds: string[];
  logger: Logger;
}

/** Reads one feed now. What goes wrong is written down as a sentence and leaves the hires as they are. */
export async function readFeed(
  db: Db,
  feedId: number,
  now: Date,
  by: { personId: number | null; requestId: string | null },
  { privateFeeds, logger }: FeedOptions,
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
    const events = await bookingsOf(await fetchFeed(feed.f.url, privateFeeds), feed.timeZone, now);
    outcome = await transaction(db, async (tx) => {
      await lockHires(tx);
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
    failed = true;
    if (error instanceof UnreadableFeed) logger.warn({ feedId, why: error.why }, 'feed cannot be read');
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
 * Reads every feed that was not read for a quarter of an hour. Several app processes may call it: each
 * feed is taken by one of them.
 */
export async function readFeedsDue(db: Db, now: Date, options: FeedOptions): Promise<void> {
  const taken = await db.execute<{ id: number }>(sql`
    update hire_feed set read_at = ${now.toISOString()}::timestamptz where id in (
      select id from hire_feed where active and (read_at is null
        or read_at < ${now.toISOString()}::timestamptz - make_interval(mins => ${AGAIN_MINUTES}))
      for update skip locked)
    returning id`);
  for (const { id } of taken.rows) await readFeed(db, id, now, { personId: null, requestId: null }, options);
}

/** Looks for feeds to read every minute until stopped. */
export function followFeeds(db: Db, clock: () => Date, options: FeedOptions): () => Promise<void> {
  let running: Promise<void> = Promise.resolve();
  const look = () => {
    running = readFeedsDue(db, clock(), options).catch((error: unknown) => {
      options.logger.error({ err: error }, 'feeds not read');
    });
  };
  const timer = setInterval(look, 60_000);
  timer.unref();
  return async () => {
    clearInterval(timer);
    await running;
  };
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
