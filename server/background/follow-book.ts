import type { Clock } from '@diurna/core/calendar';
import type { Logger } from 'pino';
import { transaction, type Db } from '../db/index.ts';
import { takeFeedsDue } from '../hires/index.ts';
import { mailIsDue, morningsDue } from '../messages/index.ts';
import type { Queue, Work } from './queue.ts';

const LOOK_MS = 20_000;
const HOUR_S = 3_600;
/** That mail waits for its try. */
export const MAIL_IS_DUE: Work = { kind: 'mail', title: null, subjectId: null, personId: null, requestId: null };
/** Of several processes that look, one puts it into the queue. */
const AGAIN_S = 15;

/**
 * Looks every twenty seconds what the book has to do by itself, and puts it into the queue, until stopped. Any number
 * of
 * processes may: each piece is sent once. What is due goes by the book's clock.
 *
 * @param mail whether the book sends any
 */
export function followBook(
  db: Db,
  queue: Queue,
  clock: Clock,
  logger: Logger,
  { mail }: { mail: boolean },
): { look: () => Promise<void>; stop: () => Promise<void> } {
  let looking: Promise<void> = Promise.resolve();
  const look = async () => {
    if (!queue.open) return;
    // Taken and put into the queue, or neither: one that was only taken would be read a quarter of an hour late.
    await transaction(db, async (tx) => {
      for (const { id, name } of await takeFeedsDue(tx, clock()))
        await queue.send({ kind: 'feed', title: name, subjectId: id, personId: null, requestId: null }, { tx });
    });
    if (mail) {
      for (const { baseId, day } of await morningsDue(db, clock()))
        await queue.send(
          { kind: 'morning', title: day, subjectId: baseId, personId: null, requestId: null },
          { once: { key: `morning ${baseId ?? 'all'} ${day}`, seconds: AGAIN_S } },
        );
      if (await mailIsDue(db, clock())) await queue.send(MAIL_IS_DUE, { once: { key: 'mail', seconds: AGAIN_S } });
    }
    await queue.send(
      { kind: 'tidy', title: null, subjectId: null, personId: null, requestId: null },
      { once: { key: 'tidy', seconds: HOUR_S } },
    );
  };
  const begin = () => {
    looking = look().catch((error: unknown) => {
      logger.warn({ err: error }, 'the book could not be looked through for what is due');
    });
  };
  const timer = setInterval(begin, LOOK_MS);
  timer.unref();
  return {
    look,
    stop: async () => {
      clearInterval(timer);
      await looking;
    },
  };
}
