import { and, eq, lt, sql } from 'drizzle-orm';
import type { Request } from 'express';
import { createHash } from 'node:crypto';
import { tables, type Db, type Tx } from '../db/index.ts';
import { HttpProblem } from './problem.ts';

const { requestDone } = tables;

const KEY = /^[\w-]{8,64}$/;
/** So long an answer may be asked for again (ms). */
const KEPT_MS = 86_400_000;
/** Longer answers are not kept: what was done is said, and the page looks anew. */
const MOST_REPLY = 200_000;

/** A write that shows a key of its own, so that it can be sent again when its answer was lost. */
export interface Keyed {
  personId: number;
  key: string;
  requestHash: string;
}

/** @throws 400 when the key is none */
export function keyedOf(req: Request, key: string | undefined, personId: number): Keyed | null {
  if (key === undefined) return null;
  if (!KEY.test(key))
    throw new HttpProblem(400, 'The idempotency-key takes 8 to 64 letters, figures, dashes or underscores.');
  const body = Buffer.isBuffer(req.body) ? req.body : JSON.stringify([req.body]);
  const requestHash = createHash('sha256')
    .update(`${req.method} ${req.originalUrl}\n`)
    .update(body)
    .digest('base64url');
  return { personId, key, requestHash };
}

const already = () =>
  new HttpProblem(
    409,
    'This was done already, and its answer is gone. Load the page again to see it as it stands.',
    undefined,
    'already',
  );

/**
 * The answer given before; null = it was not done yet. @throws 409 when it was done without an answer, 422 for another
 * request
 */
export async function answeredBefore(db: Db, { personId, key, requestHash }: Keyed): Promise<string | null> {
  const [row] = await db
    .select()
    .from(requestDone)
    .where(and(eq(requestDone.personId, personId), eq(requestDone.key, key)));
  if (!row) return null;
  if (row.requestHash !== requestHash)
    throw new HttpProblem(422, 'This idempotency-key was used for another request. Make a new one for each.');
  if (row.reply === null) throw already();
  return row.reply;
}

/** Notes in the transaction of the write that it is done; of two at the same time the second waits and is told. */
export async function noteDone(tx: Tx, keyed: Keyed, now: Date): Promise<void> {
  const noted = await tx
    .insert(requestDone)
    .values({ ...keyed, at: now })
    .onConflictDoNothing()
    .returning();
  if (noted.length === 0) throw already();
}

/** Keeps the answer for whoever asks again. */
export async function keepReply(db: Db, { personId, key }: Keyed, reply: string): Promise<void> {
  if (reply.length > MOST_REPLY) return;
  await db
    .update(requestDone)
    .set({ reply })
    .where(and(eq(requestDone.personId, personId), eq(requestDone.key, key)));
}

/** Forgets keys nobody asks for any more. @returns how many */
export async function forgetKeys(db: Db, now: Date): Promise<number> {
  const { rowCount } = await db
    .delete(requestDone)
    .where(lt(requestDone.at, sql`${new Date(now.getTime() - KEPT_MS).toISOString()}::timestamptz`));
  return rowCount ?? 0;
}
