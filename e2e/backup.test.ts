import { afterAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { closeBook, openBook } from './book.ts';
import { Browser } from './browser.ts';

/** The backup and the restore of docs/operating.md: what comes back is the whole book. */
const book = await openBook();
const folder = mkdtempSync(join(tmpdir(), 'diurna-backup-'));
afterAll(async () => {
  await closeBook(book);
  rmSync(folder, { recursive: true, force: true });
});

/** PostgreSQL's programs of the version that runs. */
const bin = (name: string) => {
  const versions = readdirSync('/usr/lib/postgresql').sort((a, b) => Number(b) - Number(a));
  return join('/usr/lib/postgresql', versions[0]!, 'bin', name);
};

test('a backup put into another database is the same book, and opens', async () => {
  const file = join(folder, 'diurna.backup');
  execFileSync(bin('pg_dump'), ['-Fc', '-f', file, book.databaseUrl]);
  const target = await openBook({ empty: true });
  const count = async (url: string) => {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    const { rows } = await client.query<{ all: string }>(
      `select concat_ws(' ', (select count(*) from reading), (select count(*) from service_entry), (select count(*)
        from hire),
         (select count(*) from stock_movement), (select count(*) from job_entry), (select count(*) from audit
           where act <> 'signed in')) as all`,
    );
    await client.end();
    return rows[0]!.all;
  };
  // The book that was there goes first, as the paper says; nobody may be connected to it.
  await closeBook(target);
  const name = new URL(target.databaseUrl).pathname.slice(1);
  const adminUrl = Object.assign(new URL(target.databaseUrl), { pathname: '/postgres' }).toString();
  const admin = new pg.Client({ connectionString: adminUrl });
  await admin.connect();
  await admin.query(`drop database ${name}`);
  await admin.query(`create database ${name}`);
  await admin.end();
  execFileSync(bin('pg_restore'), ['-d', target.databaseUrl, '--no-owner', file]);
  expect(await count(target.databaseUrl)).toBe(await count(book.databaseUrl));
  const again = await openBook({ database: name });
  const browser = await Browser.open(again.address);
  try {
    await browser.signIn('Ilse Maren');
    await browser.go('/due?view=list');
    await browser.see('//tbody/tr');
  } finally {
    await browser.close();
    await closeBook(again);
  }
});
