import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { prepared, remembered, type Db } from './index.ts';

/** So many answers of a book are kept, the least used go first. */
const MOST_KEPT = 60;
/** Marks older than so many are thrown away; answers are asked for by the minute, and live no longer. */
const MARKS_KEPT = 100_000;

interface Kept {
  /** What the answer saw, or will have seen. */
  snapshot: string;
  answer: Promise<unknown>;
  done: boolean;
  /** The answer after this one, for all who ask while this one is worked out and is old already. */
  next: Promise<unknown> | null;
}

/** What is seen now, and whether anything of the book was changed that `since` did not see. */
async function look(db: Db, since: string | null): Promise<{ snapshot: string; changed: boolean }> {
  const rows = await prepared(
    db,
    z.object({ snapshot: z.string(), changed: z.boolean() }),
    'while unchanged',
    `select pg_current_snapshot()::text as snapshot, case when $1::text is null then true else exists (
       select from book_touch_cache where xid >= pg_snapshot_xmin($1::pg_snapshot)
         and not pg_visible_in_snapshot(xid, $1::pg_snapshot)) end as changed`,
    [since],
  );
  return rows[0]!;
}

/**
 * An answer that takes long to work out, worked out once for all who ask while nothing of the book changes; who asks
 * while it is being worked out waits for the same one, or, where it is old already, for the one after it. Right across
 * processes: a trigger on every table of the book marks the transactions that change it (`book_touch_cache`), and an
 * answer holds while no marked transaction is visible that its own snapshot did not see (PostgreSQL's manual, 9.27,
 * pg_visible_in_snapshot). Sessions, limits and what boxes send without a reading change nothing of it.
 *
 * @param key names what is asked, with all it depends on besides the book: day, base, role, minute
 */
export async function whileUnchanged<T extends object>(db: Db, key: string, workOut: () => Promise<T>): Promise<T> {
  const kept = remembered(db, 'while unchanged', () => new Map<string, Kept>());
  const known = kept.get(key);
  const { snapshot, changed } = await look(db, known?.snapshot ?? null);
  // Meanwhile another may have begun the next one.
  const found = kept.get(key);
  if (found && found !== known) return whileUnchanged(db, key, workOut);
  if (found && !changed) {
    kept.delete(key);
    kept.set(key, found);
    return found.answer as Promise<T>;
  }
  if (found && !found.done) {
    found.next ??= found.answer.then(
      () => whileUnchanged(db, key, workOut),
      () => whileUnchanged(db, key, workOut),
    );
    return found.next as Promise<T>;
  }
  return begin(kept, key, snapshot, workOut);
}

/** Works an answer out and keeps it; what failed is tried anew by the next. */
async function begin<T extends object>(
  kept: Map<string, Kept>,
  key: string,
  snapshot: string,
  workOut: () => Promise<T>,
): Promise<T> {
  const answer = workOut();
  const mine: Kept = { snapshot, answer, done: false, next: null };
  kept.delete(key);
  kept.set(key, mine);
  for (const [oldest] of kept) {
    if (kept.size <= MOST_KEPT) break;
    kept.delete(oldest);
  }
  try {
    return await answer;
  } catch (error) {
    if (kept.get(key) === mine) kept.delete(key);
    throw error;
  } finally {
    mine.done = true;
  }
}

/** Throws marks away that nobody asks for any more. @returns how many */
export async function forgetTouches(db: Db): Promise<number> {
  const { rowCount } = await db.execute(
    sql`delete from book_touch_cache where id <= (select coalesce(max(id), 0) - ${MARKS_KEPT} from book_touch_cache)`,
  );
  return rowCount ?? 0;
}
