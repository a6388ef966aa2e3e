import { Validator } from '@seriousme/openapi-schema-validator';
import { describe, expect, test } from '@jest/globals';
import { day, hours, idParam, pageQuery, routes, type Route } from './index.ts';
import { modelEdit, rule } from './fleet.ts';
import { finishJob } from './jobs.ts';
import { requestOf } from './client.ts';
import { openApiDocument } from './openapi.ts';
import { password, username } from './people.ts';
import { fitment, storesRoutes } from './stores.ts';

const ok = (schema: { safeParse: (v: unknown) => { success: boolean } }, value: unknown) =>
  schema.safeParse(value).success;

describe('the small shapes', () => {
  test.each([
    [0, true],
    [412.6, true],
    [99_999.9, true],
    [0.1 + 0.2, true],
    [412.65, false],
    [-0.1, false],
    [100_000, false],
    ['7', false],
    [Number.NaN, false],
  ])('hours %p: %p', (value, fits) => {
    expect(ok(hours, value)).toBe(fits);
  });
  test.each([
    ['2028-02-29', true],
    ['2027-02-29', false],
    ['2026-4-1', false],
    ['2026-04-01T00:00:00Z', false],
  ])('day %p: %p', (value, fits) => {
    expect(ok(day, value)).toBe(fits);
  });
  test('ids in addresses are whole and positive, pages are bounded', () => {
    expect(ok(idParam, { id: '12' })).toBe(true);
    for (const id of ['0', '-1', '1.5', 'x', '']) expect(ok(idParam, { id })).toBe(false);
    expect(pageQuery.parse({})).toEqual({ page: 1, size: 50 });
    expect(ok(pageQuery, { size: '201' })).toBe(false);
  });
  test('names to sign in with are small letters; passwords are long', () => {
    expect(username.parse('  Ilse ')).toBe('ilse');
    for (const bad of ['a', '1abc', 'has space', 'ü']) expect(ok(username, bad)).toBe(false);
    expect(ok(password, 'eleven-char')).toBe(false);
    expect(ok(password, 'twelve-chars')).toBe(true);
    expect(ok(password, 'x'.repeat(128))).toBe(true);
    expect(ok(password, 'x'.repeat(129))).toBe(false);
  });
  test('a rule has hours, months or both, above zero', () => {
    expect(ok(rule, { task: 'impeller', everyHours: null, everyMonths: 24 })).toBe(true);
    expect(ok(rule, { task: 'impeller', everyHours: null, everyMonths: null })).toBe(false);
    expect(ok(rule, { task: 'impeller', everyHours: 0, everyMonths: null })).toBe(false);
    expect(ok(rule, { task: 'impeller', everyHours: null, everyMonths: 1.5 })).toBe(false);
  });
  test('a two-stroke has no sump', () => {
    const model = {
      maker: 'Teal',
      name: '50',
      powerHp: 50,
      stroke: 2,
      cylinders: 3,
      sump: null,
      gearCase: null,
      rules: [],
    };
    expect(ok(modelEdit, model)).toBe(true);
    expect(ok(modelEdit, { ...model, sump: { value: 2, unit: 'L' } })).toBe(false);
  });
  test('an empty end of a serial range is open', () => {
    expect(fitment.parse({ modelId: 1, task: 'oil-filter', quantity: 1, from: ' ', to: 'C60-9' })).toMatchObject({
      from: null,
      to: 'C60-9',
    });
  });
  test('what a shelf act needs depends on the act', () => {
    const body = storesRoutes.moveStock.body;
    const line = { partId: 1, baseId: 1, note: null };
    expect(ok(body, { ...line, act: 'count', counted: 0 })).toBe(true);
    expect(ok(body, { ...line, act: 'receive', quantity: 0 })).toBe(false);
    expect(ok(body, { ...line, act: 'move', quantity: 1 })).toBe(false);
    expect(ok(body, { ...line, act: 'write off', quantity: 1 })).toBe(false);
  });
  test('finishing a card says nothing below zero unless a person does', () => {
    expect(
      finishJob.parse({
        version: 1,
        tasks: [{ engineId: 1, task: 'impeller', done: true }],
        hours: [],
        parts: [],
        remark: null,
      }),
    ).toMatchObject({ belowZero: false, tasks: [{ volume: null }] });
  });
});

describe('the routes', () => {
  const all = Object.values(routes as Record<string, Route>);
  test('no two share a method and a path', () => {
    const keys = all.map((r) => `${r.method} ${r.path.replaceAll(/:\w+/g, ':')}`);
    expect(new Set(keys).size).toBe(keys.length);
  });
  test('what changes something has a body or an id, and is open to those who may only', () => {
    for (const r of all.filter((x) => x.method !== 'get' && !x.path.startsWith('/api/session'))) {
      expect(Boolean(r.body ?? r.params)).toBe(true);
      // A look at a change writes nothing, so whoever reads may have it.
      if (r.path !== '/api/first-run' && r.path !== '/api/rules/preview' && r.roles !== 'gateway')
        expect(Array.isArray(r.roles) && !r.roles.includes('manager')).toBe(true);
    }
  });
  test('OpenAPI: every path parameter is declared, every reference resolves', () => {
    const doc = openApiDocument('1.2.3') as {
      info: { version: string };
      paths: Record<string, Record<string, { parameters: { name: string; in: string }[] }>>;
      components: { schemas: object };
    };
    expect(doc.info.version).toBe('1.2.3');
    for (const [path, operations] of Object.entries(doc.paths)) {
      const named = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
      for (const o of Object.values(operations))
        expect(o.parameters.filter((p) => p.in === 'path').map((p) => p.name)).toEqual(named);
    }
    for (const [, name] of JSON.stringify(doc).matchAll(/"#\/components\/schemas\/(\w+)"/g))
      expect(doc.components.schemas).toHaveProperty(name!);
  });
});

describe('the description of the API', () => {
  const document = openApiDocument('1.2.3') as {
    paths: Record<string, Record<string, { security: object[]; responses: object }>>;
  };
  test('is OpenAPI 3.1 by a standard validator', async () => {
    const result = await new Validator().validate(JSON.parse(JSON.stringify(document)) as Record<string, unknown>);
    expect(result.valid ? [] : result.errors).toEqual([]);
  });
  test('names how one proves oneself, and the statuses, of every route', () => {
    const operations = Object.values(document.paths).flatMap((p) => Object.values(p));
    expect(operations).toHaveLength(Object.keys(routes).length);
    for (const o of operations)
      expect(Object.keys(o.responses)).toEqual(expect.arrayContaining(['200', '429', '500', '503']));
    expect(document.paths['/api/jobs/{id}/finish']!.post!.security).toEqual([{ session: [], token: [] }]);
    expect(document.paths['/api/jobs']!.get!.security).toEqual([{ session: [] }]);
    expect(document.paths['/api/gateway/messages']!.post!.security).toEqual([{ box: [] }]);
    expect(document.paths['/api/health']!.get!.security).toEqual([]);
  });
});

describe('a request made from its route', () => {
  test('path, query and body go each to their place', () => {
    expect(requestOf(routes.readJob, 12)).toEqual({ url: '/api/jobs/12', method: 'GET' });
    expect(requestOf(routes.ledger, { id: 3, page: 2, size: 10 })).toEqual({
      url: '/api/stores/parts/3/ledger',
      method: 'GET',
      params: { page: 2, size: 10 },
    });
    expect(requestOf(routes.retireBoat, { id: 3, version: 2, retired: true })).toEqual({
      url: '/api/fleet/boats/3/retire',
      method: 'POST',
      body: { version: 2, retired: true },
    });
    expect(requestOf(routes.importCalendar, { baseId: 4, text: 'BEGIN:VCALENDAR' })).toEqual({
      url: '/api/hires/calendar',
      method: 'POST',
      params: { baseId: 4 },
      body: 'BEGIN:VCALENDAR',
      headers: { 'content-type': 'text/calendar; charset=utf-8' },
    });
    expect(requestOf(routes.templateVersions, 'lower unit/on' as never).url).toContain('lower%20unit%2Fon');
    expect(requestOf(routes.signOut, undefined)).toEqual({ url: '/api/session', method: 'DELETE' });
  });
});
