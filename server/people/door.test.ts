import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { TOTP, Secret } from 'otpauth';
import request from 'supertest';
import { createApp } from '../app.ts';
import { machineNow } from '../clock.ts';
import { waitAfter } from '../http/throttle.ts';
import { Client, openYard, type Yard } from '../test/yard.ts';

const RIGHT = 'a-long-password';
let yard: Yard;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterEach(() => yard.pool.query('delete from sign_in_throttle'));
afterAll(() => yard.close());

const signIn = (client: Client, username: string, more: object = {}) =>
  client.agent.post('/api/session').send({ username, password: RIGHT, ...more });

/** The same book through another app process, run in another way. */
async function anotherApp(how: Partial<Parameters<typeof createApp>[0]>) {
  const { app, stop } = await createApp({
    pool: yard.pool,
    db: yard.db,
    version: 'test',
    checkReplies: true,
    clock: () => new Date('2026-04-15T10:00:00Z'),
    ...how,
  });
  return { visitor: () => new Client(request.agent(app)), stop };
}

describe('tries', () => {
  const by = (tries: number) => waitAfter(tries, { key: '', free: 5, mostWait: 900 });
  test('the wait doubles, and ends somewhere', () => {
    expect([1, 5, 6, 7, 8, 14, 15, 1000].map(by)).toEqual([0, 0, 2, 4, 8, 512, 900, 900]);
  });

  test('of many guesses at once no more are looked at than one after the other', async () => {
    const answers = await Promise.all(
      Array.from({ length: 30 }, () => signIn(yard.visitor(), 'dock', { password: 'a-wrong-password' })),
    );
    const looked = answers.filter((a) => a.status === 401).length;
    expect(looked).toBeLessThanOrEqual(6);
    const refused = answers.find((a) => a.status === 429)!;
    expect(Number(refused.headers['retry-after'])).toBeGreaterThan(0);
    expect((refused.body as { detail: string }).detail).toMatch(/^Too many tries. Wait \d+ (s|min)/);
  });

  test('who guesses elsewhere keeps nobody out who has signed in with this browser before', async () => {
    const own = yard.visitor();
    await own.signIn('dock');
    for (let i = 0; i < 8; i++) await signIn(yard.visitor(), 'dock', { password: 'a-wrong-password' });
    expect((await signIn(yard.visitor(), 'dock')).status).toBe(429);
    expect((await signIn(own, 'dock')).status).toBe(200);
  });

  test('where a request says it comes from is believed of trusted proxies alone', async () => {
    const guess = (client: Client, from: string) =>
      client.agent
        .post('/api/session')
        .set('x-forwarded-for', from)
        .send({ username: 'dock', password: 'a-wrong-password' });
    for (let i = 0; i < 8; i++) await guess(yard.visitor(), `203.0.113.${i}`);
    expect((await guess(yard.visitor(), '203.0.113.99')).status).toBe(429);
    await yard.pool.query('delete from sign_in_throttle');
    const behind = await anotherApp({ trustedProxies: ['loopback'] });
    for (let i = 0; i < 8; i++) await guess(behind.visitor(), '203.0.113.1');
    expect((await guess(behind.visitor(), '203.0.113.1')).status).toBe(429);
    expect((await guess(behind.visitor(), '203.0.113.2')).status).toBe(401);
    behind.stop();
  });

  test('the present password cannot be guessed at a desk left open', async () => {
    const desk = await yard.as('stores');
    const change = () => desk.refused('put', '/session/password', { current: 'guess', next: 'copper heron tidal jig' });
    for (let i = 0; i < 5; i++) expect((await change()).status).toBe(422);
    await change();
    expect((await change()).status).toBe(429);
  });

  test('boxes with wrong keys wait as well', async () => {
    const knock = () =>
      yard
        .visitor()
        .agent.post('/api/gateway/messages')
        .set('authorization', `Bearer ${'x'.repeat(32)}`)
        .send({ messages: [] });
    const answers = [];
    for (let i = 0; i < 63; i++) answers.push((await knock()).status);
    expect(answers.slice(0, 60).every((s) => s === 401)).toBe(true);
    expect(answers.at(-1)).toBe(429);
  });
});

describe('passwords', () => {
  test.each([
    ['elevenchars', 422],
    ['qwerty123456', 422],
    ['x'.repeat(129), 422],
    ['copper heron tidal jig', 200],
  ])('%s as a new one: %d', async (next, status) => {
    const me = yard.visitor();
    await me.signIn('manager').catch(() => me.signIn('manager', 'copper heron tidal jig'));
    const reply = await me.raw('put', '/session/password', { current: RIGHT, next });
    expect(reply.status).toBe(status);
    if (status === 422) expect(JSON.stringify(reply.body)).toContain('"path":"next"');
    await yard.pool.query(
      `update person set password_hash = (select password_hash from person where username = 'dock') where username =
        'manager'`,
    );
  });
});

describe('sessions', () => {
  const age = (who: string, minutes: number) =>
    yard.pool.query(
      `update session set seen_at = to_timestamp($2)
       where (sess ->> 'personId')::int = (select id from person where username = $1)`,
      [who, machineNow() / 1000 - minutes * 60],
    );

  test('one left alone ends after twelve hours, on a shared device after a quarter of one', async () => {
    const own = await yard.as('technician');
    await age('technician', 11 * 60);
    expect((await own.raw('get', '/jobs')).status).toBe(200);
    await age('technician', 12 * 60 + 1);
    expect((await own.raw('get', '/jobs')).status).toBe(401);
    const shared = yard.visitor();
    expect((await signIn(shared, 'technician', { shared: true })).body).toMatchObject({ shared: true });
    await age('technician', 14);
    expect((await shared.raw('get', '/jobs')).status).toBe(200);
    await age('technician', 16);
    expect((await shared.raw('get', '/jobs')).status).toBe(401);
  });

  test('what a screen asks by itself keeps no session open; somebody there does', async () => {
    const shared = yard.visitor();
    await signIn(shared, 'technician', { shared: true });
    await age('technician', 10);
    await shared.raw('get', '/jobs');
    await age('technician', 14);
    await shared.raw('get', '/jobs').set('x-diurna-present', '1');
    const { rows } = await yard.pool.query<{ fresh: boolean }>(
      `select seen_at > to_timestamp($2) as fresh from session
       where (sess ->> 'personId')::int = $1 order by seen_at desc limit 1`,
      [yard.people.technician, machineNow() / 1000 - 60],
    );
    expect(rows[0]!.fresh).toBe(true);
  });

  test('on a shared device it ends after half a day in any case', async () => {
    const reply = await signIn(yard.visitor(), 'technician', { shared: true });
    const cookie = String(reply.headers['set-cookie']);
    const expires = Date.parse(/diurna=[^;]+;[^,]*Expires=(\w+, [^;]+)/.exec(cookie)![1]!);
    expect(Math.round((expires - Date.parse(String(reply.headers.date))) / 3_600_000)).toBe(12);
  });

  test('are listed by browser, and ended one by one', async () => {
    await yard.pool.query("delete from session where (sess ->> 'personId')::int = $1", [yard.people.dock]);
    const phone = yard.visitor();
    await phone.agent
      .post('/api/session')
      .set(
        'user-agent',
        'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0.0.0 Mobile Safari/537.36',
      )
      .send({ username: 'dock', password: RIGHT, shared: true });
    const desk = await yard.as('dock');
    interface Line {
      key: string;
      device: string;
      shared: boolean;
      here: boolean;
    }
    const listed = await desk.get<Line[]>('/session/devices');
    expect(listed.map(({ device, shared, here }) => ({ device, shared, here }))).toEqual(
      expect.arrayContaining([
        { device: 'a program', shared: false, here: true },
        { device: 'Chrome on Android, phone', shared: true, here: false },
      ]),
    );
    expect(listed).toHaveLength(2);
    const other = listed.find((l) => !l.here)!;
    // Nobody ends another's.
    const stranger = await yard.as('manager');
    expect((await stranger.refused('delete', `/session/devices/${other.key}`)).status).toBe(404);
    await desk.raw('delete', `/session/devices/${other.key}`);
    expect((await phone.raw('get', '/jobs')).status).toBe(401);
    expect((await desk.raw('get', '/jobs')).status).toBe(200);
  });

  test('a sign-in with a new browser is told to the person, one with a known browser is not', async () => {
    const told = async (client: Client) =>
      (await client.get<{ text: string }[]>('/session/notices')).filter((n) => /new device/.test(n.text)).length;
    const known = await yard.as('stores');
    const before = await told(known);
    await signIn(known, 'stores');
    const again = new Client(known.agent);
    expect(await told(again)).toBe(before);
    await yard.as('stores');
    expect(await told(again)).toBe(before + 1);
  });

  test('behind TLS the cookies are bound to the host, and browsers come no other way', async () => {
    const behind = await anotherApp({ secureCookie: true, trustedProxies: ['loopback'] });
    const reply = await behind
      .visitor()
      .agent.post('/api/session')
      .set('x-forwarded-proto', 'https')
      .send({ username: 'dock', password: RIGHT });
    const cookies = reply.headers['set-cookie'] as unknown as string[];
    expect(cookies).toHaveLength(2);
    for (const cookie of cookies) {
      expect(cookie).toMatch(/^__Host-diurna(-device)?=/);
      expect(cookie).toMatch(/Path=\/;/);
      expect(cookie).toMatch(/Secure/);
      expect(cookie).toMatch(/HttpOnly/);
      expect(cookie).not.toMatch(/Domain=/i);
    }
    expect(String(reply.headers['strict-transport-security'])).toMatch(/max-age=63072000; includeSubDomains/);
    behind.stop();
  });
});

test('people of the demo are let in while the book is run as the demo, and never else', async () => {
  const accounts = [{ username: 'manager', password: RIGHT, name: 'M', role: 'manager' as const }];
  await yard.pool.query("update person set open_password = true where username = 'manager'");
  await yard.pool.query('update setting set demo = true');
  const demo = await anotherApp({ demoAccounts: accounts });
  const inside = demo.visitor();
  await inside.signIn('manager');
  expect((await inside.raw('get', '/people')).status).toBe(200);
  // Run without: nobody comes in, and who was in is out. Cookies are those of the same book.
  expect((await signIn(yard.visitor(), 'manager')).status).toBe(401);
  const cookie = (await signIn(inside, 'manager')).headers['set-cookie'] as unknown as string[];
  const elsewhere = await request(yard.app)
    .get('/api/people')
    .set('cookie', cookie.map((c) => c.split(';')[0]!).join('; '));
  expect(elsewhere.status).toBe(401);
  // A book that is no demo, run with the demo's options.
  await yard.pool.query('update setting set demo = false');
  expect((await signIn(demo.visitor(), 'manager')).status).toBe(401);
  demo.stop();
  // A password of one's own opens again.
  const admin = await yard.as('administrator');
  const me = (await admin.get<{ id: number; username: string; version: number }[]>('/people')).find(
    (p) => p.username === 'manager',
  )!;
  const edit = { name: 'manager', username: 'manager', role: 'manager', baseId: yard.baseId, active: true };
  await admin.put(`/people/${me.id}`, { ...edit, version: me.version, password: 'copper heron tidal jig' });
  await yard.visitor().signIn('manager', 'copper heron tidal jig');
  await admin.put(`/people/${me.id}`, { ...edit, version: me.version + 1, password: RIGHT });
});

describe('a second factor', () => {
  const codeAt = (secret: string, stepsOn = 0) =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: machineNow() + stepsOn * 30_000 });
  let coordinator: Client;
  let secret: string;
  let recovery: string[];

  test('is set up with the password, and counts once its code was right', async () => {
    coordinator = await yard.as('coordinator');
    expect((await coordinator.refused('post', '/session/second-factor', { password: 'nope' })).status).toBe(422);
    const begun = await coordinator.post<{ secret: string; uri: string }>('/session/second-factor', {
      password: RIGHT,
    });
    secret = begun.secret;
    expect(begun.uri).toMatch(/^otpauth:\/\/totp\/Diurna%20Test%20Boats:coordinator\?/);
    // Not yet asked for.
    expect((await signIn(yard.visitor(), 'coordinator')).status).toBe(200);
    expect((await coordinator.refused('put', '/session/second-factor', { code: '000000' })).faults?.[0]?.path).toBe(
      'code',
    );
    const confirmed = await coordinator.put<{ recoveryCodes: string[] }>('/session/second-factor', {
      code: codeAt(secret, -1),
    });
    recovery = confirmed.recoveryCodes;
    expect(new Set(recovery).size).toBe(10);
    expect(await coordinator.get('/session/second-factor')).toEqual({ on: true, asked: false, recoveryLeft: 10 });
  });

  test('is asked for at the door, after the password; no code opens twice', async () => {
    const asked = await signIn(yard.visitor(), 'coordinator');
    expect(asked.status).toBe(401);
    expect(asked.body).toMatchObject({ type: 'second-factor' });
    // With a wrong password nothing tells that there is one.
    const wrong = await signIn(yard.visitor(), 'coordinator', { password: 'a-wrong-password' });
    expect((wrong.body as { type: string }).type).toBe('about:blank');
    const code = codeAt(secret);
    const both = await Promise.all([
      signIn(yard.visitor(), 'coordinator', { code }),
      signIn(yard.visitor(), 'coordinator', { code }),
    ]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 401]);
    expect((await signIn(yard.visitor(), 'coordinator', { code: codeAt(secret, -1) })).status).toBe(401);
  });

  test('a code for recovery opens once, also when two come at once', async () => {
    const code = recovery[0]!.toLowerCase().replaceAll('-', ' ');
    const both = await Promise.all([
      signIn(yard.visitor(), 'coordinator', { code }),
      signIn(yard.visitor(), 'coordinator', { code }),
    ]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 401]);
    expect(await coordinator.get('/session/second-factor')).toMatchObject({ recoveryLeft: 9 });
  });

  test('codes cannot be guessed one after the other', async () => {
    const answers = [];
    for (let i = 0; i < 8; i++)
      answers.push((await signIn(yard.visitor(), 'coordinator', { code: String(100_000 + i) })).status);
    expect(answers).toContain(429);
  });

  test('an administrator resets it for who lost everything', async () => {
    const admin = await yard.as('administrator');
    await admin.raw('delete', `/people/${yard.people.coordinator}/second-factor`);
    expect((await signIn(yard.visitor(), 'coordinator')).status).toBe(200);
    expect((await admin.refused('delete', `/people/${yard.people.coordinator}/second-factor`)).status).toBe(409);
  });

  test('where the yard asks for one, nothing else is open before it is set up', async () => {
    const admin = await yard.as('administrator');
    const settings = await admin.get<{ version: number }>('/settings');
    await admin.put('/settings', { ...settings, secondFactor: true });
    const half = yard.visitor();
    await half.signIn('coordinator');
    expect(await half.get('/session')).toMatchObject({ halfway: true });
    expect((await half.refused('get', '/people')).detail).toMatch(/second factor/);
    expect((await (await yard.as('technician')).raw('get', '/people')).status).toBe(200);
    // Whoever was in already has to as well.
    expect((await admin.refused('get', '/people')).status).toBe(403);
    for (const client of [half, admin]) {
      const { secret: own } = await client.post<{ secret: string }>('/session/second-factor', { password: RIGHT });
      await client.put('/session/second-factor', { code: codeAt(own) });
      expect((await client.raw('get', '/people')).status).toBe(200);
    }
    expect((await half.refused('post', '/session/second-factor/end', { password: RIGHT })).status).toBe(422);
    const now = await admin.get<{ version: number }>('/settings');
    await admin.put('/settings', { ...now, secondFactor: false });
    await half.post('/session/second-factor/end', { password: RIGHT });
    expect((await signIn(yard.visitor(), 'coordinator')).status).toBe(200);
  });

  test('nothing of it stands in the audit or in what people are told', async () => {
    const admin = await yard.as('administrator');
    const audit = JSON.stringify(await admin.get('/records/audit?size=200'));
    expect(audit).toMatch(/second factor/);
    expect(audit).not.toContain(secret);
    for (const code of recovery) expect(audit).not.toContain(code);
  });
});
