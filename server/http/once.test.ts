import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { QUOTAS } from '@diurna/contract';
import { randomUUID } from 'node:crypto';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { forgetKeys } from './once.ts';

let yard: Yard;
let ilse: Client;
const now = new Date('2026-04-15T10:00:00Z');
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
});
afterAll(() => yard.close());

const boats = async () => (await ilse.get<{ rows: { name: string }[] }>('/fleet/boats?size=200')).rows.length;
const add = (key: string, name: string, client = ilse) =>
  client.raw('post', '/fleet/boats', { name, baseId: yard.baseId, berth: null }).set('idempotency-key', key);

describe('a write with a key of its own', () => {
  test('sent again because its answer was lost, is done once and answered the same', async () => {
    const key = randomUUID();
    const first = await add(key, 'Dunlin');
    expect(first.status).toBe(200);
    const before = await boats();
    const again = await add(key, 'Dunlin');
    expect([again.status, again.body]).toEqual([200, first.body]);
    expect(await boats()).toBe(before);
    // Without a key the name is taken.
    expect(
      (await ilse.refused('post', '/fleet/boats', { name: 'Dunlin', baseId: yard.baseId, berth: null })).status,
    ).toBe(409);
  });

  test('sent twice at the same moment, is done once', async () => {
    const key = randomUUID();
    const before = await boats();
    const replies = await Promise.all(Array.from({ length: 6 }, () => add(key, 'Sanderling')));
    expect(await boats()).toBe(before + 1);
    for (const { status } of replies) expect([200, 409]).toContain(status);
    expect(replies.some((r) => r.status === 200)).toBe(true);
    expect((await add(key, 'Sanderling')).status).toBe(200);
  });

  test('that was refused is not done: the same key may be used once it is put right', async () => {
    const key = randomUUID();
    expect((await add(key, 'Dunlin')).status).toBe(409);
    expect((await add(key, 'Curlew')).status).toBe(200);
  });

  test('the key belongs to one request of one person', async () => {
    const key = randomUUID();
    await add(key, 'Whimbrel');
    expect((await add(key, 'Greenshank')).status).toBe(422);
    const admin = await yard.as('administrator');
    expect((await add(key, 'Redshank', admin)).status).toBe(200);
    expect((await add('short', 'X')).status).toBe(400);
  });

  test('an answer that shows a secret is kept nowhere', async () => {
    const key = randomUUID();
    const admin = await yard.as('administrator');
    const boatId = (await ilse.get<{ rows: { id: number }[] }>('/fleet/boats')).rows[0]!.id;
    const post = () =>
      admin.raw('post', '/gateways', { name: 'Box', boatId, active: true }).set('idempotency-key', key);
    const secret = ((await post()).body as { key: string }).key;
    const again = await post();
    expect(again.status).toBe(409);
    expect((again.body as { detail: string }).detail).toContain('done already');
    const { rows } = await yard.pool.query<{ all: string }>(
      'select string_agg(d::text, $1) as all from request_done d',
      ['\n'],
    );
    expect(rows[0]!.all).not.toContain(secret);
  });

  test('is forgotten after a day', async () => {
    const kept = async () => (await yard.pool.query('select 1 from request_done')).rowCount;
    await forgetKeys(yard.db, new Date(now.getTime() + 86_400_000));
    expect(await kept()).toBeGreaterThan(0);
    await forgetKeys(yard.db, new Date(now.getTime() + 86_400_001));
    expect(await kept()).toBe(0);
  });
});

test('files read in an hour have an end, said with when there is more; others go on', async () => {
  await yard.pool.query(`insert into sign_in_throttle (key, points, expire) values ($1, $2, $3)`, [
    `quota-import:${yard.people.coordinator}`,
    QUOTAS.import.anHour,
    Math.round(performance.timeOrigin) + 1_800_000,
  ]);
  const refused = await ilse.raw('post', '/exchange/fleet/preview', FLEET_CSV);
  expect(refused.status).toBe(429);
  expect((refused.body as { detail: string }).detail).toMatch(
    /^That was 120 files read in within an hour.*in \d+ min\.$/,
  );
  expect(Number(refused.headers['retry-after'])).toBeGreaterThan(60);
  expect((await (await yard.as('administrator')).raw('post', '/exchange/fleet/preview', FLEET_CSV)).status).toBe(200);
});
