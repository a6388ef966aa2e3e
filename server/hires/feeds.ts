import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { databaseTrouble } from '../db/away.ts';
import { transaction, tables, type Db } from '../db/index.ts';
import { HttpProblem } from '../http/problem.ts';
import { writeAudit } from '../http/api.ts';
import { bookingsOf, lockHires, writeCalendar } from './write-hires.ts';

const { hireFeed, hire, base } = tables;

const TIMEOUT_MS = 20_000;
const MOST_BYTES = 8_000_000;
const AGAIN_MINUTES = 15;

/** @throws Error with a sentence for the person who follows the calendar. */
async function fetchCalendar(url: string): Promise<string> {
  let reply: Response;
  try {
    reply = await fetch(url, {
      signal: AbortSignal.timeout(TIMEOUT_MS),
      headers: { accept: 'text/calendar' },
      redirect: 'follow',
    });
  } catch (error) {
    const cause = (error as { cause?: { code?: string } }).cause?.code;
    throw new Error(
      error instanceof Error && error.name === 'TimeoutError'
        ? 'The address did not answer in 20 seconds.'
        : `The address does not answer${cause ? ` (${cause})` : ''}.`,
      { cause: error },
    );
  }
  if (!reply.ok)
    throw new Error(
      `The address answers ${reply.status}${reply.status === 401 || reply.status === 403 ? ': it wants a key the book does not have' : reply.status === 404 ? ': there is nothing there' : ''}.`,
    );
  if (!reply.body) throw new Error('The address answers with nothing.');
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of reply.body as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > MOST_BYTES)
      throw new Error('The calendar is larger than 8 MB; ask for one that holds the coming year only.');
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString('utf8');
}

/** Reads one feed now. What goes wrong is written down as a sentence and leaves the hires as they are. */
export async function readFeed(
  db: Db,
  feedId: number,
  now: Date,
  by: { personId: number | null; requestId: string | null },
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
    const events = await bookingsOf(await fetchCalendar(feed.f.url), feed.timeZone, now);
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
export async function readFeedsDue(db: Db, now: Date): Promise<void> {
  const taken = await db.execute<{ id: number }>(sql`
    update hire_feed set read_at = ${now.toISOString()}::timestamptz where id in (
      select id from hire_feed where active and (read_at is null
        or read_at < ${now.toISOString()}::timestamptz - make_interval(mins => ${AGAIN_MINUTES}))
      for update skip locked)
    returning id`);
  for (const { id } of taken.rows) await readFeed(db, id, now, { personId: null, requestId: null });
}

/** Looks for feeds to read every minute until stopped. */
export function followFeeds(db: Db, clock: () => Date, logger: Logger): () => Promise<void> {
  let running: Promise<void> = Promise.resolve();
  const look = () => {
    running = readFeedsDue(db, clock()).catch((error: unknown) => {
      logger.error({ err: error }, 'feeds not read');
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
