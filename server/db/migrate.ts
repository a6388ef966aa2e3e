import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { makeDb, makePool, poolOf, type Db } from './index.ts';

/** An index on ten years of readings takes minutes, and so does waiting for a process that makes it. */
const PATIENT = { statementMs: 6 * 3_600_000, lockMs: 3_600_000, max: 2 };

/** The database was written by a newer Diurna than this one. */
export class NewerDatabase extends Error {}

/**
 * Brings the database to this version's schema. A database from a newer version is left untouched.
 * @param folder the migrations (passed in, because bundling moves this module).
 * @throws NewerDatabase
 */
export async function migrateDatabase(db: Db, folder: string): Promise<void> {
  const journal = JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  const newest = Math.max(...journal.entries.map((e) => e.when));
  const known = await db.execute<{ exists: boolean }>(
    sql`select to_regclass('drizzle.__drizzle_migrations') is not null as exists`,
  );
  if (known.rows[0]?.exists) {
    const applied = await db.execute<{ newest: string | null }>(
      sql`select max(created_at) as newest from drizzle.__drizzle_migrations`,
    );
    if (Number(applied.rows[0]?.newest ?? 0) > newest) {
      throw new NewerDatabase(
        'This book was written by a newer Diurna. Start that version, or restore a backup made before the update; nothing was changed.',
      );
    }
  }
  // Nobody waits for an answer here: the bounds of what people wait for do not hold.
  const pool = makePool(poolOf(db).options.connectionString!, PATIENT);
  pool.on('error', () => undefined);
  try {
    const patient = makeDb(pool);
    // One process at a time, when several start together. The lock belongs to a connection, so it is taken
    // and given back on the same one; the pool would hand out another.
    const keeper = await pool.connect();
    try {
      await keeper.query('select pg_advisory_lock(4150)');
      await migrate(patient, { migrationsFolder: folder });
      // After a restore into another cluster the marks of the old one mean nothing.
      await patient.execute(sql`delete from engine_touch_cache where xid > pg_current_xact_id()`);
    } finally {
      await keeper.query('select pg_advisory_unlock(4150)').catch(() => undefined);
      keeper.release();
    }
  } finally {
    await pool.end();
  }
}
