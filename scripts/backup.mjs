// `npm run backup -- FILE` and `npm run restore -- FILE`: the whole book in one file, and out of it into a new one.
// Beside the file stands FILE.json: how many rows each table has and a checksum over them, so that what comes back is
// known to be what went in. Sessions and secrets are neither kept nor restored.
// @ts-check
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { findPostgres } from './cluster.mjs';
import { Trouble } from './trouble.mjs';

/** Tables whose rows stay behind: who is signed in, what signs cookies, what authenticators share, half a picture. */
export const LEFT_OUT = [
  'session',
  'sign_in_throttle',
  'app_secret',
  'second_factor',
  'recovery_code',
  'known_device',
  'picture_upload',
  'request_done',
  'watched_hour',
  'book_touch_cache',
];

/** @typedef {{ rows: number, sum: string }} Tally */

/** PostgreSQL's program for a server of this version. @param {string} name @param {number} major */
function program(name, major) {
  const bin = findPostgres(String(major)) ?? findPostgres();
  if (!bin) throw new Trouble('PostgreSQL’s programs are not on this machine: apt-get install postgresql-client');
  return join(bin, name);
}

/** @param {string} path @param {string[]} args @param {string} url the password goes by the environment, not by the list of processes */
function run(path, args, url) {
  const where = new URL(url);
  const done = spawnSync(path, args, {
    encoding: 'utf8',
    env: {
      ...process.env,
      PGHOST: where.hostname,
      PGPORT: where.port || '5432',
      PGUSER: decodeURIComponent(where.username),
      PGPASSWORD: decodeURIComponent(where.password),
      PGDATABASE: decodeURIComponent(where.pathname.slice(1)),
    },
  });
  if (done.status !== 0)
    throw new Trouble(`${path.split('/').at(-1)} failed: ${(done.stderr || String(done.error)).trim().slice(0, 2000)}`);
}

/**
 * Rows and a checksum over them of every table that is kept; the order of the rows does not matter.
 * @param {import('pg').Client} client @returns {Promise<Record<string, Tally>>}
 */
export async function tally(client) {
  const { rows: found } = await client.query(
    `select table_schema as schema, table_name as name from information_schema.tables
     where table_type = 'BASE TABLE' and table_schema in ('public', 'drizzle') order by 1, 2`,
  );
  /** @type {Record<string, Tally>} */
  const tallies = {};
  for (const { schema, name } of found) {
    if (LEFT_OUT.includes(name)) continue;
    const { rows } = await client.query(
      `select count(*)::int as rows, coalesce(sum(('x' || substr(md5(t::text), 1, 15))::bit(60)::bigint), 0)::text as sum
       from "${schema}"."${name}" t`,
    );
    tallies[`${schema}.${name}`] = rows[0];
  }
  return tallies;
}

/** @param {string} url */
async function connect(url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query('show server_version_num');
  // Dates and figures as text must read alike here and there.
  await client.query("set timezone to 'UTC'; set datestyle to 'ISO, YMD'; set extra_float_digits to 1");
  return { client, major: Math.floor(Number(rows[0].server_version_num) / 10_000) };
}

/**
 * Writes the book to a file while it is in use: file and tallies are of the same moment.
 * @param {string} url @param {string} file @returns {Promise<{ tables: number, rows: number }>}
 */
export async function backup(url, file) {
  if (existsSync(file)) throw new Trouble(`${file} is there already. Name another file; nothing was written.`);
  const { client, major } = await connect(url);
  try {
    await client.query('begin isolation level repeatable read read only');
    const { rows } = await client.query('select pg_export_snapshot() as id');
    run(
      program('pg_dump', major),
      [
        '-Fc',
        '-f',
        resolve(file),
        `--snapshot=${rows[0].id}`,
        // Work that waits is found anew by the book it is restored into.
        '--exclude-schema=background',
        ...LEFT_OUT.map((t) => `--exclude-table-data=public.${t}`),
      ],
      url,
    );
    const tables = await tally(client);
    writeFileSync(`${file}.json`, `${JSON.stringify({ tables }, null, 1)}\n`, { mode: 0o600 });
    return { tables: Object.keys(tables).length, rows: Object.values(tables).reduce((n, t) => n + t.rows, 0) };
  } catch (error) {
    rmSync(file, { force: true });
    throw error;
  } finally {
    await client.end();
  }
}

/**
 * Puts a backup into a database where no book is yet, and compares it with its tallies.
 * @param {string} url @param {string} file @returns {Promise<{ tables: number, rows: number }>}
 * @throws Trouble when there is a book already, or when what came back is not what went in: then it is taken away again
 */
export async function restore(url, file) {
  for (const needed of [file, `${file}.json`])
    if (!existsSync(needed)) throw new Trouble(`${needed} is not there. A backup is two files: FILE and FILE.json.`);
  const { tables: wanted } = /** @type {{ tables: Record<string, Tally> }} */ (
    JSON.parse(readFileSync(`${file}.json`, 'utf8'))
  );
  const { client, major } = await connect(url);
  try {
    const { rows: there } = await client.query(
      "select count(*)::int as n from information_schema.tables where table_schema in ('public', 'drizzle')",
    );
    if (there[0].n > 0)
      throw new Trouble(
        'There is a book in this database already, and nothing was changed. Restore into a new one: DIURNA_DATA=FOLDER npm run restore -- FILE',
      );
    const takeAway = () =>
      client.query('drop schema public cascade; drop schema if exists drizzle cascade; create schema public');
    try {
      run(
        program('pg_restore', major),
        ['-d', decodeURIComponent(new URL(url).pathname.slice(1)), '--no-owner', '--exit-on-error', resolve(file)],
        url,
      );
    } catch (error) {
      await takeAway();
      throw error;
    }
    const found = await tally(client);
    const wrong = [...new Set([...Object.keys(wanted), ...Object.keys(found)])].filter(
      (t) => wanted[t]?.rows !== found[t]?.rows || wanted[t]?.sum !== found[t]?.sum,
    );
    if (wrong.length > 0) {
      await takeAway();
      throw new Trouble(
        `What came back is not what went in, in ${wrong.join(', ')}; it was taken away again. Try an earlier backup.`,
      );
    }
    // Compared first: what waited then may have gone since, and nobody is told a second time of days gone by.
    if (found['public.mail'] !== undefined)
      await client.query(
        "update mail set state = 'stopped', fault = 'The book came back from a backup; whether it went then is not known.' where state = 'waiting'",
      );
    // Which phone knows whom is not restored either: nobody is signed in, and codes are set up anew.
    return { tables: Object.keys(found).length, rows: Object.values(found).reduce((n, t) => n + t.rows, 0) };
  } finally {
    await client.end();
  }
}
