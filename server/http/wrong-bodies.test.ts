import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { routes, type Route, type RouteName } from '@diurna/contract';
import { counted } from '../test/counted.ts';
import { openTwinYard, type Client, type Yard } from '../test/yard.ts';

/**
 * Every route that writes, with what a broken program or a stranger might send: an answer that says what is wrong
 * (problem details, RFC 9457), never a failure of the server, and nothing written.
 */
let yard: Yard;
let admin: Client;
beforeAll(async () => {
  ({ yard } = await openTwinYard());
  admin = await yard.as('administrator');
});
afterAll(async () => {
  await yard.close();
});

const WRONG: [string, unknown][] = [
  ['nothing in it', {}],
  ['a list', []],
  [
    'nulls',
    {
      id: null,
      version: null,
      name: null,
      tasks: null,
      day: null,
      reason: null,
      entries: null,
      lines: null,
      act: null,
    },
  ],
  [
    'words for numbers',
    {
      version: 'one',
      boatId: 'x',
      engineId: 'x',
      technicianId: 'x',
      hours: 'many',
      quantity: 'some',
      tasks: 'all',
      parts: 'none',
    },
  ],
  ['numbers for words', { name: 7, username: 7, reason: 7, text: 7, day: 7, why: 7, act: 7, answer: 7 }],
  ['far too much', { name: 'x'.repeat(100_000), reason: 'y'.repeat(100_000), text: 'z'.repeat(100_000) }],
  ['odd signs', { name: '\u0000\uD800', reason: '\u202E', text: '\u0000' }],
];
/** Routes whose wrong bodies mean something else: they begin or end a session, or need none at all. */
const OTHER = new Set<RouteName>(['signIn', 'firstRun']);
const writing = (Object.entries(routes) as [RouteName, Route][]).filter(
  ([name, r]) =>
    r.method !== 'get' && r.body !== undefined && r.takes === undefined && r.roles !== 'gateway' && !OTHER.has(name),
);
const pathOf = (r: Route) => r.path.replace('/api', '').replace(/:[a-zA-Z]+/g, '999999');

describe('what is wrong is said', () => {
  test('there are routes to try', () => {
    expect(writing.length).toBeGreaterThan(50);
  });
  test.each(writing.map(([name, r]) => [name, r] as const))('%s', async (name, r) => {
    const before = await counted(yard.pool);
    for (const [what, body] of WRONG) {
      const reply = await admin.raw(r.method, pathOf(r), body);
      const said = reply.body as { detail?: string; title?: string; status?: number };
      // Some bodies are right for some routes: nothing in it, where nothing is asked for.
      if (reply.status < 300) {
        expect([name, what, r.body!.safeParse(body).success]).toEqual([name, what, true]);
        continue;
      }
      expect([name, what, reply.status >= 400 && reply.status < 500, reply.status]).toEqual([
        name,
        what,
        true,
        reply.status,
      ]);
      expect(reply.headers['content-type']).toContain('application/problem+json');
      expect(said.status).toBe(reply.status);
      expect([name, what, said.detail ?? '']).toEqual([
        name,
        what,
        expect.stringMatching(/^[A-Z“"0-9].*[.!?”]$|^.+: .+$/s),
      ]);
      expect(said.detail).not.toMatch(/undefined|\[object|ZodError|syntax error|at .*\.ts|constraint|null value/);
      expect(said.detail!.length).toBeLessThan(2000);
    }
    expect(await counted(yard.pool)).toBe(before);
  });
});
