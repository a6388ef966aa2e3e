import type { Tx } from '../db/index.ts';
import { eq, sql } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import { notFound, stale } from './problem.ts';

type Versioned = PgTable & { id: PgColumn; version: PgColumn };

/**
 * Locks a row for an edit and checks that nobody changed it since the person loaded it.
 * @returns the row as it is before the edit.
 * @throws 404 when it is gone, 409 when the version is older.
 */
export async function lockVersion<T extends Versioned>(
  tx: Tx,
  table: T,
  id: number,
  version: number,
  what: string,
): Promise<T['$inferSelect'] & { version: number }> {
  // Drizzle cannot see through the generic table here.
  const plain: PgTable = table;
  const [row] = await tx.select().from(plain).where(eq(table.id, id)).for('update');
  if (!row) throw notFound(what);
  const found = row as T['$inferSelect'] & { version: number };
  if (found.version !== version) throw stale(what);
  return found;
}

/** For `.set({ ...nextVersion(table) })`. */
export const nextVersion = (table: Versioned) => ({ version: sql<number>`${table.version} + 1` });
