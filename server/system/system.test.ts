import type { Health, LastDay } from '@diurna/contract/system';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import { pino } from 'pino';
import { bareStatement } from '../db/slow.ts';
import { openYard, type Client, type Yard } from '../test/yard.ts';
import { addBuckets, boundOf, BOUNDS, countIn, emptyBuckets } from './buckets.ts';

let now = new Date('2026-04-15T10:20:00Z');
let yard: Yard;
let admin: Client;
let server: Server;
let address = '';
const logged: string[] = [];
beforeAll(async () => {
  yard = await openYard(() => now, {
    logger: pino({ level: 'warn' }, { write: (line: string) => void logged.push(line) }),
    statementMs: 1_500,
  });
  admin = await yard.as('administrator');
  server = createServer(yard.app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await yard.close();
});

describe('how long answers took, in buckets', () => {
  test('the bound is never below the true quantile and at most one bucket above it', () => {
    // Lehmer's generator (Park and Miller, 1988): the same numbers every time.
    let seed = 1;
    const random = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
    const times = Array.from({ length: 2000 }, () => 4000 * random() ** 4).sort((a, b) => a - b);
    const [even, odd] = [emptyBuckets(), emptyBuckets()];
    times.forEach((ms, i) => {
      countIn(i % 2 === 0 ? even : odd, ms);
    });
    const all = addBuckets(even, odd);
    for (const share of [0.5, 0.9, 0.95, 0.99]) {
      const exact = times[Math.ceil(share * times.length) - 1]!;
      const bound = boundOf(all, share);
      expect(bound).toBeGreaterThanOrEqual(exact);
      expect(BOUNDS.filter((b) => b >= exact && b < bound)).toEqual([]);
    }
  });

  test('nothing counted is 0, and what is beyond all bounds is the largest', () => {
    expect(boundOf(emptyBuckets(), 0.95)).toBe(0);
    const one = emptyBuckets();
    countIn(one, 1e6);
    expect(boundOf(one, 0.5)).toBe(10_000);
  });
});

describe('health', () => {
  test('a database that is away: alive, not ready, with the reason and when to ask again', async () => {
    const cut = yard.pool.query.bind(yard.pool);
    const away = () => Promise.reject(Object.assign(new Error('gone'), { code: 'ECONNREFUSED' }));
    (yard.pool as { query: unknown }).query = away;
    try {
      const reply = await fetch(`${address}/api/health`);
      expect(reply.status).toBe(503);
      expect(reply.headers.get('retry-after')).toBe('2');
      expect((await reply.json()) as Health).toMatchObject({
        alive: true,
        ready: false,
        why: ['The database does not answer.'],
      });
      // Whoever only wants to know whether to start it anew is not led astray.
      expect((await fetch(`${address}/api/health?only=alive`)).status).toBe(200);
    } finally {
      (yard.pool as { query: unknown }).query = cut;
    }
    expect(((await (await fetch(`${address}/api/health`)).json()) as Health).ready).toBe(true);
  });
});

describe('metrics', () => {
  test('are told this machine, by the names of routes and never by what was asked', async () => {
    await admin.get('/fleet/bases');
    await fetch(`${address}/api/nothing/secret-4711`);
    const reply = await fetch(`${address}/metrics`);
    expect(reply.headers.get('content-type')).toContain('text/plain');
    const text = await reply.text();
    expect(text).toMatch(/http_request_duration_seconds_count\{method="GET",route="listBases",status="200"\} [1-9]/);
    expect(text).toMatch(/http_request_duration_seconds_count\{method="GET",route="other",status="404"\} [1-9]/);
    expect(text).toMatch(/^nodejs_eventloop_lag_p99_seconds /m);
    // As a name: a figure may have these digits by chance.
    expect(text).not.toMatch(/secret|["/-]4711/);
  });

  test('are not there for what a proxy passed on', async () => {
    for (const header of ['x-forwarded-for', 'forwarded', 'via', 'x-real-ip'])
      expect((await fetch(`${address}/metrics`, { headers: { [header]: '10.0.0.1' } })).status).toBe(404);
  });
});

describe('a statement that takes long', () => {
  test('is told in the log and on the page, without what it was about', async () => {
    logged.length = 0;
    // On a machine that is held down others may be slower: it is looked for by its words.
    await yard.pool.query(`select pg_sleep($1), 'secret-4711' as kept`, [0.3]);
    const line = logged.find((l) => l.includes('slow statement') && l.includes('pg_sleep'));
    expect(line).toContain('select pg_sleep($?), ? as kept');
    expect(logged.join('')).not.toContain('4711');
    const { statements } = await admin.get<LastDay>('/records/last-day');
    const told = statements.find((x) => x.what === 'select pg_sleep($?), ? as kept')!;
    expect(told.at).toBe(now.toISOString());
    expect(told.took).toBeGreaterThanOrEqual(300);
  });

  test('texts, numbers and lines within a statement are taken out', () => {
    expect(bareStatement(`select *\n  from a where b = 'it''s me' and c = 12.5`)).toBe(
      'select * from a where b = ? and c = ?',
    );
  });
});

describe('the last day', () => {
  test('adds up the hours, told by the process, and by another that told before', async () => {
    now = new Date('2026-04-15T12:20:00Z');
    await yard.pool.query(
      `insert into watched_hour values ('2026-04-15T12:00:00Z', gen_random_uuid(), $1, $2), ('2026-04-13T12:00:00Z', gen_random_uuid(), $1, $2)`,
      [
        now,
        {
          requests: 100,
          failed: 3,
          busy: 2,
          took: emptyBuckets().map((_, i) => (BOUNDS[i] === 1000 ? 100 : 0)),
          loopP99: 70,
          memory: 50_000,
          // Longer than anything that really happens here.
          slowRequests: [{ what: 'readDay', took: 999_999, at: now.toISOString() }],
          slowStatements: [],
        },
      ],
    );
    for (let i = 0; i < 4; i++) await admin.get('/fleet/bases');
    const day = await admin.get<LastDay>('/records/last-day');
    expect(day).toMatchObject({ version: 'test', processes: 2, database: expect.stringMatching(/^1[5-9]/) });
    expect(day.hours).toHaveLength(24);
    expect(day.hours.at(-1)).toMatchObject({
      hour: '2026-04-15T12:00:00.000Z',
      requests: 104,
      failed: 3,
      busy: 2,
      p50: 1000,
      memory: 50_000,
    });
    // What is older than a day is not part of it.
    expect(day.hours.reduce((n, h) => n + h.failed, 0)).toBe(3);
    expect(day.requests[0]).toEqual({ what: 'readDay', took: 999_999, at: now.toISOString() });
  });

  test('is for administrators', async () => {
    expect((await (await yard.as('coordinator')).refused('get', '/records/last-day')).status).toBe(403);
  });
});
