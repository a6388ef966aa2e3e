import { afterAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { backup, restore } from '../scripts/backup.mjs';
import { closeBook, openBook } from './book.ts';
import { Browser } from './browser.ts';

/** The drill of docs/operating.md: a backup put into a new database opens, and its people sign in. */
const book = await openBook();
const folder = mkdtempSync(join(tmpdir(), 'diurna-backup-'));
afterAll(async () => {
  await closeBook(book);
  rmSync(folder, { recursive: true, force: true });
});

test('a backup put into another database is the same book, and opens', async () => {
  const file = join(folder, 'diurna.backup');
  const kept = await backup(book.databaseUrl, file);
  const target = await openBook({ empty: true });
  // The book that was there goes first; nobody may be connected to it.
  await closeBook(target);
  const name = new URL(target.databaseUrl).pathname.slice(1);
  const adminUrl = Object.assign(new URL(target.databaseUrl), { pathname: '/postgres' }).toString();
  const admin = new pg.Client({ connectionString: adminUrl });
  await admin.connect();
  await admin.query(`drop database ${name}`);
  await admin.query(`create database ${name}`);
  await admin.end();
  expect(await restore(target.databaseUrl, file)).toEqual(kept);
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
