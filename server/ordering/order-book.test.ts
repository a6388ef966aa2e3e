import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { OrderBook } from '@diurna/contract/ordering';
import { openOrderYard } from '../test/order-yard.ts';
import type { Client } from '../test/yard.ts';

let yard: Awaited<ReturnType<typeof openOrderYard>>;
let mail: (typeof yard)['mail'];
let stores: Client;
let ids: Map<string, number>;
beforeAll(async () => {
  yard = await openOrderYard();
  ({ mail, stores, ids } = yard);
});
afterAll(() => mail.close());
beforeEach(() => yard.clear());

describe('what a base will need', () => {
  test('is a problem of its parts and offers; cards and what falls due take on their days', async () => {
    const made = await yard.add();
    const book = await stores.get<OrderBook>(`/ordering/book?baseId=${mail.yard.baseId}&days=28`);
    expect(book).toMatchObject({ firstDay: '2026-04-15', currency: 'EUR', share: 0.95 });
    expect(book.problem.days).toBe(28);
    expect(book.problem.items.map((i) => i.id).sort()).toEqual(
      [`part ${ids.get('F1')}`, `part ${ids.get('OIL')}`].sort(),
    );
    // The first day is a Wednesday.
    expect(book.problem.suppliers[0]!.orderOn.slice(0, 7)).toEqual([true, false, true, false, false, true, false]);
    expect(book.names.suppliers[`supplier ${made.id}`]).toEqual({
      name: 'Tern Parts',
      contactId: null,
      service: false,
    });
    const filter = book.parts.find((p) => p.number === 'F1')!;
    expect(filter).toMatchObject({ sold: true, onHand: 1 });
    expect(
      filter.planned.every((n, d) => n >= filter.mean[d]! - 1e-9 && (d === 0 || n >= filter.planned[d - 1]!)),
    ).toBe(true);
    expect(book.parts.find((p) => p.number === 'F2')?.sold ?? false).toBe(false);
    expect((await stores.refused('get', '/ordering/book?baseId=999999')).status).toBe(404);
  });

  test('and what the shelf does of it together, with what is short', async () => {
    type Cover = {
      comesUp: number;
      possible: number;
      exact: boolean;
      lacking: { wanted: number; possible: number }[];
      short: { number: string }[];
    };
    const technician = await mail.yard.as('technician');
    const cover = await technician.get<Cover>(`/ordering/cover?baseId=${mail.yard.baseId}&days=90`);
    expect(cover.exact).toBe(true);
    expect(cover.comesUp - cover.possible).toBe(cover.lacking.reduce((sum, l) => sum + l.wanted - l.possible, 0));
    // More on the shelf does no less.
    await stores.post('/stores/movements', {
      act: 'receive',
      partId: ids.get('F1'),
      baseId: mail.yard.baseId,
      quantity: 50,
      note: null,
    });
    const more = await technician.get<Cover>(`/ordering/cover?baseId=${mail.yard.baseId}&days=90`);
    expect(more.possible).toBeGreaterThanOrEqual(cover.possible);
    expect(more.short.map((p) => p.number)).not.toContain('F1');
    await stores.post('/stores/movements', {
      act: 'count',
      partId: ids.get('F1'),
      baseId: mail.yard.baseId,
      counted: 1,
      note: null,
    });
    expect((await technician.refused('get', '/ordering/cover?baseId=999999')).status).toBe(404);
  });

  test('a card makes it sure: on its day, for its boat', async () => {
    await yard.add();
    const boats = await mail.ilse.get<{
      rows: { id: number; name: string; engines: { id: number; serial: string }[] }[];
    }>('/fleet/boats');
    const boat = boats.rows.find((b) => b.name === 'Turnstone')!;
    const people = await mail.ilse.get<{ id: number; role: string }[]>('/people');
    const port = boat.engines.find((e) => e.serial === 'C60-40116')!;
    const { id } = await mail.ilse.post<{ id: number }>('/jobs', {
      boatId: boat.id,
      technicianId: people.find((p) => p.role === 'technician')!.id,
      day: '2026-04-20',
      tasks: [
        { engineId: port.id, task: 'oil-filter' },
        { engineId: port.id, task: 'engine-oil' },
      ],
      allTheSame: 'the filter is wanted',
    });
    const book = await stores.get<OrderBook>(`/ordering/book?baseId=${mail.yard.baseId}`);
    const filter = book.parts.find((p) => p.number === 'F1')!;
    expect(filter.sure).toEqual([{ jobId: id, day: 5, boat: 'Turnstone', quantity: 1 }]);
    expect(filter.mean[4]).toBeLessThan(1);
    expect(filter.mean[5]).toBeGreaterThanOrEqual(1);
  });
});

describe('what lay-up will need', () => {
  test('is bought for before any list asks for it: more likely with each day of its window, a tank dosed once', async () => {
    const offer = { number: null, breaks: [{ packs: 1, priceMinor: 1500 }] };
    await yard.add({
      offers: ['OIL', 'LUBE'].map((part) => ({ ...offer, partId: ids.get(part)!, packQuantity: 1000 })),
    });
    await mail.ilse.post(
      '/exchange/parts',
      'part,name,kind,unit,model,task,quantity\nSTAB,Stabiliser,other,mL,Corvane 60,stabiliser,\n',
    );
    const path = `/season/bases/${mail.yard.baseId}`;
    const year = { lows: null, version: 0 };
    const read = () => stores.get<OrderBook>(`/ordering/book?baseId=${mail.yard.baseId}&days=70`);
    const meanOf = (book: OrderBook, part: string) => book.parts.find((p) => p.number === part)?.mean ?? [];
    const before = await read();
    expect(meanOf(before, 'STAB')).toEqual([]);
    const { version } = await mail.ilse.put<{ version: number }>(path, { ...year, closes: '05-20', opens: '10-01' });
    const boats = await mail.ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats');
    const turnstone = boats.rows.find((b) => b.name === 'Turnstone')!.id;
    await mail.ilse.put(`/season/boats/${turnstone}`, {
      ...{ staysOut: false, placeId: null, tankLitres: 100, version: 0 },
    });
    const after = await read();
    // 100 L at 30 mL to 10 L, once for its two engines, surely in by its window's last day.
    expect(meanOf(after, 'STAB').at(-1)).toBeCloseTo(300, 6);
    expect(meanOf(after, 'STAB')[0]).toBeLessThan(30);
    // What falls due by hours as well is wanted once.
    for (const part of ['LUBE', 'OIL'])
      expect(meanOf(after, part).at(-1)).toBeGreaterThanOrEqual(meanOf(before, part).at(-1)! - 1e-6);
    await mail.ilse.put(path, { ...year, closes: null, opens: null, version });
    expect(meanOf(await read(), 'STAB')).toEqual([]);
  });
});
