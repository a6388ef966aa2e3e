// Fills an empty book with the demo fleet: aside, then put in its place, so that whoever interrupts it finds an
// empty book again and never half of one.
// @ts-check
import { Trouble } from './trouble.mjs';

/** One of several starts on the same database fills it; the others wait. */
const LOCK = 4150;

/**
 * @param {{
 *   databaseUrl: string, now: Date, outside: { deskUrl?: string | undefined, supplierUrl?: string | undefined }, hemisphere?: 'north' | 'south',
 * server: { start: (options: any) => Promise<{ port: number, stop: () => Promise<void> }>, readBook: (url: string,
 * migrations: string) => Promise<{ empty: boolean }> },
 *   fillDemo: (book: any) => Promise<void>, options: { migrations: string, [key: string]: unknown },
 *   stops: (() => Promise<void>)[],
 * }} what `stops` gets what has to be ended when the start is broken off.
 * @throws Trouble when the database's user may not make a database aside.
 */
export async function fillBook({ databaseUrl, now, outside, hemisphere, server, fillDemo, options, stops }) {
  const { default: pg } = await import('pg');
  const url = new URL(databaseUrl);
  const name = decodeURIComponent(url.pathname.slice(1));
  const aside = `${name}_filling`;
  const asideUrl = Object.assign(new URL(databaseUrl), { pathname: `/${encodeURIComponent(aside)}` }).toString();
  const admin = new pg.Client(Object.assign(new URL(databaseUrl), { pathname: '/postgres' }).toString());
  admin.on('error', () => undefined);
  await admin.connect();
  try {
    const { rows } = await admin.query(
      `select (select rolcreatedb or rolsuper from pg_roles where rolname = current_user)
              and pg_get_userbyid(datdba) = current_user as may from pg_database where datname = $1`,
      [name],
    );
    if (!rows[0]?.may)
      throw new Trouble(
        `The demo fleet is filled into a database aside first, which the user of DATABASE_URL may not make. Give it the right (ALTER ROLE ... CREATEDB, and own "${name}"), or start an empty book: DIURNA_DEMO=0 npm start`,
      );
    await admin.query('select pg_advisory_lock($1)', [LOCK]);
    if (!(await server.readBook(databaseUrl, options.migrations)).empty) return;
    const id = pg.escapeIdentifier;
    await admin.query(`drop database if exists ${id(aside)} with (force)`);
    await admin.query(`create database ${id(aside)}`);
    // A fill that is broken off is begun anew: only the whole has to be on the disk, which the rename sees to.
    await admin.query(`alter database ${id(aside)} set synchronous_commit = off`);
    let at = now;
    // Filled by one who waits for each answer: threads beside it would only start.
    const filling = await server.start({
      ...options,
      databaseUrl: asideUrl,
      port: 0,
      clock: () => at,
      threads: false,
      works: false,
    });
    let stopped = false;
    const stop = async () => {
      if (!stopped) {
        stopped = true;
        await filling.stop();
      }
    };
    stops.push(stop);
    await fillDemo({
      address: `http://127.0.0.1:${filling.port}`,
      now,
      ...outside,
      hemisphere,
      setClock: (/** @type {Date} */ to) => {
        at = to;
      },
    });
    await stop();
    await signOutAll(asideUrl);
    await admin.query(`alter database ${id(aside)} reset synchronous_commit`);
    // Both at once, or neither: a rename cannot be half done, and the empty book holds nothing.
    await admin.query(`drop database ${id(name)} with (force)`);
    await admin.query(`alter database ${id(aside)} rename to ${id(name)}`);
  } finally {
    await admin.end().catch(() => undefined);
  }
}

/** Whoever filled the book is not left signed in. @param {string} url */
async function signOutAll(url) {
  const { default: pg } = await import('pg');
  const filled = new pg.Client(url);
  await filled.connect();
  await filled.query('truncate session, known_device');
  await filled.end();
}
