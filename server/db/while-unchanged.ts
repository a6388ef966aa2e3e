import { sql } from 'drizzle-orm';
import { remembered, type Db } from './index.ts';

/** So many answers of a book are kept, the least used go first. */
const MOST_KEPT = 24;

interface Kept {
  snapshot: string;
  answer: Promise<unknown>;
}

/**
 * An answer that takes long to work out, worked out once for all who ask while nothing in the database changes; who
 * asks while it is being worked out waits for the same one. Right across processes: what was committed shows in
 * PostgreSQL's snapshot (pg_current_snapshot(), chapter 9.27 of its manual), and two that read alike see the same rows. It
 * is of the whole cluster: where other databases in it are written all the time, less is shared.
 *
 * @param key names what is asked, with all it depends on besides the book: day, base, role, minute
 */
export async function whileUnchanged<T extends object>(db: Db, key: string, workOut: () => Promise<T>): Promise<T> {
  const kept = remembered(db, 'while unchanged', () => new Map<string, Kept>());
  const { rows } = await db.execute<{ snapshot: string }>(sql`select pg_current_snapshot()::text as snapshot`);
  const { snapshot } = rows[0]!;
  const found = kept.get(key);
  kept.delete(key);
  if (found?.snapshot === snapshot) {
    kept.set(key, found);
    return found.answer as Promise<T>;
  }
  const answer = workOut();
  kept.set(key, { snapshot, answer });
  for (const [oldest] of kept) {
    if (kept.size <= MOST_KEPT) break;
    kept.delete(oldest);
  }
  try {
    return await answer;
  } catch (error) {
    // What failed is tried anew by the next.
    if (kept.get(key)?.answer === answer) kept.delete(key);
    throw error;
  }
}
