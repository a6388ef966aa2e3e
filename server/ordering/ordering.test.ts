import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { OrderBook, Purchase, Supplier, SupplierEdit } from '@diurna/contract/ordering';
import { orderFaults } from '@diurna/core/ordering';
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

const offerOf = (s: Supplier, part: string) => s.offers.find((o) => o.part === part)!.id;
const place = (s: Supplier, lines: [part: string, packs: number][], more: object = {}) => ({
  baseId: mail.yard.baseId,
  supplierId: s.id,
  lines: lines.map(([part, packs]) => ({ offerId: offerOf(s, part), packs })),
  mail: false,
  ...more,
});
const open = () => stores.get<Purchase[]>(`/ordering/purchases?baseId=${mail.yard.baseId}`);

describe('suppliers', () => {
  test('are kept with what they sell; an offer that stays keeps its name, one left out is gone', async () => {
    const made = await yard.add();
    expect(made).toMatchObject({ name: 'Tern Parts', leadDays: 3, learned: null, version: 1 });
    expect(made.offers.map((o) => [o.part, o.packQuantity, o.breaks.length])).toEqual([
      ['OIL', 4000, 1],
      ['F1', 1, 2],
    ]);
    const { offers } = yard.supplierOf();
    await stores.put(`/ordering/suppliers/${made.id}`, {
      ...yard.supplierOf({ leadDays: 5, offers: [{ ...offers[0]!, breaks: [{ packs: 2, priceMinor: 950 }] }] }),
      version: 1,
    });
    const [now] = await stores.get<Supplier[]>('/ordering/suppliers');
    expect(now).toMatchObject({ leadDays: 5, version: 2 });
    expect(now!.offers).toEqual([
      expect.objectContaining({ id: offerOf(made, 'F1'), breaks: [{ packs: 2, priceMinor: 950 }] }),
    ]);
    expect(
      (await stores.refused('put', `/ordering/suppliers/${made.id}`, { ...yard.supplierOf(), version: 1 })).status,
    ).toBe(409);
    await stores.post(`/ordering/suppliers/${made.id}/retire`, { version: 2 });
    expect(await stores.get('/ordering/suppliers')).toEqual([]);
  });

  test.each<[string, () => Partial<SupplierEdit>, string]>([
    [
      'half a filter in a pack',
      () => ({ offers: [{ ...yard.supplierOf().offers[0]!, packQuantity: 0.5 }] }),
      'offers.0.packQuantity',
    ],
    [
      'a part that is none',
      () => ({ offers: [{ ...yard.supplierOf().offers[0]!, partId: 999_999 }] }),
      'offers.0.partId',
    ],
    [
      'one pack twice',
      () => ({ offers: [yard.supplierOf().offers[0]!, yard.supplierOf().offers[0]!] }),
      'offers.1.packQuantity',
    ],
    ['no day', () => ({ weekdays: [] }), 'weekdays'],
    [
      'breaks that go down',
      () => ({
        offers: [
          {
            ...yard.supplierOf().offers[0]!,
            breaks: [
              { packs: 3, priceMinor: 1 },
              { packs: 2, priceMinor: 1 },
            ],
          },
        ],
      }),
      'offers.0.breaks',
    ],
    ['nobody to write to', () => ({ contactId: 999_999 }), 'contactId'],
  ])('%s is refused at its place', async (_, more, path) => {
    const { status, faults } = await stores.refused('post', '/ordering/suppliers', yard.supplierOf(more()));
    expect([status, faults?.map((e) => e.path)]).toEqual([422, [path]]);
  });

  test('two of one name are refused at the name', async () => {
    await yard.add();
    const twice = await stores.refused('post', '/ordering/suppliers', yard.supplierOf({ name: 'tern parts' }));
    expect([twice.status, twice.faults]).toEqual([409, [{ path: 'name', text: expect.stringContaining('already') }]]);
  });

  test('are seen by who plans and keeps, changed by who keeps', async () => {
    await yard.add();
    for (const role of ['technician', 'dock'] as const)
      expect((await (await mail.yard.as(role)).refused('get', '/ordering/suppliers')).status).toBe(403);
    const manager = await mail.yard.as('manager');
    expect(await manager.get<Supplier[]>('/ordering/suppliers')).toHaveLength(1);
    expect((await manager.refused('post', '/ordering/suppliers', yard.supplierOf({ name: 'x' }))).status).toBe(403);
  });
});

describe('orders', () => {
  test('placed they are on the way; received short what came is on the shelf, and the days are learned', async () => {
    const made = await yard.add();
    const before = await stores.get<{ onHand: { quantity: number }[] }>(`/stores/parts/${ids.get('F1')}`);
    const { id, expected } = await stores.post<{ id: number; expected: string }>(
      '/ordering/purchases',
      place(made, [
        ['F1', 6],
        ['OIL', 1],
      ]),
    );
    expect(expected).toBe('2026-04-18');
    const [order] = await open();
    expect(order).toMatchObject({ id, supplier: 'Tern Parts', day: '2026-04-15', carriageMinor: 0, by: 'stores' });
    expect(order!.lines.map((l) => [l.number, l.packs, l.quantity, l.priceMinor, l.received])).toEqual([
      ['F1', 6, 6, 5400, null],
      ['OIL', 1, 4000, 3100, null],
    ]);
    // Counted on at once.
    const book = await stores.get<OrderBook>(`/ordering/book?baseId=${mail.yard.baseId}`);
    expect(book.parts.find((p) => p.number === 'F1')!.stock.slice(2, 4)).toEqual([
      before.onHand[0]!.quantity,
      before.onHand[0]!.quantity + 6,
    ]);
    mail.later(5 * 24 * 60);
    await stores.post(`/stores/arrivals/${order!.lines[0]!.arrivalId}/close`, { received: 5 });
    expect((await open())[0]!.lines.map((l) => l.received)).toEqual([5, null]);
    expect(await stores.get<{ onHand: { quantity: number }[] }>(`/stores/parts/${ids.get('F1')}`)).toMatchObject({
      onHand: [{ quantity: before.onHand[0]!.quantity + 5 }],
    });
    await stores.post(`/stores/arrivals/${order!.lines[1]!.arrivalId}/close`, { received: 0 });
    expect(await open()).toEqual([]);
    expect(await stores.get<Purchase[]>('/ordering/purchases?state=all')).toHaveLength(1);
    expect((await stores.get<Supplier[]>('/ordering/suppliers'))[0]!.learned).toEqual({ orders: 1, days: 5, late: 1 });
    mail.later(-5 * 24 * 60);
  });

  test('as a file for a spreadsheet it carries their own numbers', async () => {
    const made = await yard.add();
    const { id } = await stores.post<{ id: number }>('/ordering/purchases', place(made, [['F1', 6]]));
    const reply = await stores.raw('get', `/ordering/purchases/${id}/file`);
    expect(reply.headers['content-type']).toContain('text/csv');
    expect(reply.headers['content-disposition']).toContain(`diurna-order-${id}.csv`);
    expect(reply.text.trim().split('\r\n')).toEqual([
      'order,ordered_on,supplier,base,part,their_number,name,packs,pack,unit,price,expected_on,received',
      `${id},2026-04-15,Tern Parts,North Quay,F1,T-77,Filter early,6,1,each,54.00,2026-04-18,`,
    ]);
    expect((await stores.refused('get', '/ordering/purchases/999999/file')).status).toBe(404);
    const paper = await stores.raw('get', `/ordering/purchases/${id}/paper`);
    expect(paper.headers['content-type']).toContain('application/pdf');
    // How a file of PDF begins (ISO 32000-1, 7.5.2).
    expect(String(paper.body)).toMatch(/^%PDF-1\.\d/);
    expect((await stores.refused('get', '/ordering/purchases/999999/paper')).status).toBe(404);
    expect((await (await mail.yard.as('dock')).refused('get', `/ordering/purchases/${id}/file`)).status).toBe(403);
  });

  test('carriage by the goods, as the judge counts it', async () => {
    const made = await yard.add();
    await stores.post('/ordering/purchases', place(made, [['F1', 2]]));
    expect((await open())[0]).toMatchObject({ carriageMinor: 900 });
    const book = await stores.get<OrderBook>(`/ordering/book?baseId=${mail.yard.baseId}`);
    expect(
      orderFaults(book.problem, [
        { supplier: `supplier ${made.id}`, day: 0, lines: [{ offer: `offer ${offerOf(made, 'F1')}`, packs: 1 }] },
      ]),
    ).toEqual([{ path: 'orders[0]', text: expect.stringContaining('below the least, 10') }]);
  });

  test.each<[string, (s: Supplier) => object, number, RegExp]>([
    ['less than they take', (s) => place(s, [['F1', 1]]), 409, /takes no order of less than 10\.00/],
    [
      'what they do not sell',
      (s) => ({ ...place(s, [['F1', 2]]), lines: [{ offerId: 999_999, packs: 1 }] }),
      422,
      /does not sell this any more/,
    ],
    [
      'a line twice',
      (s) =>
        place(s, [
          ['F1', 2],
          ['F1', 3],
        ]),
      422,
      /stands twice/,
    ],
    ['mail to nobody', (s) => place(s, [['F1', 2]], { mail: true }), 409, /Nobody is written to at Tern Parts/],
  ])('%s is refused, and nothing is on its way', async (_, body, status, words) => {
    const made = await yard.add();
    const refused = await stores.refused('post', '/ordering/purchases', body(made));
    expect(refused.status).toBe(status);
    expect(`${refused.detail} ${refused.faults?.map((e) => e.text).join(' ') ?? ''}`).toMatch(words);
    expect(await open()).toEqual([]);
  });

  test('on a day they take none it is refused; packs below the first break too', async () => {
    const tuesday = await yard.add({ weekdays: [2] });
    expect((await stores.refused('post', '/ordering/purchases', place(tuesday, [['F1', 2]]))).detail).toContain(
      'takes no orders today',
    );
    const dozens = await yard.add({
      name: 'Dozens',
      offers: [{ ...yard.supplierOf().offers[0]!, breaks: [{ packs: 12, priceMinor: 800 }] }],
    });
    expect(
      (await stores.refused('post', '/ordering/purchases', place(dozens, [['F1', 2]]))).faults?.[0]?.text,
    ).toContain('at least 12 packs');
  });

  test('by mail it reaches whom is written to there', async () => {
    await mail.afresh();
    const contact = await mail.ilse.post<{ id: number }>('/messages/contacts', {
      name: 'Tern desk',
      address: 'orders@tern.example',
      baseId: null,
      hears: [],
    });
    const made = await yard.add({ contactId: contact.id });
    const { id } = await stores.post<{ id: number }>('/ordering/purchases', place(made, [['F1', 2]], { mail: true }));
    await mail.send();
    const [letter] = await mail.came();
    expect(letter).toMatchObject({ subject: `Order ${id} for North Quay`, to: [{ address: 'orders@tern.example' }] });
    expect(letter!.text).toContain('2 x T-77');
    await mail.yard.pool.query('update supplier set contact_id = null');
  });

  test('two who take what is left of an order at once: one closes it, the other is told', async () => {
    const made = await yard.add();
    await stores.post('/ordering/purchases', place(made, [['F1', 2]]));
    const [order] = await open();
    const close = () => stores.raw('post', `/stores/arrivals/${order!.lines[0]!.arrivalId}/close`, { received: 2 });
    const answers = await Promise.all([close(), close(), close()]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409]);
  });
});
