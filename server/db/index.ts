import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import * as schema from './schema/index.ts';

export * as tables from './schema/index.ts';

export type Db = NodePgDatabase<typeof schema>;
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];

// Days stay text (YYYY-MM-DD); a Date would drag the machine's zone in.
pg.types.setTypeParser(pg.types.builtins.DATE, (text) => text);

export function makePool(databaseUrl: string): pg.Pool {
  return new pg.Pool({
    connectionString: databaseUrl,
    max: 10,
    connectionTimeoutMillis: 5_000,
    options: '-c timezone=UTC -c statement_timeout=60000',
  });
}

/**
 * A statement the server runs all day, kept prepared on each connection: planning costs more than running it.
 * The name has to belong to that text alone. In a transaction it runs on that transaction's connection.
 */
export async function prepared<T extends pg.QueryResultRow>(
  db: Db | Tx,
  name: string,
  text: string,
  values: unknown[],
): Promise<T[]> {
  // Drizzle names statements of its query builder only, not of plain SQL; what it runs on is not in its types.
  const { $client, session } = db as unknown as { $client?: pg.Pool; session: { client: pg.Pool | pg.PoolClient } };
  return (await ($client ?? session.client).query<T>({ name, text, values })).rows;
}

export function makeDb(pool: pg.Pool): Db {
  return drizzle(pool, { schema, casing: 'snake_case' });
}

/** Which database this is, alike for the pool and for a transaction on it: what caches of one process are kept by. */
export function bookKey(db: Db | Tx): string {
  const { $client, session } = db as unknown as {
    $client?: pg.Pool;
    session: { client: pg.Pool | (pg.PoolClient & { host: string; port: number; database: string }) };
  };
  const client = $client ?? session.client;
  if ('totalCount' in client) {
    const { hostname, port, pathname } = new URL(client.options.connectionString ?? 'postgres://localhost/');
    return `${hostname}:${port === '' ? '5432' : port}${pathname}`;
  }
  return `${client.host}:${client.port}/${client.database}`;
}
