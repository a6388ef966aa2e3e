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
    max: 16,
    connectionTimeoutMillis: 5_000,
    options: '-c timezone=UTC -c statement_timeout=60000',
  });
}

export function makeDb(pool: pg.Pool): Db {
  return drizzle(pool, { schema, casing: 'snake_case' });
}
