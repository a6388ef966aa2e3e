import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Arrival, ModelShelf, Movement, Part } from '@diurna/contract/stores';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
let ilse: Client;
let hanne: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
  hanne = await yard.as('stores');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(() => yard.close());

const part = async (number: string) =>
  (await ilse.get<{ rows: Part[] }>('/stores/parts')).rows.find((p) => p.number === number)!;

describe('the shelves', () => {
  test('receive, count, move; whole pieces; the ledger adds up', async () => {
    const south = (
      await ilse.post<{ id: number }>('/fleet/bases', {
        name: 'South Slip',
        timeZone: 'Atlantic/Azores',
        hemisphere: 'north',
        dayMinutes: 480,
        workdays: [1, 2, 3],
      })
    ).id;
    const f1 = await part('F1');
    await hanne.post('/stores/movements', {
      act: 'receive',
      partId: f1.id,
      baseId: yard.baseId,
      quantity: 6,
      note: 'delivery 12',
    });
    expect(
      (
        await hanne.refused('post', '/stores/movements', {
          act: 'receive',
          partId: f1.id,
          baseId: yard.baseId,
          quantity: 0.5,
          note: null,
        })
      ).detail,
    ).toContain('whole pieces');
    expect(
      (
        await hanne.refused('post', '/stores/movements', {
          act: 'move',
          partId: f1.id,
          baseId: yard.baseId,
          toBaseId: south,
          quantity: 99,
          note: null,
        })
      ).type,
    ).toBe('short');
    await hanne.post('/stores/movements', {
      act: 'move',
      partId: f1.id,
      baseId: yard.baseId,
      toBaseId: south,
      quantity: 4,
      note: null,
    });
    // On its way: it has left here, and is nowhere else yet.
    expect((await part('F1')).onHand).toEqual([{ baseId: yard.baseId, quantity: 3 }]);
    const [sent] = await hanne.get<Arrival[]>(`/stores/arrivals?partId=${f1.id}`);
    expect(sent).toMatchObject({ baseId: south, fromBaseId: yard.baseId, quantity: 4, day: '2026-04-15' });
    await hanne.post(`/stores/arrivals/${sent!.id}/close`, { received: 4 });
    // One by the file, six received, four moved: three stay, four are there.
    const onHand = [
      { baseId: yard.baseId, quantity: 3 },
      { baseId: south, quantity: 4 },
    ];
    expect((await part('F1')).onHand).toEqual(expect.arrayContaining(onHand));
    const { rows } = await ilse.get<{ rows: Movement[] }>(`/stores/parts/${f1.id}/ledger`);
    for (const { baseId, quantity } of onHand)
      expect(rows.filter((m) => m.baseId === baseId).reduce((sum, m) => sum + m.quantity, 0)).toBe(quantity);
  });

  test('how many services the shelf can still do, by serial where the filter changes', async () => {
    const model = (await ilse.get<ModelShelf[]>(`/stores/models?baseId=${yard.baseId}`)).find(
      (m) => m.modelName === 'Corvane 60',
    )!;
    const rows = model.tasks.map((t) => [t.task, t.serials, t.count, t.limitedBy?.number ?? null]);
    expect(rows).toEqual(
      expect.arrayContaining([
        ['engine-oil', 'all serials', 3, 'OIL'],
        ['oil-filter', 'from C60-40117', 2, 'F2'],
        ['gear-lube', 'all serials', 1, 'LUBE'],
        ['impeller', 'all serials', null, null],
      ]),
    );
  });

  test('an edit on an older version is refused; a unit with movements stays', async () => {
    const f1 = await part('F1');
    const edit = {
      number: 'F1',
      name: 'Filter, early',
      kind: 'oil filter',
      unit: 'each',
      priceMinor: 990,
      fitments: f1.fitments,
      version: f1.version,
    };
    await ilse.put(`/stores/parts/${f1.id}`, edit);
    expect((await ilse.refused('put', `/stores/parts/${f1.id}`, edit)).status).toBe(409);
    expect(
      (await ilse.refused('put', `/stores/parts/${f1.id}`, { ...edit, version: f1.version + 1, unit: 'mL' })).detail,
    ).toContain('unit has to stay');
  });
  test('the audit says who, what, before and after', async () => {
    const { rows } = await ilse.get<{
      rows: {
        act: string;
        subject: string;
        person: string;
        before: Record<string, unknown> | null;
        after: Record<string, unknown>;
      }[];
    }>('/records/audit?subject=part');
    expect(rows[0]).toMatchObject({
      act: 'changed',
      person: 'coordinator',
      before: { name: 'Filter early' },
      after: { name: 'Filter, early' },
    });
  });
});
