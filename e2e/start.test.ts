import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFile, spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { PATIENCE_MS, START_MS } from './patience.ts';

const book = await openBook();
afterAll(async () => {
  await closeBook(book);
});

/** What `npm start` says when it cannot: one clear sentence, exit status not 0. */
function start(env: Record<string, string>, args: string[] = []): Promise<{ status: number; said: string }> {
  return new Promise((resolve) => {
    execFile(
      process.execPath,
      [join(import.meta.dirname, '../scripts/start.mjs'), ...args],
      { env: { ...process.env, NODE_OPTIONS: '', ...env }, timeout: START_MS },
      (error, stdout, stderr) => {
        resolve({
          status: error ? (typeof error.code === 'number' ? error.code : -1) : 0,
          said: `${stdout}${stderr}`.trim(),
        });
      },
    );
  });
}

/** A start that goes on: its process, what it says, and a wait for a word of it. */
function keepStarting(env: Record<string, string>, args: string[] = []) {
  const child = spawn(process.execPath, [join(import.meta.dirname, '../scripts/start.mjs'), ...args], {
    env: { ...process.env, NODE_OPTIONS: '', DIURNA_DEMO: '0', DATABASE_URL: '', ...env },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => {
      said += chunk.toString();
    });
  return {
    child,
    said: () => said,
    hears: async (what: RegExp) => {
      const began = performance.now();
      for (;;) {
        const heard = what.exec(said);
        if (heard) return heard;
        if (child.exitCode !== null || performance.now() - began > START_MS)
          throw new Error(`it did not say ${what.source}: ${said}`);
        await new Promise((r) => setTimeout(r, 50));
      }
    },
  };
}
/** Asks until the answer is 200. */
async function answers(address: string): Promise<number[]> {
  const statuses: number[] = [];
  const began = performance.now();
  while (statuses.at(-1) !== 200 && performance.now() - began < PATIENCE_MS) {
    statuses.push(
      await fetch(`${address}/api/session`).then(
        (r) => r.status,
        () => 0,
      ),
    );
    await new Promise((r) => setTimeout(r, 50));
  }
  return statuses;
}

describe('a book that is open', () => {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-start-'));
  chmodSync(folder, 0o755);
  let first: ReturnType<typeof keepStarting>;
  let address = '';
  beforeAll(async () => {
    first = keepStarting({ DIURNA_DATA: folder, DIURNA_PORT: '0' });
    [, address = ''] = await first.hears(/ready at (\S+)/);
  });
  afterAll(async () => {
    const gone = new Promise((resolve) => first.child.once('exit', resolve));
    first.child.kill('SIGTERM');
    await gone;
    rmSync(folder, { recursive: true, force: true });
  });

  test('a second start on its folder stops nothing and says who has it', async () => {
    expect(await start({ DIURNA_DATA: folder, DIURNA_PORT: '0', DATABASE_URL: '' })).toEqual({
      status: 1,
      said: expect.stringContaining(`is open already: process ${first.child.pid}`),
    });
    expect(await answers(address)).toEqual([200]);
  });

  test('the app dies: it is started again at the same address, and that is said', async () => {
    process.kill(childrenOf(first.child.pid!, 'app.mjs')[0]!, 'SIGKILL');
    await first.hears(/The app ended unexpectedly \(SIGKILL\)/);
    expect((await answers(address)).at(-1)).toBe(200);
  });

  test('the database dies: people are told to try again, and soon all is well', async () => {
    process.kill(Number(readFileSync(join(folder, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL');
    const statuses = await answers(address);
    expect(statuses.at(-1)).toBe(200);
    expect(statuses.filter((s) => s !== 503 && s !== 200)).toEqual([]);
    await first.hears(/The database ended unexpectedly/);
    expect((await answers(address)).at(-1)).toBe(200);
  });
});

/** The processes below one, by a word of their command line. */
const childrenOf = (pid: number, word: string): number[] =>
  readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
    .trim()
    .split(' ')
    .map(Number)
    .filter((child) => readFileSync(`/proc/${child}/cmdline`, 'utf8').includes(word));

describe('several processes and a worker', () => {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-many-'));
  chmodSync(folder, 0o755);
  let many: ReturnType<typeof keepStarting>;
  let address = '';
  beforeAll(async () => {
    many = keepStarting({ DIURNA_DATA: folder, DIURNA_PORT: '0' }, ['--processes', '2', '--workers', '1']);
    [, address = ''] = await many.hears(/ready at (\S+), in 2 processes, with 1 worker/);
  });
  afterAll(async () => {
    const gone = new Promise((resolve) => many.child.once('exit', resolve));
    many.child.kill('SIGTERM');
    await gone;
    rmSync(folder, { recursive: true, force: true });
  });
  const ask = (path: string) => fetch(`${address}${path}`, { headers: { connection: 'close' } });

  test('share one port, and tell of themselves together', async () => {
    expect(childrenOf(many.child.pid!, 'app.mjs')).toHaveLength(3);
    for (let i = 0; i < 6; i++) expect((await ask('/api/session')).status).toBe(200);
    // Whichever is asked, it counts what all answered, and goes on being asked.
    for (let i = 0; i < 4; i++) {
      const text = await (await ask('/metrics')).text();
      expect(text).toMatch(/route="readSession",status="200"\} [6-9]/);
    }
  });

  test('one dies: the other answers on, and it is started again', async () => {
    const [first] = childrenOf(many.child.pid!, 'app.mjs');
    process.kill(first!, 'SIGKILL');
    const statuses = [];
    for (let i = 0; i < 20; i++)
      statuses.push(
        await ask('/api/session').then(
          (r) => r.status,
          () => 'cut',
        ),
      );
    // What was on its way to the dead one is cut; nothing else is.
    expect(statuses.filter((s) => s === 200).length).toBeGreaterThanOrEqual(18);
    await many.hears(/Process 1 of the app ended unexpectedly \(SIGKILL\)/);
    const began = performance.now();
    while (childrenOf(many.child.pid!, 'app.mjs').length < 3 && performance.now() - began < PATIENCE_MS)
      await new Promise((r) => setTimeout(r, 50));
    expect(childrenOf(many.child.pid!, 'app.mjs')).toHaveLength(3);
  });

  test('all are renewed one after the other while people go on', async () => {
    const before = childrenOf(many.child.pid!, 'app.mjs');
    many.child.kill('SIGHUP');
    const statuses = new Set<number>();
    while (!/All processes are new/.test(many.said())) statuses.add((await ask('/api/session')).status);
    expect([...statuses]).toEqual([200]);
    const after = childrenOf(many.child.pid!, 'app.mjs');
    expect(after).toHaveLength(3);
    expect(after.filter((pid) => before.includes(pid))).toEqual([]);
  });
});

describe('starting that cannot succeed', () => {
  test.each([
    ['a port that is none', { DIURNA_PORT: 'abc' }, 'DIURNA_PORT is "abc", which is no port. Use a number like 4150.'],
    [
      'a number of processes that is none',
      { DIURNA_PROCESSES: 'many' },
      '"many" is no number of processes. Use 1 to 64, as many as there are processors: npm start -- --processes 4',
    ],
    [
      'workers without the database of a book',
      { DIURNA_WORKERS: '1', DIURNA_PROCESSES: '0', DATABASE_URL: '' },
      'Workers alone need DATABASE_URL: the database of the book they work for.',
    ],
    [
      'a database that does not answer',
      { DATABASE_URL: 'postgres://a:b@127.0.0.1:1/c', DIURNA_PORT: '0' },
      'The database does not answer. Check DATABASE_URL and that PostgreSQL runs there.',
    ],
  ])('%s', async (_name, env, sentence) => {
    expect(await start(env)).toEqual({ status: 1, said: sentence });
  });

  test.each([
    [['--process', '2'], "Unknown option '--process'"],
    [['stop'], "Unexpected argument 'stop'"],
    [['--workers=x'], '"x" is no number of processes.'],
    [['--processes', '0'], '"0" is no number of processes. Use 1 to 64'],
  ])('a slip on the command line: %j', async (args, said) => {
    const ended = await start({ DIURNA_PORT: '0' }, args);
    expect(ended.status).toBe(1);
    expect(ended.said).toContain(said);
    expect(ended.said.split('\n')).toHaveLength(1);
  });

  test('a busy port, a wrong password, a database that is not there', async () => {
    const url = new URL(book.databaseUrl);
    const busy = new URL(book.address).port;
    expect((await start({ DATABASE_URL: url.toString(), DIURNA_PORT: busy })).said).toContain(
      `Diurna runs at http://127.0.0.1:${busy} already. Nothing was stopped or changed.`,
    );
    const wrong = new URL(url);
    wrong.password = 'nope';
    expect(await start({ DATABASE_URL: wrong.toString(), DIURNA_PORT: '0' })).toEqual({
      status: 1,
      said: 'The database refuses the name or password in DATABASE_URL.',
    });
    const nowhere = new URL(url);
    nowhere.pathname = '/nowhere';
    expect((await start({ DATABASE_URL: nowhere.toString(), DIURNA_PORT: '0' })).said).toContain(
      'does not exist. Make it first: createdb',
    );
  });

  test('a database from a newer version is left as it is', async () => {
    const { default: pg } = await import('pg');
    const admin = new pg.Client({ connectionString: book.databaseUrl });
    await admin.connect();
    await admin.query('create database newer');
    const url = new URL(book.databaseUrl);
    url.pathname = '/newer';
    const newer = new pg.Client({ connectionString: url.toString() });
    await newer.connect();
    await newer.query(
      `create schema drizzle; create table drizzle.__drizzle_migrations (id serial primary key, hash text not null,
        created_at bigint)`,
    );
    await newer.query("insert into drizzle.__drizzle_migrations (hash, created_at) values ('x', 99999999999999)");
    const outcome = await start({ DATABASE_URL: url.toString(), DIURNA_PORT: '0' });
    expect(outcome.status).toBe(1);
    expect(outcome.said).toContain('written by a newer Diurna');
    expect(
      (await newer.query("select count(*)::int as n from information_schema.tables where table_schema = 'public'"))
        .rows,
    ).toEqual([{ n: 0 }]);
    await newer.end();
    await admin.query('drop database newer with (force)');
    await admin.end();
  });
});
