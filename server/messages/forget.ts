import { lt } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';

const { mail } = tables;
/** So long it can be read what went to whom. */
const KEPT_MS = 90 * 86_400_000;

/** Forgets mail of long ago, also what waited in a book that sends none any more. @returns how many */
export async function forgetMail(db: Db, now: Date): Promise<number> {
  const { rowCount } = await db.delete(mail).where(lt(mail.at, new Date(now.getTime() - KEPT_MS)));
  return rowCount ?? 0;
}
