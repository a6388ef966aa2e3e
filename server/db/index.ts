import { sql, type SQL } from 'drizzle-orm';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import type { PgColumn } from 'drizzle-orm/pg-core';
import pg from 'pg';
import { z } from 'zod';
import { takeInTurn } from './in-turn.ts';
import { watchStatements } from './slow.ts';
import * as schema from './schema/index.ts';

export * as tables from './schema/index.ts';

declare const inTransaction: unique symbol;
/** The book, read and written through the pool. */
export type Db = NodePgDatabase<typeof schema>;
/** The book within one transaction, on the one connection that holds it. */
export type Tx = NodePgDatabase<typeof schema> & { readonly [inTransaction]: true };

// Days stay text (YYYY-MM-DD); a Date would drag the machine's zone in.
pg.types.setTypeParser(pg.types.builtins.DATE, (text) => text);

/** A statement that takes longer is ended by the database; one it never answers, by the driver a little later. */
const STATEMENT_MS = 20_000;
/** Longer nobody waits for a row or table that somebody else holds. */
const LOCK_MS = 5_000;

/** @param more for tests: other bounds than those of the app */
export function makePool(databaseUrl: string, more: pg.PoolConfig & { statementMs?: number; lockMs?: number } = {}) {
  const { statementMs = STATEMENT_MS, lockMs = LOCK_MS, ...config } = more;
  const pool = new pg.Pool({
    connectionString: databaseUrl,
    max: 10,
    connectionTimeoutMillis: 5_000,
    query_timeout: statementMs + 5_000,
    keepAlive: true,
    keepAliveInitialDelayMillis: 10_000,
    options: `-c timezone=UTC -c statement_timeout=${statementMs} -c lock_timeout=${lockMs} -c idle_in_transaction_session_timeout=30000`,
    ...config,
  });
  // A connection in somebody's hands has no listener of the pool: lost then, its error would end the process. Whoever
  // holds it hears of it by the statement that fails.
  pool.on('connect', (client) => {
    client.on('error', () => undefined);
  });
  watchStatements(pool);
  takeInTurn(pool);
  return pool;
}

/** What one book is read through, and what this process remembers of it. */
interface Home {
  pool: pg.Pool;
  remembered: Map<string, unknown>;
}
/** By database handle: where its statements run. Goes with the handle. */
const connections = new WeakMap<object, { home: Home; on: pg.Pool | pg.PoolClient }>();

function connectionOf(db: Db | Tx) {
  const found = connections.get(db);
  if (!found) throw new Error('a database handle that makeDb did not make');
  return found;
}

const handle = (on: pg.Pool | pg.PoolClient, home: Home): Db => {
  const db = drizzle(on, { schema, casing: 'snake_case' });
  connections.set(db, { home, on });
  return db;
};

export const makeDb = (pool: pg.Pool): Db => handle(pool, { pool, remembered: new Map() });

/** The pool of a book, for what has to hold one connection. */
export const poolOf = (db: Db): pg.Pool => connectionOf(db).home.pool;

/**
 * Runs `work` in one transaction: all of it is written, or nothing.
 * @param readOnly refuses writes, for what only looks.
 */
export async function transaction<T>(db: Db, work: (tx: Tx) => Promise<T>, readOnly = false): Promise<T> {
  const { home } = connectionOf(db);
  const client = await home.pool.connect();
  let lost: Error | undefined;
  try {
    await client.query(readOnly ? 'begin read only' : 'begin');
    try {
      const result = await work(handle(client, home) as Tx);
      await client.query('commit');
      return result;
    } catch (error) {
      await client.query('rollback').catch((e: unknown) => {
        lost = e instanceof Error ? e : new Error('rollback failed');
      });
      throw error;
    }
  } finally {
    // A connection that could not even take its work back is not used again.
    client.release(lost);
  }
}

/**
 * A statement the server runs all day, kept prepared on each connection: planning costs more than running it.
 * The name has to belong to that text alone. In a transaction it runs on that transaction's connection.
 */
export async function prepared<R extends z.ZodType>(
  db: Db | Tx,
  row: R,
  name: string,
  text: string,
  values: unknown[],
): Promise<z.infer<R>[]> {
  return parsed(row, (await connectionOf(db).on.query({ name, text, values })).rows);
}

/**
 * The rows of a statement written out: no compiler reads SQL, so each row is read by a schema, and a column that is
 * not there, or is of another kind, is heard of at once and not where its value ends up.
 */
export const rowsOf = async <R extends z.ZodType>(db: Db | Tx, row: R, statement: SQL): Promise<z.infer<R>[]> =>
  parsed(row, (await db.execute(statement)).rows);

/** Reads rows by the schema of one. Throws a ZodError that names the column. */
export const parsed = <R extends z.ZodType>(row: R, rows: readonly unknown[]): z.infer<R>[] => z.array(row).parse(rows);

/** A column of JSON that only this app writes: taken as it was written. */
export const json = <T>() => z.custom<T>((value) => value !== undefined);

/** Whether a column is one of these ids: one value to send, where a list of a thousand takes long to write out. */
export const among = (column: PgColumn, ids: readonly number[]): SQL =>
  sql`${column} = any(${sql.param([...ids])}::int[])`;

/** Runs statements of packages that bring their own, on the handle's connection: in a transaction, within that. */
export const executor = (db: Db | Tx) => ({
  executeSql: (text: string, values?: unknown[]): Promise<{ rows: unknown[] }> =>
    connectionOf(db).on.query(text, values),
});

/** What this process remembers of the book under a name, alike for the pool and its transactions; a cache. */
export function remembered<T>(db: Db | Tx, name: string, make: () => T): T {
  const { remembered: kept } = connectionOf(db).home;
  if (!kept.has(name)) kept.set(name, make());
  return kept.get(name) as T;
}
export { holdsText } from './holds-text.ts';
