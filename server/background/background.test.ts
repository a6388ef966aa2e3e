import type { BackgroundKind, BackgroundRow } from '@diurna/contract/background';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import { pino } from 'pino';
import { openYard, type Client, type Yard } from '../test/yard.ts';
import { followBook, Queue } from './index.ts';
import type { Doer } from './queue.ts';
import { answered } from '../test/until.ts';

const now = new Date('2026-04-15T10:00:00Z');
const silent = pino({ level: 'silent' });
const EVENT = 'BEGIN:VEVENT\nUID:a\nSUMMARY:Knot\nDTSTART:20260420T120000Z\nDTEND:20260420T160000Z\nEND:VEVENT';

let yard: Yard;
let admin: Client;
let desk: Server;
let url = '';
/** Status the desk answers with, and who is let wait for it. */
let status = 200;
let asked = 0;
let held: (() => void)[] = [];
let holding = false;

beforeAll(async () => {
  desk = createServer((_req, res) => {
    asked++;
    const answer = () =>
      res.writeHead(status).end(`BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:-//x//EN\n${EVENT}\nEND:VCALENDAR`);
    if (holding) held.push(answer);
    else answer();
  });
  await new Promise<void>((resolve) => desk.listen(0, '127.0.0.1', resolve));
  const { port } = desk.address() as { port: number };
  url = `http://127.0.0.1:${port}/hires.ics`;
  yard = await openYard(() => now, { privateFeeds: [`127.0.0.1:${port}`] });
  admin = await yard.as('administrator');
  await admin.post('/hires/feeds', { name: 'Front desk', url, baseId: yard.baseId, active: true });
  await yard.queue.start(true);
});
afterAll(async () => {
  for (const answer of held) answer();
  await yard.close();
  desk.closeAllConnections();
  desk.close();
});
beforeEach(() => {
  status = 200;
  holding = false;
});

const list = (query = '') =>
  admin.get<{ rows: BackgroundRow[]; total: number; counts: Record<string, number> }>(`/records/background?${query}`);
const due = () => yard.queue.send({ kind: 'feed', title: 'Front desk', subjectId: 1, personId: null, requestId: null });
/** Who does each kind of work in a test: what is not named comes to an end at once. */
const doing = (doers: Partial<Record<BackgroundKind, Doer>>): Record<BackgroundKind, Doer> => {
  const nothing = () => Promise.resolve('');
  return { feed: nothing, mail: nothing, morning: nothing, order: nothing, tidy: nothing, ...doers };
};
async function until(id: string, ...states: BackgroundRow['state'][]): Promise<BackgroundRow> {
  let found: BackgroundRow | undefined;
  return answered(
    async () => {
      found = (await list('size=100')).rows.find((r) => r.id === id);
      return found && states.includes(found.state) ? found : null;
    },
    () => `it is ${found?.state}, not ${states.join(' or ')}`,
  );
}

test('work is done by one of several processes, and stands in the list with what came of it', async () => {
  const other = new Queue(
    yard.pool,
    doing({ feed: () => Promise.resolve('by the other'), tidy: () => Promise.resolve('') }),
    silent,
  );
  await other.start(true);
  asked = 0;
  const ids = await Promise.all(Array.from({ length: 6 }, due));
  const rows = await Promise.all(ids.map((id) => until(id!, 'done')));
  await other.stop();
  // Each was done once, here or there.
  expect(rows.filter((r) => r.outcome !== 'by the other')).toHaveLength(asked);
  expect(rows[0]).toMatchObject({ kind: 'feed', title: 'Front desk', tries: 1, mostTries: 3, next: null });
  // By the book's clock, which stands here.
  expect(Math.abs(Date.parse(rows[0]!.sent) - now.getTime())).toBeLessThan(60_000);
  expect((await list('state=done&kind=feed')).total).toBe(6);
  expect((await list('kind=tidy')).total).toBe(0);
});

test('a database that is away while a new book’s queue starts: it starts all the same when it is back', async () => {
  const fresh = await openYard(() => now);
  let away = 1;
  const pool = Object.create(fresh.pool, {
    query: {
      value: (...given: Parameters<typeof fresh.pool.query>) =>
        away-- > 0 ? Promise.reject(new Error('timeout exceeded when trying to connect')) : fresh.pool.query(...given),
    },
  }) as typeof fresh.pool;
  const late = new Queue(pool, doing({ feed: () => Promise.resolve(''), tidy: () => Promise.resolve('') }), silent);
  const started = await Promise.race([
    late.start(false).then(() => true),
    new Promise<false>((resolve) => {
      setTimeout(resolve, 90_000, false);
    }),
  ]);
  expect(started).toBe(true);
  expect(await late.send({ kind: 'tidy', title: 'Late', subjectId: null, personId: null, requestId: null })).toEqual(
    expect.any(String),
  );
  await late.stop();
  await fresh.close();
});

test('what fails says why and is tried again; stopped it is not, and it can be repeated', async () => {
  status = 403;
  const id = (await due())!;
  const again = await until(id, 'again');
  expect(again).toMatchObject({ tries: 1, outcome: expect.stringContaining('cannot be read at this address') });
  expect(Date.parse(again.next!)).toBeGreaterThan(Date.parse(again.sent) + 15_000);
  expect((await admin.refused('post', `/records/background/${id}/repeat`)).detail).toContain('waits or is under way');
  await admin.post(`/records/background/${id}/stop`);
  expect(await until(id, 'stopped')).toMatchObject({ next: null });
  expect((await admin.refused('post', `/records/background/${id}/stop`)).status).toBe(409);
  status = 200;
  const { id: repeated } = await admin.post<{ id: string }>(`/records/background/${id}/repeat`);
  expect(repeated).not.toBe(id);
  expect((await until(repeated, 'done')).outcome).toBe('Empty; 1 left out, because they name no boat or no time.');
  const { rows } = await admin.get<{ rows: { act: string; title: string }[] }>(
    '/records/audit?subject=work behind the scenes',
  );
  expect(rows.map((r) => [r.act, r.title])).toEqual([
    ['added', 'Front desk'],
    ['cancelled', 'Front desk'],
  ]);
});

test('work under way is let go when it is stopped, and writes nothing any more', async () => {
  holding = true;
  const id = (await due())!;
  await until(id, 'at work');
  while (held.length === 0) await new Promise((r) => setTimeout(r, 25));
  await yard.pool.query("update hire_feed set outcome = 'as it was'");
  await admin.post(`/records/background/${id}/stop`);
  expect((await until(id, 'stopped')).state).toBe('stopped');
  // Let go within two seconds; only then the calendar answers.
  await new Promise((r) => setTimeout(r, 1_500));
  for (const answer of held.splice(0)) answer();
  holding = false;
  // The one who had it in hand takes the next, which writes its outcome.
  await new Promise((r) => setTimeout(r, 300));
  const outcome = async () =>
    (await yard.pool.query<{ outcome: string }>('select outcome from hire_feed')).rows[0]!.outcome;
  expect(await outcome()).toBe('as it was');
  await until((await due())!, 'done');
  expect(await outcome()).not.toBe('as it was');
});

test('the database throws everybody out: the queue goes on by itself', async () => {
  await yard.pool
    .query('select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database()')
    .catch(() => undefined);
  // The pool hears of its lost connections one after the other.
  let id: string | null = null;
  while (id === null) id = await due().catch(() => null);
  await until(id, 'done');
});

test('a process died with work in hand: when its time is over another takes it', async () => {
  const left = new Queue(
    yard.pool,
    doing({ feed: () => new Promise(() => undefined), tidy: () => Promise.resolve('') }),
    silent,
  );
  await yard.queue.stop();
  await left.start(true);
  const sent = (await left.send({ kind: 'feed', title: 'Front desk', subjectId: 1, personId: null, requestId: null }))!;
  const state = async () =>
    (await yard.pool.query<{ state: string }>('select state from background.job where id = $1', [sent])).rows[0]!.state;
  while ((await state()) !== 'active') await new Promise((r) => setTimeout(r, 25));
  await left.stop(50);
  await yard.pool.query(`update background.job set started_on = started_on - interval '1 hour' where id = $1`, [sent]);
  const next = new Queue(
    yard.pool,
    doing({ feed: () => Promise.resolve('in the end'), tidy: () => Promise.resolve('') }),
    silent,
  );
  // The first thing it does is to look for what was left.
  await next.start(true);
  while ((await state()) === 'active') await new Promise((r) => setTimeout(r, 25));
  expect(await state()).toBe('retry');
  await yard.pool.query('update background.job set start_after = started_on where id = $1', [sent]);
  while ((await state()) !== 'completed') await new Promise((r) => setTimeout(r, 25));
  await next.stop();
});

describe('what the book does by itself', () => {
  test('is put into the queue once, however many processes look', async () => {
    const queue = new Queue(
      yard.pool,
      doing({ feed: () => Promise.resolve('read'), tidy: () => Promise.resolve('tidied') }),
      silent,
    );
    await queue.start(false);
    await yard.pool.query('delete from background.job');
    await yard.pool.query('update hire_feed set read_at = null');
    const looks = [1, 2, 3].map(() => followBook(yard.db, queue, () => now, silent, { mail: false }));
    await Promise.all(looks.map((l) => l.look()));
    const { rows } = await yard.pool.query<{ name: string; n: number }>(
      'select name, count(*)::int as n from background.job group by name order by name',
    );
    expect(rows).toEqual([
      { name: 'feed', n: 1 },
      { name: 'tidy', n: 1 },
    ]);
    await Promise.all(looks.map((l) => l.stop()));
    await queue.stop();
  });

  test('a calendar that could not be put into the queue is due as before', async () => {
    const queue = { open: true, send: () => Promise.reject(new Error('the line was cut')) } as unknown as Queue;
    await yard.pool.query('update hire_feed set read_at = null');
    const book = followBook(yard.db, queue, () => now, silent, { mail: false });
    await expect(book.look()).rejects.toThrow('the line was cut');
    await book.stop();
    expect((await yard.pool.query('select read_at from hire_feed')).rows).toEqual([{ read_at: null }]);
  });
});
