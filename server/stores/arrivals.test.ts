import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
let coordinator: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-06-15T09:00:00Z'));
  coordinator = await yard.as('coordinator');
  await coordinator.post('/exchange/fleet', FLEET_CSV);
  await coordinator.post('/exchange/parts', PARTS_CSV);
});
afterAll(() => yard.close());

describe('parts on the way', () => {
  interface Arrival {
    id: number;
    number: string;
    day: string;
    quantity: number;
    unit: string;
    note: string | null;
  }
  const arrivals = (query = '') => coordinator.get<Arrival[]>(`/stores/arrivals${query}`);
  const partId = async (number: string) =>
    (await coordinator.get<{ rows: { id: number; number: string }[] }>('/stores/parts')).rows.find(
      (p) => p.number === number,
    )!.id;
  const order = async (number: string, more: object = {}) =>
    coordinator.post<{ id: number }>('/stores/arrivals', {
      partId: await partId(number),
      baseId: yard.baseId,
      day: '2026-06-22',
      quantity: 3,
      note: null,
      ...more,
    });

  test('ordered, seen by day, and on the shelf when they come; fewer than ordered is what counts', async () => {
    const late = await order('F1', { day: '2026-06-24', note: 'by road' });
    const soon = await order('OIL', { quantity: 4500.5 });
    expect((await arrivals()).map((a) => [a.number, a.day, a.quantity, a.note])).toEqual([
      ['OIL', '2026-06-22', 4500.5, null],
      ['F1', '2026-06-24', 3, 'by road'],
    ]);
    expect((await arrivals(`?partId=${await partId('F1')}`)).map((a) => a.id)).toEqual([late.id]);
    const stores = await yard.as('stores');
    await stores.post(`/stores/arrivals/${late.id}/close`, { received: 2 });
    const ledger = await coordinator.get<{
      rows: { quantity: number; balance: number; reason: string; note: string | null; by: string | null }[];
    }>(`/stores/parts/${await partId('F1')}/ledger`);
    expect(ledger.rows[0]).toMatchObject({
      quantity: 2,
      balance: 3,
      reason: 'received',
      note: 'by road',
      by: 'stores',
    });
    await stores.post(`/stores/arrivals/${soon.id}/close`, { received: 0 });
    expect(
      (await coordinator.get<{ rows: unknown[] }>(`/stores/parts/${await partId('OIL')}/ledger`)).rows,
    ).toHaveLength(1);
    expect(await arrivals()).toEqual([]);
  });

  test('closed by two at the same moment: one books it, the other is told', async () => {
    const { id } = await order('F2');
    const replies = await Promise.all(
      [1, 2, 3].map(() => coordinator.raw('post', `/stores/arrivals/${id}/close`, { received: 3 })),
    );
    expect(replies.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409, 409]);
    const ledger = await coordinator.get<{ rows: { balance: number }[] }>(`/stores/parts/${await partId('F2')}/ledger`);
    expect(ledger.rows[0]!.balance).toBe(5);
  });

  test.each([
    ['half a filter', 'F1', { quantity: 1.5 }, 422, 'counted in whole pieces'],
    ['none', 'F1', { quantity: 0 }, 422, 'must be above 0'],
    ['a base that is not in the book', 'F1', { baseId: 999999 }, 422, 'no longer in the book'],
    ['a part that is not on the list', 'F1', { partId: 999999 }, 404, 'no such part'],
  ])('%s is refused', async (_, number, more, status, text) => {
    const refused = await coordinator.refused('post', '/stores/arrivals', {
      partId: await partId(number),
      baseId: yard.baseId,
      day: '2026-06-22',
      quantity: 3,
      note: null,
      ...more,
    });
    expect(refused.status).toBe(status);
    expect(refused.detail).toContain(text);
    expect(await arrivals()).toEqual([]);
  });

  test('half a filter cannot be received either', async () => {
    const { id } = await order('F1');
    expect(await coordinator.refused('post', `/stores/arrivals/${id}/close`, { received: 1.5 })).toMatchObject({
      status: 422,
    });
    await coordinator.post(`/stores/arrivals/${id}/close`, { received: 0 });
  });
});
