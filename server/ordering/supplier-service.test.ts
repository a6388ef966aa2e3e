import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Purchase, Supplier } from '@diurna/contract/ordering';
import type { Part } from '@diurna/contract/stores';
import { startSupplierDesk } from '@diurna/demo/supplier-desk';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { askSupplier } from './index.ts';

/** Wednesday 15 April 2026: the stand-in sends on Sunday 19 April what it has as usual. */
const NOW = new Date('2026-04-15T10:00:00Z');
const PARTS = `part,name,kind,unit,price,base,count,shelf,model,task,quantity,serial_from,serial_to
SEP-10,Separator,other,each,17.80,,,,,,,,
PL-1,Plug,plug,each,6.90,,,,,,,,
LU-F1,Filter,oil filter,each,11.40,,,,,,,,
LU-F2,Filter new,oil filter,each,11.40,,,,,,,,
PK-T8,Pump kit,pump kit,each,26.00,,,,,,,,
TH-C,Thermostat,other,each,34.00,,,,,,,,
`;
const SOLD = ['SEP-10', 'PL-1', 'LU-F1', 'PK-T8', 'TH-C'];

let desk: Awaited<ReturnType<typeof startSupplierDesk>>;
let yard: Yard;
let ilse: Client;
let hanne: Client;
const ids = new Map<string, number>();
beforeAll(async () => {
  desk = await startSupplierDesk(0);
  yard = await openYard(() => NOW);
  ilse = await yard.as('coordinator');
  hanne = await yard.as('stores');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS);
  for (const p of (await ilse.get<{ rows: Part[] }>('/stores/parts')).rows) ids.set(p.number, p.id);
});
afterAll(async () => {
  await yard.close();
  await desk.stop();
});

const ask = (id: number, allowed = [new URL(desk.url).host]) =>
  askSupplier(yard.db, id, NOW, { personId: null, requestId: null }, { allowed, logger: pino({ level: 'silent' }) });
const supplierAt = async (name: string, serviceUrl: string | null) => {
  const { id } = await hanne.post<{ id: number }>('/ordering/suppliers', {
    ...{ name, contactId: null, leadDays: 4, weekdays: [1, 2, 3, 4, 5], carriageMinor: 0, freeFromMinor: null },
    ...{ leastMinor: 0, serviceUrl },
    offers: SOLD.map((number) => ({
      partId: ids.get(number)!,
      number: null,
      packQuantity: 2,
      breaks: [{ packs: 1, priceMinor: 2000 }],
    })),
  });
  return (await hanne.get<Supplier[]>('/ordering/suppliers')).find((s) => s.id === id)!;
};
const order = async (from: Supplier) =>
  (
    await hanne.post<{ id: number }>('/ordering/purchases', {
      ...{ baseId: yard.baseId, supplierId: from.id, mail: false, service: true },
      lines: from.offers.map((o) => ({ offerId: o.id, packs: 3 })),
    })
  ).id;
const read = async (id: number) =>
  (await hanne.get<Purchase[]>(`/ordering/purchases?baseId=${yard.baseId}&state=all`)).find((p) => p.id === id)!;

describe('a supplier’s service', () => {
  test('takes an order, and answers: as ordered, later, short, by another number, not at all', async () => {
    const id = await order(await supplierAt('Tern', `${desk.url}/`));
    expect(await read(id)).toMatchObject({ service: 'waiting' });
    expect(await ask(id)).toEqual({ outcome: 'Tern has taken the order and not answered yet.', open: true });
    expect(await read(id)).toMatchObject({ service: 'taken' });
    const { outcome, open } = await ask(id);
    expect(open).toBe(false);
    expect(outcome).toContain('SEP-10: comes on Fri 24 Apr; on its way to us');
    const answered = await read(id);
    expect(answered).toMatchObject({ service: 'answered', serviceSays: outcome });
    const line = (number: string) => answered.lines.find((l) => l.number === number);
    expect(line('TH-C')).toMatchObject({ quantity: 6, expected: '2026-04-19', answer: 'confirmed', received: null });
    expect(line('SEP-10')).toMatchObject({ quantity: 6, expected: '2026-04-24' });
    expect(line('PL-1')).toMatchObject({
      packs: 2,
      quantity: 4,
      priceMinor: 4000,
      answer: '2 of 3 packs; the last we have',
    });
    // The new number is known to the book: that is what comes.
    expect(line('LU-F1')).toBeUndefined();
    expect(line('LU-F2')).toMatchObject({ quantity: 6, partId: ids.get('LU-F2') });
    expect(line('PK-T8')).toMatchObject({ received: 0, answer: 'will not be sent; not made any more' });
    // Plans and shelves count on what is said, not on what was asked for.
    const under = await hanne.get<{ number: string; day: string; quantity: number }[]>('/stores/arrivals');
    expect(under.find((a) => a.number === 'PL-1')).toMatchObject({ quantity: 4, day: '2026-04-19' });
    expect(under.find((a) => a.number === 'PK-T8')).toBeUndefined();
  });

  test('one part in two packs: each is answered by itself', async () => {
    const { id } = await hanne.post<{ id: number }>('/ordering/suppliers', {
      ...{ name: 'Two sizes', contactId: null, leadDays: 4, weekdays: [1, 2, 3, 4, 5], carriageMinor: 0 },
      ...{ freeFromMinor: null, leastMinor: 0, serviceUrl: desk.url },
      offers: [2, 10].map((packQuantity) => ({
        ...{ partId: ids.get('PL-1')!, number: null, packQuantity, breaks: [{ packs: 1, priceMinor: 2000 }] },
      })),
    });
    const from = (await hanne.get<Supplier[]>('/ordering/suppliers')).find((s) => s.id === id)!;
    const packs = (quantity: number) => (quantity === 2 ? 3 : 1);
    const placed = await hanne.post<{ id: number }>('/ordering/purchases', {
      ...{ baseId: yard.baseId, supplierId: id, mail: false, service: true },
      lines: from.offers.map((o) => ({ offerId: o.id, packs: packs(o.packQuantity) })),
    });
    await ask(placed.id);
    await ask(placed.id);
    // Of three packs one is missing, the single one is there.
    expect((await read(placed.id)).lines.map((l) => [l.packQuantity, l.packs]).sort()).toEqual([
      [10, 1],
      [2, 2],
    ]);
  });

  test('of this network is not asked unless a setting names it; the order stays as it is, and says why', async () => {
    const id = await order(await supplierAt('Private', desk.url));
    const { outcome, open } = await ask(id, []);
    expect(open).toBe(true);
    expect(outcome).toBe(
      'The supplier’s service cannot be reached, or does not take this order. Look at its address under Suppliers.',
    );
    const kept = await read(id);
    expect(kept).toMatchObject({ service: 'failed', serviceSays: outcome });
    expect(kept.lines.every((l) => l.answer === null && l.quantity === 6)).toBe(true);
    await hanne.post(`/ordering/purchases/${id}/ask`);
    expect(await read(id)).toMatchObject({ service: 'waiting', serviceSays: null });
  });

  test('none: nothing is sent there, and it says so', async () => {
    const from = await supplierAt('By telephone', null);
    const refused = await hanne.refused('post', '/ordering/purchases', {
      ...{ baseId: yard.baseId, supplierId: from.id, mail: false, service: true },
      lines: [{ offerId: from.offers[0]!.id, packs: 1 }],
    });
    expect(refused.detail).toContain('By telephone has no service that takes orders.');
    const { id: _, version: __, learned: ___, offers: ____, ...edit } = from;
    const odd = await hanne.refused('post', '/ordering/suppliers', {
      ...edit,
      serviceUrl: 'ftp://elsewhere',
      offers: [],
    });
    expect(odd).toMatchObject({ status: 422, faults: [{ path: 'serviceUrl' }] });
  });

  describe('that answers nonsense', () => {
    let server: Server;
    let answer = '';
    beforeAll(async () => {
      server = createServer((_request, reply) => {
        reply.writeHead(200).end(answer);
      });
      await new Promise<void>((done) => {
        server.listen(0, '127.0.0.1', done);
      });
    });
    afterAll(() => {
      server.close();
      server.closeAllConnections();
    });

    test.each([
      ['no JSON', 'tomorrow'],
      ['another order', '{"format":"diurna-supplier-answer","version":1,"reference":"order-9999","state":"taken"}'],
      ['another format', '{"state":"answered"}'],
    ])('%s: nothing of the order changes', async (what, text) => {
      answer = text;
      const host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
      const id = await order(await supplierAt(`Odd ${what}`, `http://${host}`));
      expect(await ask(id, [host])).toEqual({
        outcome: 'The supplier’s answer is none of the format it should have.',
        open: true,
      });
      expect((await read(id)).lines.every((l) => l.quantity === 6 && l.answer === null)).toBe(true);
    });
  });
});
