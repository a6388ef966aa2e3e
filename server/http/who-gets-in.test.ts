import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { routes, type Problem, type Route, type RouteName } from '@diurna/contract';
import request from 'supertest';
import { counted } from '../test/counted.ts';
import { openYard, type Client, type Yard } from '../test/yard.ts';

/** Every way to spell an address that writes, without the token that a page of this site has. */
let yard: Yard;
let admin: Client;
beforeAll(async () => {
  yard = await openYard();
  admin = await yard.as('administrator');
});
afterAll(() => yard.close());

const all = Object.entries(routes) as [RouteName, Route][];
const writing = all.filter(([, r]) => r.method !== 'get' && r.roles !== 'gateway');
const DOORS: RouteName[] = ['signIn', 'firstRun'];
const path = (r: Route) => r.path.replaceAll(/:\w+/g, '1');
/** The same address to a careless router. */
const SPELLINGS: [string, (path: string) => string][] = [
  ['as it is', (p) => p],
  ['in capitals', (p) => p.toUpperCase()],
  ['one capital', (p) => p.replace('/api', '/Api')],
  ['a slash at the end', (p) => `${p}/`],
  ['two slashes', (p) => `/${p}`],
  ['slashes within', (p) => p.replace('/api/', '/api//')],
  ['a letter encoded', (p) => p.replace('/api', '/%61pi')],
  ['a slash encoded', (p) => p.replace('/api/', '/api%2f')],
  ['round about', (p) => p.replace('/api/', '/x/../api/')],
  ['with a dot', (p) => p.replace('/api/', '/api/./')],
  ['with a parameter', (p) => `${p};x=1`],
  ['behind a question', (p) => `${p}?x=/api/health`],
];

describe('without the token of its page', () => {
  test.each(SPELLINGS)('no write gets through, its address %s', async (_what, spell) => {
    const before = await counted(yard.pool);
    for (const [name, r] of writing.filter(([n]) => !DOORS.includes(n))) {
      const reply = await admin.agent[r.method](spell(path(r))).send({ version: 1, name: 'intruder' });
      // Not even looked at: a body that is refused was read.
      expect([name, [403, 404].includes(reply.status)]).toEqual([name, true]);
    }
    expect(await counted(yard.pool)).toBe(before);
  });

  test('other methods write nothing', async () => {
    const before = await counted(yard.pool);
    for (const method of ['patch', 'options'] as const)
      await admin.agent[method]('/api/fleet/boats').send({ name: 'intruder', baseId: 1, berth: null });
    expect(await counted(yard.pool)).toBe(before);
  });

  test('a foreign token, and one of an earlier session, are refused', async () => {
    const send = (token: string) =>
      admin.agent.post('/api/fleet/boats').set('x-diurna-token', token).send({ name: 'x', baseId: 1, berth: null });
    expect((await send('')).status).toBe(403);
    expect((await send(admin.token.split('').reverse().join(''))).status).toBe(403);
    expect((await send(admin.token)).status).toBe(200);
  });
});

test('only the doors and boxes are open to whom the book does not know, and the doors to this site only', async () => {
  expect(
    writing
      .filter(([, r]) => r.roles === 'anyone')
      .map(([n]) => n)
      .sort(),
  ).toEqual([...DOORS].sort());
  const stranger = request(yard.app);
  for (const [name, r] of all.filter(([, r]) => r.roles !== 'anyone'))
    expect([name, (await stranger[r.method](path(r)).send({})).status]).toEqual([name, 401]);
  const from = (site: string) =>
    stranger
      .post('/api/session')
      .set({ 'sec-fetch-site': site, origin: 'https://elsewhere.invalid' })
      .send({ username: 'x', password: 'y' });
  expect((await from('cross-site')).status).toBe(403);
});

test('what is not there is told as such, in any spelling', async () => {
  const stranger = request(yard.app);
  for (const [method, to] of [
    ['post', '/API/session'],
    ['post', '/nowhere'],
    ['get', '/api/nowhere'],
    ['delete', '/Api/session'],
  ] as const) {
    const reply = await stranger[method](to).send({});
    expect([reply.status, reply.headers['content-type']]).toEqual([404, 'application/problem+json; charset=utf-8']);
  }
});

describe('signs no database keeps', () => {
  test.each([
    ['a NUL', 'Plo\u0000ver'],
    ['half a letter', 'Plo\uD83Dver'],
    ['the other half', '\uDE00'],
  ])('%s is told at its field, wherever it stands', async (_what, text) => {
    const send = (body: object) => admin.raw('post', '/fleet/boats', { name: 'x', baseId: 1, berth: null, ...body });
    const reply = await send({ name: text });
    expect([reply.status, (reply.body as Problem).faults]).toEqual([
      422,
      [{ path: 'name', text: 'name holds a sign that cannot be kept; type it anew' }],
    ]);
    expect((await send({ deep: [{ in: { it: text } }] })).status).toBe(422);
    expect((await send({ [text]: 1 })).status).toBe(422);
    expect((await admin.raw('get', `/search?q=${encodeURIComponent('a\u0000')}`)).status).toBe(400);
    expect((await admin.raw('post', '/exchange/parts', `part,name,kind,unit\n${text},x,other,each\n`)).status).toBe(
      422,
    );
  });
  test('whole letters of two parts are kept as they are', async () => {
    const { id } = await admin.post<{ id: number }>('/fleet/boats', {
      name: '⛵ 😀 𝕏',
      baseId: yard.baseId,
      berth: null,
    });
    expect((await admin.get<{ name: string }>(`/fleet/boats/${id}`)).name).toBe('⛵ 😀 𝕏');
  });
});
