import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { z } from 'zod';
import { makeDb, makePool, poolOf, type Db, rowsOf } from './index.ts';

/** An index on ten years of readings takes minutes, and so does waiting for a process that makes it. */
const PATIENT = { statementMs: 6 * 3_600_000, lockMs: 3_600_000, max: 2 };

/** The database was written by a newer Diurna than this one. */
export class NewerDatabase extends Error {}

/**
 * The oldest version (by its newest migration) that can work with the tables as they stand: told by the version that
 * brought them up to date.
 */
async function readableFrom(db: Db): Promise<number> {
  const known = await rowsOf(
    db,
    z.object({ exists: z.boolean() }),
    sql`select to_regclass('drizzle.reach') is not null as exists`,
  );
  if (!known[0]?.exists) return Infinity;
  const rows = await rowsOf(db, z.object({ only: z.string() }), sql`select only_from as only from drizzle.reach`);
  return Number(rows[0]?.only ?? Infinity);
}

/**
 * Brings the database to this version's schema. A database from a newer version is left untouched; this version works
 * with it when all that was added since only expands (its file begins with "-- expands"), so that an upgrade can go
 * process by process: expand, let all processes be new, and contract with the version after.
 * @param folder the migrations (passed in, because bundling moves this module).
 * @throws NewerDatabase
 */
export async function migrateDatabase(db: Db, folder: string): Promise<void> {
  const journal = JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number; tag: string }[];
  };
  const newest = Math.max(...journal.entries.map((e) => e.when));
  const expands = (tag: string) => readFileSync(join(folder, `${tag}.sql`), 'utf8').startsWith('-- expands');
  const onlyFrom = Math.max(...journal.entries.filter((e) => !expands(e.tag)).map((e) => e.when));
  const known = await rowsOf(
    db,
    z.object({ exists: z.boolean() }),
    sql`select to_regclass('drizzle.__drizzle_migrations') is not null as exists`,
  );
  if (known[0]?.exists) {
    const applied = await rowsOf(
      db,
      z.object({ newest: z.string().nullable() }),
      sql`select max(created_at) as newest from drizzle.__drizzle_migrations`,
    );
    if (Number(applied[0]?.newest ?? 0) > newest) {
      if ((await readableFrom(db)) <= newest) return;
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
      await patient.execute(
        sql`create table if not exists drizzle.reach (one boolean primary key, only_from bigint not null)`,
      );
      await patient.execute(sql`insert into drizzle.reach values (true, ${onlyFrom})
        on conflict (one) do update set only_from = greatest(reach.only_from, excluded.only_from)
        where reach.only_from < excluded.only_from`);
      // After a restore into another cluster the marks of the old one mean nothing.
      await patient.execute(sql`delete from engine_touch_cache where xid > pg_current_xact_id()`);
      await patient.execute(sql`delete from book_touch_cache where xid > pg_current_xact_id()`);
    } finally {
      await keeper.query('select pg_advisory_unlock(4150)').catch(() => undefined);
      keeper.release();
    }
  } finally {
    await pool.end();
  }
}
