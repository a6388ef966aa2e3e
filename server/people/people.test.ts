import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { routes, type Role, type Route } from '@diurna/contract';
import { ROLES } from '@diurna/contract';
import { openYard, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
beforeAll(async () => {
  yard = await openYard();
});
afterAll(async () => {
  await yard.close();
});

interface Layer {
  route?: { path: string; methods: Record<string, boolean> };
  handle?: { stack?: Layer[] };
}

function registered(layers: Layer[]): string[] {
  return layers.flatMap((l) =>
    l.route ? Object.keys(l.route.methods).map((m) => `${m} ${l.route!.path}`) : registered(l.handle?.stack ?? []),
  );
}

describe('every route states its roles', () => {
  const stated = Object.values(routes as Record<string, Route>);

  test('no route is registered that the contract does not state, and all that are stated exist', () => {
    const found = registered((yard.app as unknown as { router: { stack: Layer[] } }).router.stack).filter((r) =>
      r.includes('/api'),
    );
    expect(found.sort()).toEqual(stated.map((r) => `${r.method} ${r.path}`).sort());
    for (const route of stated)
      expect(
        route.roles === 'anyone' || route.roles === 'signed in' || route.roles === 'gateway' || route.roles.length > 0,
      ).toBe(true);
  });

  test('each role is refused where it should be, and nobody gets past without signing in', async () => {
    const clients = new Map<Role, Client>();
    for (const role of ROLES) clients.set(role, await yard.as(role));
    const stranger = yard.visitor();
    for (const route of stated) {
      if (route.roles === 'anyone') continue;
      const path = route.path.slice(4).replace(':kind', 'fleet').replaceAll(/:\w+/g, '999999');
      // Signing out would end the sessions this test needs.
      if (path.startsWith('/session')) continue;
      // A stream goes on and on; who may listen is checked with the entries of cards.
      if (route.gives === 'text/event-stream') continue;
      expect({ path, status: (await stranger.raw(route.method, path, route.body ? {} : undefined)).status }).toEqual({
        path,
        status: 401,
      });
      for (const role of ROLES) {
        // A person of any role is nobody to a route for boxes.
        if (route.roles === 'gateway') {
          expect((await clients.get(role)!.raw(route.method, path, {})).status).toBe(401);
          continue;
        }
        const may = route.roles === 'signed in' || route.roles.includes(role);
        const { status } = await clients
          .get(role)!
          .raw(route.method, path, route.takes ? 'x' : route.body ? {} : undefined);
        expect({ path, role, refused: status === 403 }).toEqual({ path, role, refused: !may });
        expect(status).toBeLessThan(500);
      }
    }
  });
});

describe('signing in', () => {
  test('the cookie is HttpOnly and SameSite, the token is needed for writes', async () => {
    const client = yard.visitor();
    const reply = await client.agent.post('/api/session').send({ username: 'Manager', password: 'a-long-password' });
    expect(reply.status).toBe(200);
    expect(String(reply.headers['set-cookie'])).toMatch(/HttpOnly; SameSite=Lax/);
    expect((await client.agent.put('/api/session/password').send({ current: 'x', next: 'y' })).status).toBe(403);
    expect((await client.agent.put('/api/session/password').set('x-diurna-token', 'forged').send({})).status).toBe(403);
  });

  test('a sign-in sent by another site is refused', async () => {
    const reply = await yard
      .visitor()
      .agent.post('/api/session')
      .set('sec-fetch-site', 'cross-site')
      .send({ username: 'manager', password: 'a-long-password' });
    expect(reply.status).toBe(403);
  });

  test('a wrong password and an unknown name get the same answer; after five tries one waits, longer each time', async () => {
    const client = yard.visitor();
    const unknown = await client.refused('post', '/session', { username: 'nobody', password: 'wrong-password' });
    for (let i = 0; i < 6; i++) {
      expect((await client.refused('post', '/session', { username: 'dock', password: 'wrong-password' })).detail).toBe(
        unknown.detail,
      );
    }
    const refused = await client.refused('post', '/session', { username: 'dock', password: 'a-long-password' });
    expect(refused).toMatchObject({ status: 429 });
    expect(refused.detail).toMatch(/Wait \d+ (s|min)/);
    await yard.pool.query('delete from sign_in_throttle');
  });

  test('a whole yard may sign in from one address, forty-five times over', async () => {
    for (let i = 0; i < 45; i++) await yard.visitor().signIn('manager');
  });

  test('sign out everywhere ends the sessions on all devices', async () => {
    const phone = await yard.as('technician');
    const desk = await yard.as('technician');
    await phone.raw('delete', '/session/everywhere');
    expect((await desk.raw('get', '/people')).status).toBe(401);
  });

  test('a person who left, and one with a new password, is out at once', async () => {
    const admin = await yard.as('administrator');
    const made = await admin.post<{ id: number; version: number }>('/people', {
      name: 'Temp',
      username: 'temp',
      role: 'technician',
      baseId: null,
      active: true,
      password: 'first-password',
    });
    const temp = yard.visitor();
    await temp.signIn('temp', 'first-password');
    const edit = {
      name: 'Temp',
      username: 'temp',
      role: 'technician',
      baseId: null,
      active: true,
      version: made.version,
    };
    await admin.put(`/people/${made.id}`, { ...edit, password: 'second-password' });
    expect((await temp.raw('get', '/people')).status).toBe(401);
    await temp.signIn('temp', 'second-password');
    await admin.put(`/people/${made.id}`, { ...edit, active: false, version: made.version + 1 });
    expect((await temp.raw('get', '/people')).status).toBe(401);
    expect((await temp.refused('post', '/session', { username: 'temp', password: 'second-password' })).status).toBe(
      401,
    );
  });

  test('hashes are argon2id and never leave the server, not even in the audit', async () => {
    const { rows } = await yard.pool.query<{ password_hash: string }>('select password_hash from person');
    for (const r of rows) expect(r.password_hash).toMatch(/^\$argon2id\$/);
    const admin = await yard.as('administrator');
    const everything =
      JSON.stringify(await admin.get('/people')) + JSON.stringify(await admin.get('/records/audit?size=200'));
    expect(everything).not.toMatch(/argon2|a-long-password|second-password/);
  });

  test('the last administrator stays, and the book begins only once', async () => {
    const admin = await yard.as('administrator');
    const me = (await admin.get<{ id: number; username: string; version: number }[]>('/people')).find(
      (p) => p.username === 'administrator',
    )!;
    const refused = await admin.refused('put', `/people/${me.id}`, {
      name: 'Ada',
      username: 'administrator',
      role: 'manager',
      baseId: null,
      active: true,
      version: me.version,
    });
    expect(refused.detail).toMatch(/last administrator/);
    const again = await admin.refused('post', '/first-run', {
      company: 'X',
      currency: 'EUR',
      baseName: 'B',
      timeZone: 'UTC',
      hemisphere: 'north',
      name: 'N',
      username: 'nn',
      password: 'long-enough-password',
    });
    expect(again.status).toBe(409);
  });

  test('accounts are offered in demo mode only', async () => {
    expect((await yard.visitor().get<{ demoAccounts: unknown[] }>('/session')).demoAccounts).toEqual([]);
  });
});

describe('the shape of things', () => {
  test('errors are problem details with a sentence and the place of the fault', async () => {
    const admin = await yard.as('administrator');
    const problem = await admin.refused('post', '/fleet/boats', { name: '', baseId: 'x', berth: null });
    expect(problem).toMatchObject({ type: 'about:blank', status: 422, title: 'Unprocessable Entity' });
    expect(problem.faults?.map((f) => f.path)).toEqual(['name', 'baseId']);
    expect((await admin.refused('get', '/nowhere')).status).toBe(404);
    const garbled = await admin.agent
      .post('/api/fleet/boats')
      .set('x-diurna-token', admin.token)
      .set('content-type', 'application/json')
      .send('{"name":');
    expect(garbled.status).toBe(400);
  });

  test('OpenAPI names every route with its roles; health answers', async () => {
    const visitor = yard.visitor();
    const doc = await visitor.get<{
      openapi: string;
      paths: Record<string, Record<string, { operationId: string; 'x-roles': unknown }>>;
    }>('/openapi.json');
    expect(doc.openapi).toBe('3.1.0');
    const operations = Object.values(doc.paths).flatMap((p) => Object.values(p));
    expect(operations.map((o) => o.operationId).sort()).toEqual(Object.keys(routes).sort());
    for (const o of operations) expect(o['x-roles']).toBeDefined();
    expect(await visitor.get('/health')).toEqual({
      alive: true,
      ready: true,
      // No queue was started for this book.
      why: ['Work behind the scenes is not open yet.'],
      version: 'test',
      // How late it is differs; that it is told does not.
      loop: { p50: expect.any(Number), p99: expect.any(Number), most: expect.any(Number) },
    });
  });

  test('a strict content-security policy is sent', async () => {
    const policy = String((await yard.visitor().raw('get', '/health')).headers['content-security-policy']);
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self'");
    // The exact solver is WebAssembly; scripts themselves come from here only and are never made from text.
    expect(policy.replace("'wasm-unsafe-eval'", '')).not.toMatch(/script-src[^;]*unsafe/);
  });
});
