import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { firstSteps, type BookCounts } from '@diurna/core/first-day';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
let ilse: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
});
afterAll(() => yard.close());

const missing = async () =>
  firstSteps(await ilse.get<BookCounts>('/first-day')).flatMap((s) => (s.missing === null ? [] : [s.key]));

test('a book that begins is led from step to step; what is done goes, what is new comes', async () => {
  expect(await missing()).toEqual(['model', 'boat', 'reading', 'person', 'hire', 'part']);
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
  expect(await missing()).toEqual(['reading', 'person', 'hire']);
  const { boats, engines, unread, meterless } = await ilse.get<BookCounts>('/first-day');
  // Turnstone's twins and Knot's main engine have meters, her kicker has none.
  expect({ boats, engines, unread, meterless }).toEqual({ boats: 2, engines: 4, unread: 3, meterless: 1 });
  const boat = await ilse.post<{ id: number }>('/fleet/boats', { name: 'Bare', baseId: yard.baseId, berth: null });
  expect(await missing()).toContain('boat');
  await ilse.post('/hires', {
    boatId: boat.id,
    outDay: '2026-04-16',
    outTime: '09:00',
    backDay: '2026-04-16',
    backTime: '12:00',
    reference: null,
  });
  expect(await missing()).not.toContain('hire');
});

test('only who sets the yard up is led', async () => {
  expect((await (await yard.as('technician')).raw('get', '/first-day')).status).toBe(403);
});
