import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { HireFeed } from '@diurna/contract/hires';
import { openYard, type Yard } from '../test/yard.ts';

let yard: Yard;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterAll(() => yard.close());

test('a followed calendar is renamed and set aside; an older version, and a coordinator, are refused', async () => {
  const admin = await yard.as('administrator');
  const ilse = await yard.as('coordinator');
  const feed = { name: 'Desk', url: 'http://127.0.0.1:9/desk.ics', baseId: yard.baseId, active: true };
  const { id, version } = await admin.post<{ id: number; version: number }>('/hires/feeds', feed);
  const edited = { ...feed, name: 'Front desk', active: false, version };
  await admin.put(`/hires/feeds/${id}`, edited);
  const read = async () => (await ilse.get<HireFeed[]>('/hires/feeds')).find((f) => f.id === id);
  expect(await read()).toMatchObject({ name: 'Front desk', active: false });
  expect((await admin.refused('put', `/hires/feeds/${id}`, edited)).status).toBe(409);
  expect((await ilse.raw('put', `/hires/feeds/${id}`, edited)).status).toBe(403);
  expect((await admin.refused('put', `/hires/feeds/${id}`, { ...edited, url: 'desk' })).detail).toContain(
    'web address',
  );
});

test('the same address is followed once, also when two name it at the same moment', async () => {
  const admin = await yard.as('administrator');
  const feed = (name: string) => ({ name, url: 'https://desk.example/one.ics', baseId: yard.baseId, active: false });
  const both = await Promise.all([
    admin.raw('post', '/hires/feeds', feed('One')),
    admin.raw('post', '/hires/feeds', feed('Two')),
  ]);
  expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
  const refused = both.find((r) => r.status === 409)!;
  expect((refused.body as { detail: string }).detail).toMatch(/follows this address already, as "(One|Two)"/);
});
