import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { makeDb, makePool, tables } from './index.ts';
import { migrateDatabase, NewerDatabase } from './migrate.ts';

const FOLDER = join(import.meta.dirname, 'migrations');
const admin = new pg.Client({ connectionString: process.env.DIURNA_TEST_DATABASE });
const url = new URL(process.env.DIURNA_TEST_DATABASE!);
url.pathname = '/migrate_test';
beforeAll(async () => {
  await admin.connect();
  await admin.query('create database migrate_test template template0');
});
afterAll(async () => {
  // The server ends a session a moment after the client has left; dropped under it, it would complain to nobody.
  for (let i = 0; i < 100; i++) {
    const { rows } = await admin.query<{ n: number }>(
      "select count(*)::int as n from pg_stat_activity where datname = 'migrate_test'",
    );
    if (rows[0]!.n === 0) break;
    await new Promise((r) => setTimeout(r, 50));
  }
  await admin.query('drop database migrate_test with (force)');
  await admin.end();
});

test('several processes starting on one empty database at once all succeed, and leave no lock behind', async () => {
  const pools = [1, 2, 3].map(() => makePool(url.toString()));
  await Promise.all(pools.map((pool) => migrateDatabase(makeDb(pool), FOLDER)));
  const { rows } = await pools[0]!.query<{ tables: number; locks: number; applied: number }>(`
    select (select count(*)::int from information_schema.tables where table_schema = 'public'
      and table_name in ('engine', 'audit', 'sign_in_throttle')) as tables,
           (select count(*)::int from pg_locks where locktype = 'advisory' and database = (select oid from pg_database
             where datname = current_database())) as locks,
           (select count(*)::int from drizzle.__drizzle_migrations) as applied`);
  const journal = JSON.parse(readFileSync(join(FOLDER, 'meta/_journal.json'), 'utf8')) as { entries: unknown[] };
  expect(rows[0]).toEqual({ tables: 3, locks: 0, applied: journal.entries.length });
  await Promise.all(pools.map((pool) => pool.end()));
});

test('who starts while another process migrates waits for it, longer than any reader waits for a lock', async () => {
  const other = new pg.Client({ connectionString: url.toString() });
  await other.connect();
  await other.query('select pg_advisory_lock(4150)');
  const pool = makePool(url.toString(), { lockMs: 100, statementMs: 200 });
  let done = false;
  const starting = migrateDatabase(makeDb(pool), FOLDER).then(() => {
    done = true;
  });
  await new Promise((r) => setTimeout(r, 800));
  expect(done).toBe(false);
  await other.end();
  await starting;
  expect(done).toBe(true);
  await pool.end();
});

describe('a database of a newer version', () => {
  let pool: ReturnType<typeof makePool>;
  beforeAll(async () => {
    pool = makePool(url.toString());
    await pool.query("insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 99999999999999)");
  });
  afterAll(() => pool.end());

  test('that only added to the tables is used as it is: an upgrade goes process by process', async () => {
    // What the newer one told: this version's own newest migration is new enough.
    const journal = JSON.parse(readFileSync(join(FOLDER, 'meta/_journal.json'), 'utf8')) as {
      entries: { when: number }[];
    };
    const own = Math.max(...journal.entries.map((e) => e.when));
    await pool.query('update drizzle.reach set only_from = $1', [own]);
    await pool.query('alter table base add column added_later text');
    await migrateDatabase(makeDb(pool), FOLDER);
    // The old one reads and writes what it knows, the column it does not know stays.
    const db = makeDb(pool);
    await db.insert(tables.base).values({ name: 'North Quay', timeZone: 'America/Halifax', hemisphere: 'north' });
    expect(await db.select({ name: tables.base.name }).from(tables.base)).toEqual([{ name: 'North Quay' }]);
    expect((await pool.query('select added_later from base')).rows).toEqual([{ added_later: null }]);
  });

  test('that took away from the tables is refused before anything is touched', async () => {
    await pool.query('update drizzle.reach set only_from = 99999999999999');
    await expect(migrateDatabase(makeDb(pool), FOLDER)).rejects.toThrow(NewerDatabase);
  });

  test('that told nothing of it is refused', async () => {
    await pool.query('drop table drizzle.reach');
    await expect(migrateDatabase(makeDb(pool), FOLDER)).rejects.toThrow(NewerDatabase);
  });
});
