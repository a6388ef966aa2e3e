// One PostgreSQL for all server tests, with a migrated template that each test file copies.
import { chmodSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { startCluster } from '../../scripts/cluster.mjs';

export default async function setup() {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-test-'));
  chmodSync(folder, 0o755);
  const cluster = await startCluster(folder, { fast: true });
  const pool = new pg.Pool({ connectionString: cluster.url });
  await migrate(drizzle(pool), { migrationsFolder: join(import.meta.dirname, '../db/migrations') });
  await pool.end();
  process.env.DIURNA_TEST_DATABASE = cluster.url;
  globalThis.__diurnaCluster = { cluster, folder };
}
