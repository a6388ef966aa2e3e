import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createServer, get, type ClientRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Cards, tick } from '../test/cards.ts';
import { openTwinYard, PARTS_CSV, write } from '../test/yard.ts';
import { answered } from '../test/until.ts';

/** What one person writes the open screens of all others hear of. */
let own: Awaited<ReturnType<typeof openTwinYard>>;
let server: Server;
let stream: ClientRequest;
const heard: string[] = [];
beforeAll(async () => {
  own = await openTwinYard(() => new Date('2026-04-15T10:00:00Z'));
  await own.ilse.post('/exchange/parts', PARTS_CSV);
  server = createServer(own.yard.app);
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const signedIn = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ username: 'dock', password: 'a-long-password' }),
  });
  const cookie = signedIn.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
  stream = get(`${address}/api/live`, { headers: { cookie } }, (res) => {
    res.setEncoding('utf8');
    res.on('data', (text: string) => {
      heard.push(...[...text.matchAll(/^data: (.*)$/gm)].map((m) => m[1]!));
    });
  });
  stream.on('error', () => undefined);
  await until('hello');
});
afterAll(async () => {
  stream.destroy();
  server.closeAllConnections();
  server.close();
  await own.yard.close();
});

async function hears(what: (message: string) => boolean): Promise<void> {
  await answered(
    () => heard.some(what) || null,
    () => `not told; heard was: ${heard.join(', ')}`,
  );
}
/** Waits for a message; what was heard before is forgotten then. */
async function until(message: string): Promise<void> {
  await hears((m) => m === message);
  expect(heard).toContain(message);
  heard.length = 0;
}

test('a lost connection to the database is made again; screens look anew for what they missed', async () => {
  const listening = `from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()
    and query in ('listen diurna', 'select 1')`;
  await answered(
    async () => (await own.yard.pool.query(`select 1 as n ${listening}`)).rowCount || null,
    () => 'nobody listens',
  );
  await own.yard.pool.query(`select pg_terminate_backend(pid) ${listening}`);
  await until('all');
  await own.ilse.post('/usage/readings', { readings: [{ engineId: own.port, count: 409 }] });
  await until('readings');
});

describe('open screens hear of', () => {
  test('hours that are typed, and of a whole file of them once', async () => {
    await own.ilse.post('/usage/readings', { readings: [{ engineId: own.port, count: 410 }] });
    await until('readings');
    await own.ilse.post(
      '/exchange/hours',
      'serial,read_on,count\nC60-40116,2026-04-15,411\nC60-40117,2026-04-15,409\n',
    );
    await hears((m) => m === 'readings');
    await own.ilse.post('/snags', {
      boatId: own.boatId,
      engineId: null,
      text: 'Loose cleat',
      symptom: null,
      photo: null,
    });
    await hears((m) => m.startsWith('snag '));
    expect(heard.filter((m) => m === 'readings')).toHaveLength(1);
    heard.length = 0;
  });
  test('earlier work that is written down', async () => {
    await own.ilse.post('/exchange/service', 'serial,task,done_on,hours\nC60-40116,engine-oil,2026-04-10,405\n');
    await until('service');
  });
  test('the shelf', async () => {
    const { rows } = await own.ilse.get<{ rows: { id: number }[] }>('/stores/parts');
    await own.ilse.post('/stores/movements', {
      act: 'receive',
      partId: rows[0]!.id,
      baseId: own.yard.baseId,
      quantity: 2,
      note: null,
    });
    await until('stock');
  });
  test('a tick on a card, and nobody who has not signed in', async () => {
    const cards = new Cards(own.ilse, { boatId: own.boatId, technicianId: own.yard.people.technician });
    const id = await cards.hand([[own.port, 'grease']]);
    heard.length = 0;
    await write(own.ines, id, tick('arrive'));
    await until(`card ${id}`);
    await cards.callOff(id);
    const { port } = server.address() as AddressInfo;
    expect((await fetch(`http://127.0.0.1:${port}/api/live`)).status).toBe(401);
    heard.length = 0;
  });
  test('hires', async () => {
    await own.ilse.post('/hires', {
      boatId: own.boatId,
      outDay: '2026-04-20',
      outTime: '09:00',
      backDay: '2026-04-20',
      backTime: '16:00',
      reference: null,
    });
    await until('hires');
  });
  test('rules', async () => {
    await own.ilse.post('/rules/overrides', {
      scope: 'engine',
      scopeId: own.port,
      task: 'engine-oil',
      everyHours: 80,
      everyMonths: null,
      reason: 'works hard',
    });
    await until('rules');
  });
});

test('every table tells of its changes; those that do not are named', async () => {
  const { rows } = await own.yard.pool.query<{ name: string }>(
    `select table_name as name from information_schema.tables t where table_schema = 'public'
       and table_type = 'BASE TABLE' and not exists (select from information_schema.triggers
         where event_object_table = t.table_name and action_statement ~ 'tell_(subject|change)')
       order by 1`,
  );
  expect(rows.map((r) => r.name)).toEqual(
    [
      ...['session', 'sign_in_throttle', 'app_secret', 'second_factor', 'recovery_code', 'known_device'],
      ...['picture_upload', 'request_done', 'watched_hour', 'book_touch_cache', 'engine_touch_cache', 'audit'],
      // How a file's columns are meant is asked for when one is read.
      'file_match',
      // Told with what they belong to, written in the same transaction.
      ...['job_task', 'change_card'],
      // Each message of each box; what it brings is told as a reading, and the page of the boxes asks.
      'gateway_heard',
    ].sort(),
  );
});

test('a mail that went is told: whoever sent it waits for that', async () => {
  heard.length = 0;
  await own.yard.pool.query("update mail set state = 'sent' where false");
  await until('mail');
});

test('a stream ends with its session, also when that was ended elsewhere', async () => {
  const ended = new Promise<void>((resolve) => {
    stream.once('close', resolve);
  });
  await own.yard.pool.query("delete from session where (sess ->> 'personId')::int = $1", [own.yard.people.dock]);
  await ended;
});
