import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openTwinYard } from '../test/yard.ts';

let own: Awaited<ReturnType<typeof openTwinYard>>;
beforeAll(async () => {
  own = await openTwinYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterAll(() => own.yard.close());

test('the store of used oil: what cards brought, what was taken away, never more than there is', async () => {
  await own.yard.pool.query(
    `insert into waste_entry (base_id, stream, quantity, day, measured, at)
      values ($1, 'used oil', 5400, '2026-04-14', true, '2026-04-14T12:00:00Z')`,
    [own.yard.baseId],
  );
  const hanne = await own.yard.as('stores');
  const take = { baseId: own.yard.baseId, stream: 'used oil', quantity: 5000, note: 'collector, slip 12' };
  await hanne.post('/records/waste', take);
  const refused = await hanne.refused('post', '/records/waste', take);
  expect(refused.detail).toContain('holds 400 mL');
  const { rows } = await own.ilse.get<{ rows: { quantity: number; day: string }[] }>('/records/waste');
  expect(rows.map((r) => [r.day, r.quantity])).toEqual([
    ['2026-04-15', -5000],
    ['2026-04-14', 5400],
  ]);
});
