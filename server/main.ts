import type { Clock } from '@diurna/core/calendar';
import type { Session } from '@diurna/contract/people';
import { createServer, type Server } from 'node:http';
import { createApp, makeLogger } from './app.ts';
import { processClock } from './clock.ts';
import { makeDb, makePool } from './db/index.ts';
import { followFeeds } from './hires/index.ts';
import { migrateDatabase, NewerDatabase } from './db/migrate.ts';

export { NewerDatabase };

export interface StartOptions {
  databaseUrl: string;
  port: number;
  migrations: string;
  webRoot: string;
  version: string;
  demoAccounts: Session['demoAccounts'];
  secureCookie: boolean;
  logLevel: string;
}

export interface Running {
  port: number;
  /** The book's clock; the stand-ins of the demo go by it too. */
  clock: Clock;
  /** True while the book has no people: it is empty. */
  empty: boolean;
  stop: () => Promise<void>;
}

/** Migrates the database and serves the app on loopback. */
export async function start(options: StartOptions): Promise<Running> {
  const logger = makeLogger(options.logLevel);
  const clock = processClock();
  const pool = makePool(options.databaseUrl);
  let stopping = false;
  // The error object carries the whole connection; only its sentence belongs in the log.
  pool.on('error', (error) => {
    if (!stopping) logger.error({ reason: error.message }, 'database connection lost');
  });
  const db = makeDb(pool);
  try {
    await migrateDatabase(db, options.migrations);
    const { app, memory, stop } = await createApp({ ...options, clock, pool, db, logger });
    const server = createServer(app);
    await listen(server, options.port);
    memory.refresh(clock()).catch((error: unknown) => {
      logger.error({ err: error }, 'fleet not read');
    });
    const unfollow = followFeeds(db, clock, logger);
    const people = await pool.query<{ n: number }>('select count(*)::int as n from person');
    return {
      clock,
      port: (server.address() as { port: number }).port,
      empty: people.rows[0]!.n === 0,
      stop: async () => {
        stopping = true;
        const closed = new Promise((resolve) => server.close(resolve));
        server.closeIdleConnections();
        setTimeout(() => {
          server.closeAllConnections();
        }, 3000).unref();
        await Promise.all([closed, unfollow()]);
        stop();
        await pool.end();
      },
    };
  } catch (error) {
    await pool.end().catch(() => undefined);
    throw error;
  }
}

function listen(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => {
      resolve();
    });
  });
}
