import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { CountLine } from '@diurna/contract/counts';
import type { Arrival, ModelShelf, Movement, Part } from '@diurna/contract/stores';
import { FLEET_CSV, openYard, PARTS_CSV, southSlip, type Client, type Yard } from '../test/yard.ts';

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
    const south = await southSlip(ilse);
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

  test('a counting round: by shelf, a large difference twice, all or nothing, and not over what happened meanwhile', async () => {
    const f2 = await part('F2');
    const oil = await part('OIL');
    for (const [p, place] of [
      [f2, 'A10'],
      [oil, 'A2'],
    ] as const)
      await hanne.put(`/stores/parts/${p.id}/place`, { baseId: yard.baseId, place });
    const sheet = (shelf: string) => hanne.get<CountLine[]>(`/stores/count?baseId=${yard.baseId}&shelf=${shelf}`);
    const [first, second] = await sheet('a');
    // In the order one walks: A2 before A10.
    expect([first, second].map((l) => [l!.number, l!.place])).toEqual([
      ['OIL', 'A2'],
      ['F2', 'A10'],
    ]);
    expect(await sheet('A10')).toMatchObject([{ number: 'F2', said: 2, counted: '2026-04-15', since: { used: 0 } }]);
    const count = (...lines: object[]) => ({ baseId: yard.baseId, lines });
    const off = { partId: oil.id, counted: 2000, said: first!.said };
    const right = { partId: f2.id, counted: 2, said: 2 };
    const asked = await hanne.refused('post', '/stores/count', count(right, off));
    expect(asked).toMatchObject({ status: 409, type: 'questioned', faults: [{ path: 'lines.1.counted' }] });
    // Nothing of it was booked.
    expect((await sheet('A2'))[0]!.said).toBe(first!.said);
    await hanne.post('/stores/movements', {
      ...{ act: 'receive', partId: oil.id, baseId: yard.baseId, quantity: 1000, note: null },
    });
    const stale = await hanne.refused('post', '/stores/count', count({ ...off, again: true }));
    expect(stale).toMatchObject({ status: 409, type: 'stale' });
    expect((await sheet('A2'))[0]!.since.received).toBe(1000);
    expect(await hanne.post('/stores/count', count(right, { ...off, said: first!.said + 1000, again: true }))).toEqual({
      booked: 2,
      right: 1,
    });
    expect((await sheet('A2'))[0]).toMatchObject({ said: 2000, counted: '2026-04-15', since: { received: 0 } });
    expect((await hanne.refused('post', '/stores/count', count({ ...right, counted: 1.5 }))).detail).toContain(
      'whole pieces',
    );
    expect((await (await yard.as('dock')).refused('get', `/stores/count?baseId=${yard.baseId}`)).status).toBe(403);
  });
});
