import type { Clock } from '@diurna/core/calendar';
import type { Session } from '@diurna/contract/people';
import { createServer, type Server } from 'node:http';
import type { Registry } from 'prom-client';
import { followBook } from './background/index.ts';
import { createApp } from './app.ts';
import { besides } from './beside.ts';
import { processClock, sameClock } from './clock.ts';
import { z } from 'zod';
import { makeDb, makePool, parsed } from './db/index.ts';
import { makeLogger } from './http/log.ts';
import { migrateDatabase, NewerDatabase } from './db/migrate.ts';
import type { MailOptions } from './messages/index.ts';
import type { AllMetrics } from './system/index.ts';

export { dayInZone } from '@diurna/core/calendar';
export { NewerDatabase, processClock, sameClock };
export { makeAdministrator } from './people/index.ts';

export interface StartOptions {
  databaseUrl: string;
  port: number;
  migrations: string;
  webRoot: string;
  version: string;
  demoAccounts: Session['demoAccounts'];
  secureCookie: boolean;
  trustedProxies: string[];
  privateFeeds: string[];
  hosts: string[];
  /**
   * How mail goes, with the address people open the book at where that is another than this one; null = it does not.
   */
  mail: (Omit<MailOptions, 'address'> & { address: string | null }) | null;
  logLevel: string;
  /** Answers people; a process that only works behind the scenes does not. */
  serves?: boolean;
  /** Takes work from the queue, and looks what is due. */
  works?: boolean;
  /** Works what takes long out in threads of its own; a small book that is soon closed again does without. */
  threads?: boolean;
  /** Metrics of all processes on the same port. */
  allMetrics?: AllMetrics;
  /** Another clock than the process's: a book that is being filled stands still. */
  clock?: Clock;
}

export interface Running {
  /** 0 when it answers nobody. */
  port: number;
  /** What it counts. */
  metrics: Registry;
  /** The book's clock; the stand-ins of the demo go by it too. */
  clock: Clock;
  stop: () => Promise<void>;
}

/** What is known of a book before it is opened. */
export type BookFacts = z.infer<typeof bookFacts>;
const bookFacts = z.object({
  empty: z.boolean(),
  begun: z.date().nullable(),
  /** It was filled with the demo fleet. */
  demo: z.boolean(),
  /** Of its people, so many have a password that stands in the demo's papers. */
  openPasswords: z.number(),
});

/** Brings the database's tables up to date, and tells what kind of book is in it. */
export async function readBook(databaseUrl: string, migrations: string): Promise<BookFacts> {
  const pool = makePool(databaseUrl);
  pool.on('error', () => undefined);
  try {
    await migrateDatabase(makeDb(pool), migrations);
    const { rows } = await pool.query(
      `select not exists (select from person) as empty, (select min(at) from audit) as begun,
         coalesce((select demo from setting), false) as demo,
         (select count(*)::int from person where active and open_password) as "openPasswords"`,
    );
    return parsed(bookFacts, rows)[0]!;
  } finally {
    await pool.end();
  }
}

/** How mail goes; links in it lead to this machine where nothing else is said. */
const mailOf = ({ mail, port }: StartOptions): MailOptions | null =>
  mail && { ...mail, address: mail.address ?? `http://127.0.0.1:${port}` };

/** Migrates the database and serves the app on loopback. */
export async function start(options: StartOptions): Promise<Running> {
  const logger = makeLogger(options.logLevel);
  const clock = options.clock ?? processClock();
  const { serves = true, works = true, threads = true } = options;
  const mail = mailOf(options);
  const pool = makePool(options.databaseUrl);
  let stopping = false;
  const told = (what: string) => (error: unknown) => {
    if (!stopping) logger.error({ err: error }, what);
  };
  pool.on('error', told('database connection lost'));
  const db = makeDb(pool);
  let beside: ReturnType<typeof besides> | undefined;
  try {
    await migrateDatabase(db, options.migrations);
    if (serves && threads)
      beside = besides(options.databaseUrl, logger, (statement, milliseconds) => {
        pool.emit('slow', statement, milliseconds);
      });
    const { app, fleet, queue, metrics, stop } = await createApp({
      ...options,
      mail,
      clock,
      pool,
      db,
      logger,
      think: beside?.think,
    });
    const server = createServer(app);
    if (serves) {
      await listen(server, options.port);
      fleet.refresh(clock()).catch(told('fleet not read'));
      beside?.think('warm', { now: clock().getTime() }).catch(told('fleet not read beside the loop'));
    }
    void queue.start(works);
    const following = works ? followBook(db, queue, clock, logger, { mail: mail !== null }) : null;
    return {
      clock,
      metrics,
      port: serves ? (server.address() as { port: number }).port : 0,
      stop: async () => {
        stopping = true;
        const closed = new Promise((resolve) => (serves ? server.close(resolve) : resolve(null)));
        server.closeIdleConnections();
        setTimeout(() => {
          server.closeAllConnections();
        }, 3000).unref();
        await Promise.all([closed, following?.stop()]);
        await Promise.all([queue.stop(), beside?.stop()]);
        stop();
        await pool.end();
      },
    };
  } catch (error) {
    await beside?.stop();
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
