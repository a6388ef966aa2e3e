import { afterAll, describe, expect, test } from '@jest/globals';
import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';

const book = await openBook();
afterAll(async () => {
  await closeBook(book);
});

/** What `npm start` says when it cannot: one clear sentence, exit status not 0. */
function start(env: Record<string, string>): Promise<{ status: number; said: string }> {
  return new Promise((resolve) => {
    execFile(
      process.execPath,
      [join(import.meta.dirname, '../scripts/start.mjs')],
      { env: { ...process.env, NODE_OPTIONS: '', ...env }, timeout: 60_000 },
      (error, stdout, stderr) => {
        resolve({
          status: error ? (typeof error.code === 'number' ? error.code : -1) : 0,
          said: `${stdout}${stderr}`.trim(),
        });
      },
    );
  });
}

describe('starting that cannot succeed', () => {
  test.each([
    ['a port that is none', { DIURNA_PORT: 'abc' }, 'DIURNA_PORT is "abc", which is no port. Use a number like 4150.'],
    [
      'a database that does not answer',
      { DATABASE_URL: 'postgres://a:b@127.0.0.1:1/c', DIURNA_PORT: '0' },
      'The database does not answer. Check DATABASE_URL and that PostgreSQL runs there.',
    ],
  ])('%s', async (_name, env, sentence) => {
    expect(await start(env)).toEqual({ status: 1, said: sentence });
  });

  test('a busy port, a wrong password, a database that is not there', async () => {
    const url = new URL(book.databaseUrl);
    const busy = new URL(book.address).port;
    expect((await start({ DATABASE_URL: url.toString(), DIURNA_PORT: busy })).said).toContain(
      `Port ${busy} is taken by another program.`,
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
      'create schema drizzle; create table drizzle.__drizzle_migrations (id serial primary key, hash text not null, created_at bigint)',
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
