import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { backup, LEFT_OUT, restore } from '../../scripts/backup.mjs';
import { makeAdministrator } from '../people/index.ts';
import { FLEET_CSV, openYard, PARTS_CSV, type Yard } from '../test/yard.ts';

const folder = mkdtempSync(join(tmpdir(), 'diurna-backup-'));
const file = join(folder, 'book.backup');
const emptyNames: string[] = [];
let yard: Yard;
let admin: pg.Client;

beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'), {
    mail: { server: 'smtp://127.0.0.1:1', from: 'book@yard.example', address: 'http://127.0.0.1' },
  });
  const ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
  await ilse.post('/session/second-factor', { password: 'a-long-password' });
  const { id } = await ilse.post<{ id: number }>('/messages/contacts', {
    name: 'Hire desk',
    address: 'desk@hire.example',
    baseId: null,
    hears: [],
  });
  await ilse.post('/messages', { contactIds: [id], subject: 'Fulmar', text: 'It stays here.' });
  admin = new pg.Client({
    connectionString: Object.assign(new URL(yard.databaseUrl), { pathname: '/postgres' }).toString(),
  });
  await admin.connect();
});
afterAll(async () => {
  for (const name of emptyNames) await admin.query(`drop database ${name} with (force)`);
  await admin.end();
  await yard.close();
  rmSync(folder, { recursive: true, force: true });
});

async function emptyDatabase(): Promise<string> {
  const name = `test_restore_${emptyNames.length}_${new URL(yard.databaseUrl).pathname.slice(6)}`;
  emptyNames.push(name);
  await admin.query(`create database ${name}`);
  return Object.assign(new URL(yard.databaseUrl), { pathname: `/${name}` }).toString();
}

async function ask<T extends pg.QueryResultRow>(url: string, text: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query<T>(text)).rows;
  } finally {
    await client.end();
  }
}

test('what comes back is what went in, without who was signed in and without secrets', async () => {
  const kept = await backup(yard.databaseUrl, file);
  expect(kept.rows).toBeGreaterThan(50);
  const url = await emptyDatabase();
  expect(await restore(url, file)).toEqual(kept);
  for (const table of LEFT_OUT)
    expect({ table, rows: await ask(url, `select * from ${table}`) }).toEqual({ table, rows: [] });
  // Mail that waited may have gone since.
  expect(await ask(url, 'select state, fault from mail')).toMatchObject([
    { state: 'stopped', fault: expect.stringContaining('from a backup') },
  ]);
  // Compared by ourselves as well, not by the script alone.
  const engines = 'select serial, in_service_on::text from engine order by serial';
  expect(await ask(url, engines)).toEqual(await ask(yard.databaseUrl, engines));
  // What is never changed stays so.
  await expect(ask(url, "update audit set act = 'x'")).rejects.toThrow();
});

test('a backup whose rows are not what was tallied is taken away again', async () => {
  const damaged = join(folder, 'damaged.backup');
  copyFileSync(file, damaged);
  const tallies = JSON.parse(readFileSync(`${file}.json`, 'utf8')) as { tables: Record<string, { sum: string }> };
  tallies.tables['public.engine']!.sum += '1';
  writeFileSync(`${damaged}.json`, JSON.stringify(tallies));
  const url = await emptyDatabase();
  await expect(restore(url, damaged)).rejects.toThrow(/not what went in, in public.engine/);
  expect(await ask(url, "select 1 from information_schema.tables where table_schema = 'public'")).toEqual([]);
  // Half a file.
  const half = join(folder, 'half.backup');
  writeFileSync(half, readFileSync(file).subarray(0, 60_000));
  copyFileSync(`${file}.json`, `${half}.json`);
  await expect(restore(url, half)).rejects.toThrow(/pg_restore failed/);
  expect(await ask(url, "select 1 from information_schema.tables where table_schema = 'public'")).toEqual([]);
});

test('nothing is written over: neither a file nor a book', async () => {
  await expect(backup(yard.databaseUrl, file)).rejects.toThrow(/is there already/);
  await expect(restore(yard.databaseUrl, file)).rejects.toThrow(/a book in this database already/);
  await expect(restore(await emptyDatabase(), join(folder, 'none'))).rejects.toThrow(/two files/);
});

test('where nobody is left who lets people in, a command makes somebody', async () => {
  const migrations = join(import.meta.dirname, 'migrations');
  const password = await makeAdministrator(yard.databaseUrl, migrations, 'manager');
  const manager = yard.visitor();
  await manager.signIn('manager', password);
  expect(await manager.get('/session')).toMatchObject({ person: { role: 'administrator' } });
  const fresh = yard.visitor();
  await fresh.signIn('edda', await makeAdministrator(yard.databaseUrl, migrations, 'Edda'));
  expect((await fresh.raw('get', '/records/audit')).status).toBe(200);
  await expect(makeAdministrator(yard.databaseUrl, migrations, '9')).rejects.toThrow(/letter first/);
});
