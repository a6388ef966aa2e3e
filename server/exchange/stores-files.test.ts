import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ImportResult } from '@diurna/contract/exchange';
import type { Supplier } from '@diurna/contract/ordering';
import type { PartPage } from '@diurna/contract/parts';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

/** Catalogue, suppliers, prices and counts as files, also a supplier's own with columns of its own. */
let yard: Yard;
let ilse: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(() => yard.close());

const read = (kind: string, csv: string, query = '') => ilse.post<ImportResult>(`/exchange/${kind}${query}`, csv);
const look = (kind: string, csv: string, query = '') =>
  ilse.post<ImportResult>(`/exchange/${kind}/preview${query}`, csv);
const faultsOf = (r: ImportResult) => r.rows.flatMap((row) => row.faults.map((f) => `${f.column} ${f.text}`));
const suppliers = () => ilse.get<Supplier[]>('/ordering/suppliers');
const written = async (kind: string) => (await ilse.agent.get(`/api/exchange/${kind}`)).text;
const partId = async (number: string) =>
  (await ilse.get<{ rows: { id: number; number: string }[] }>('/stores/parts')).rows.find((p) => p.number === number)!
    .id;

describe('suppliers', () => {
  const CSV =
    'supplier,lead_days,weekdays,carriage,free_from,least\nTern Trade,2,Mon-Fri,9.50,150,\nSkua Parts,6,1 3 5,4,,20\n';
  test('come in with how they deliver; read again nothing changes; an empty cell leaves what is there', async () => {
    expect(await read('suppliers', CSV)).toMatchObject({ counts: { add: 2, faulty: 0 } });
    expect(await read('suppliers', CSV)).toMatchObject({ counts: { add: 0, change: 0, same: 2 } });
    expect(
      (await suppliers()).map((s) => [s.name, s.leadDays, s.weekdays, s.carriageMinor, s.freeFromMinor, s.leastMinor]),
    ).toEqual([
      ['Skua Parts', 6, [1, 3, 5], 400, null, 2000],
      ['Tern Trade', 2, [1, 2, 3, 4, 5], 950, 15000, 0],
    ]);
    await read('suppliers', 'supplier,lead_days,weekdays,carriage\nTern Trade,3,Mon-Fri,\n');
    expect((await suppliers())[1]).toMatchObject({ leadDays: 3, carriageMinor: 950, freeFromMinor: 15000 });
  });
  test('days that are none are said, and nothing is written', async () => {
    expect(faultsOf(await look('suppliers', 'supplier,lead_days,weekdays\nGannet,2,Fri-Mon\n'))).toEqual([
      'weekdays "Fri-Mon" is no list of days; write them as Mon Tue Wed Thu Fri',
    ]);
    expect(
      await ilse.refused('post', '/exchange/suppliers', 'supplier,lead_days,weekdays\nGannet,2,some\n'),
    ).toMatchObject({ status: 422 });
    expect((await suppliers()).map((s) => s.name)).not.toContain('Gannet');
  });
});

describe('prices', () => {
  const tern = async () => (await suppliers()).find((s) => s.name === 'Tern Trade')!;
  const offers = async () =>
    (await tern()).offers.map((o) => [o.part, o.number, o.packQuantity, o.breaks.map((b) => [b.packs, b.priceMinor])]);

  test('a price list with the book’s columns: packs and steps; what the book does not have is left out', async () => {
    const csv =
      'supplier,part,their_number,pack,from_packs,price\nTern Trade,F1,T-100,1,1,11.20\nTern Trade,F1,,1,10,9.90\nTern Trade,NOT-OURS,,1,1,3\nTern Trade,OIL,T-200,4000,1,"38,00"\n';
    expect(await read('prices', csv)).toMatchObject({ counts: { add: 3, left: 1, faulty: 0 } });
    expect(await offers()).toEqual(
      expect.arrayContaining([
        [
          'F1',
          'T-100',
          1,
          [
            [1, 1120],
            [10, 990],
          ],
        ],
        ['OIL', 'T-200', 4000, [[1, 3800]]],
      ]),
    );
    expect(await read('prices', csv)).toMatchObject({ counts: { add: 0, change: 0, same: 3, left: 1 } });
  });

  test('a supplier’s own file: its columns are said once, and the next one is read by itself', async () => {
    const { id } = await tern();
    const own = 'Article;Text;Net EUR\nT-100;filter;12,10\nT-200;oil;40\nT-999;sail;900\n';
    const first = await look('prices', own, `?supplierId=${id}`);
    expect(first).toMatchObject({ missing: ['part', 'price'], header: ['Article', 'Text', 'Net EUR'], rows: [] });
    expect((await ilse.refused('post', `/exchange/prices?supplierId=${id}`, own)).detail).toContain(
      'lacks the columns part, price',
    );
    const match = new URLSearchParams({ part: 'Article', price: 'Net EUR' });
    const seen = await look('prices', own, `?supplierId=${id}&match=${encodeURIComponent(String(match))}`);
    expect(seen).toMatchObject({ missing: [], counts: { change: 2, left: 1, faulty: 0 } });
    expect(seen.rows.find((r) => r.cells.part === 'T-100')!.was).toEqual({ price: '11.20' });
    // A look remembers nothing.
    expect((await look('prices', own, `?supplierId=${id}`)).missing).toEqual(['part', 'price']);
    await read('prices', own, `?supplierId=${id}&match=${encodeURIComponent(String(match))}`);
    const again = await look('prices', own.replace('12,10', '12,60'), `?supplierId=${id}`);
    expect(again).toMatchObject({
      missing: [],
      match: { part: 'Article', price: 'Net EUR' },
      counts: { change: 1, same: 1, left: 1 },
    });
    // Another's file is not read by it.
    const skua = (await suppliers()).find((s) => s.name === 'Skua Parts')!;
    expect((await look('prices', own, `?supplierId=${skua.id}`)).missing).toEqual(['part', 'price']);
    // Steps the file says nothing of stay.
    expect(await offers()).toContainEqual([
      'F1',
      'T-100',
      1,
      [
        [1, 1210],
        [10, 990],
      ],
    ]);
  });

  test('what cannot be meant is said: two packs, a dearer step, twice the same, nobody’s list', async () => {
    const { id } = await tern();
    await read('prices', 'part,pack,price\nF1,6,60\n', `?supplierId=${id}`);
    const faults = async (csv: string, query = `?supplierId=${id}`) => faultsOf(await look('prices', csv, query));
    expect(await faults('part,price\nF1,11\n')).toEqual(['pack is empty; it is sold in packs of 1 and 6']);
    expect(await faults('part,pack,price\nF1,1,5\n')).toEqual([
      'price from 10 packs it would be 9.90, dearer than 5.00 from 1',
    ]);
    expect(await faults('part,pack,price\nF1,6,50\nf1,6,51\n')).toEqual([
      'price line 2 has a price of this pack already',
    ]);
    expect(await faults('part,price\nOIL,11\n', '')).toEqual(['supplier is empty; say whose price list it is']);
    expect(await faults('part,pack,price\nF1,1.5,5\n')).toEqual(['pack 1.5 has to be a whole number']);
  });

  test('their number says the pack, where it stands on one alone; steps the file leaves out are shown as they go', async () => {
    const { id } = await tern();
    await read('prices', 'part,their_number,pack,price\nF1,T-106,6,60\n', `?supplierId=${id}`);
    const seen = await look('prices', 'part,price\nT-106,59\n', `?supplierId=${id}`);
    expect(seen.rows[0]).toMatchObject({ does: 'change', was: { price: '60.00' }, faults: [] });
    // The file speaks of steps, and of this pack has one alone: the other goes, and is seen to go.
    const now = (await tern()).offers.find((o) => o.part === 'F1' && o.packQuantity === 1)!.breaks;
    const csv = `part,pack,from_packs,price\nF1,1,1,${(now[0]!.priceMinor / 100).toFixed(2)}\n`;
    expect((await look('prices', csv, `?supplierId=${id}`)).rows[0]).toMatchObject({
      does: 'change',
      was: { from_packs: '10: 9.90' },
    });
    expect(await read('prices', csv, `?supplierId=${id}`)).toMatchObject({ counts: { change: 1, same: 0 } });
    expect((await tern()).offers.find((o) => o.part === 'F1' && o.packQuantity === 1)!.breaks).toEqual([now[0]]);
  });

  test('a supplier that is not there is said, and a match that was remembered is not lost by a shorter list', async () => {
    const csv = 'Article;Net EUR\nT-100;11\n';
    const match = encodeURIComponent('part=Article&price=Net+EUR');
    expect(faultsOf(await look('prices', csv, `?supplierId=9999&match=${match}`))).toEqual([
      'supplier is empty; say whose price list it is',
    ]);
    expect((await ilse.refused('post', `/exchange/prices?supplierId=9999&match=${match}`, csv)).status).toBe(422);
    // Of other files nobody asks whose they are.
    const counts = `?supplierId=9999&match=${encodeURIComponent('part=P')}`;
    expect(await read('counts', 'P,base,count\nOIL,North Quay,9000\n', counts)).toMatchObject({ counts: { same: 1 } });
    const { id } = await tern();
    const three = encodeURIComponent('part=Article&price=Net+EUR&pack=Size');
    await read('prices', 'Article;Net EUR;Size\nT-100;11,30;1\n', `?supplierId=${id}&match=${three}`);
    await read('prices', 'Article;Net EUR\nT-100;11,40\n', `?supplierId=${id}`);
    expect((await look('prices', 'Article;Net EUR;Size\nT-100;11,50;1\n', `?supplierId=${id}`)).match).toEqual({
      part: 'Article',
      price: 'Net EUR',
      pack: 'Size',
    });
  });

  test('whoever has the supplier open is refused, not overwritten', async () => {
    const before = await tern();
    await read('prices', 'part,pack,price\nF1,6,58\n', `?supplierId=${before.id}`);
    const { offers: _, learned: __, id, ...rest } = before;
    expect(await ilse.refused('put', `/ordering/suppliers/${id}`, { ...rest, offers: [] })).toMatchObject({
      status: 409,
    });
  });
});

describe('counts', () => {
  test('book the difference and show what the book said; a part or base that is not there is said', async () => {
    const csv = 'part,base,count\nOIL,North Quay,8000\n';
    expect((await look('counts', csv)).rows[0]).toMatchObject({ does: 'change', was: { count: '9000' } });
    expect(await read('counts', csv)).toMatchObject({ counts: { change: 1 } });
    expect(await read('counts', csv)).toMatchObject({ counts: { same: 1, change: 0 } });
    expect(
      faultsOf(await look('counts', 'part,base,count\nNONE,North Quay,1\nOIL,Nowhere,1\nF1,North Quay,1.5\n')),
    ).toEqual([
      'part no part "NONE" on the shelf list; read the parts file first',
      'base no base "Nowhere" in the book; read the fleet file in first',
      'count 1.5 has to be a whole number',
    ]);
  });
});

describe('links between numbers', () => {
  test('come in with who says so, and are not approved unless the file says yes; rings are refused', async () => {
    await read('parts', 'part,name,kind,unit\nF3,Oil filter,oil filter,each\nF4,Oil filter,oil filter,each\n');
    const csv =
      'part,other,link,evidence,said_by,approved\nF1,F3,superseded by,Bulletin 4,Maker,yes\nF3,F4,equivalent,Label,,\n';
    expect(await read('links', csv)).toMatchObject({ counts: { add: 2, faulty: 0 } });
    expect(await read('links', csv)).toMatchObject({ counts: { add: 0, change: 0, same: 2 } });
    const { links } = await ilse.get<PartPage>(`/stores/parts/${await partId('F3')}`);
    expect(links).toMatchObject([{ kind: 'equivalent', approved: false, saidBy: 'coordinator', day: '2026-04-15' }]);
    const ring = 'part,other,link,evidence\nF3,F1,superseded by,Label\n';
    expect(faultsOf(await look('links', ring))).toEqual([
      'other That leads back to this number. One of the two is the newer.',
    ]);
    expect(faultsOf(await look('links', 'part,other,link,evidence\nF1,F1,equivalent,Label\n'))).toEqual([
      'other A part cannot stand for itself. Choose the other one.',
    ]);
  });
});

describe('containers and shelf life', () => {
  const HEAD = 'part,name,kind,unit,containers,shelf_life_months\n';
  test('are read as printed, kept where a file says nothing of them, and written out again', async () => {
    const csv = `${HEAD}OIL,Engine oil,oil,mL,Bottle 1 us qt; jug 4 L,60\n`;
    expect(await read('parts', csv)).toMatchObject({ counts: { change: 1 } });
    expect(await read('parts', csv)).toMatchObject({ counts: { change: 0, same: 1 } });
    await read('parts', 'part,name,kind,unit\nOIL,Engine oil SAE 30,oil,mL\n');
    expect(await ilse.get<PartPage>(`/stores/parts/${await partId('OIL')}`)).toMatchObject({
      name: 'Engine oil SAE 30',
      containers: [
        { kind: 'bottle', value: 1, unit: 'US qt' },
        { kind: 'jug', value: 4, unit: 'L' },
      ],
      shelfLifeMonths: 60,
    });
    expect(await written('parts')).toContain('bottle 1 US qt; jug 4 L,60');
  });
  test('what is no container is said, and a filter has none', async () => {
    expect(
      faultsOf(await look('parts', `${HEAD}OIL,Oil,oil,mL,barrel 200 L,\nF1,Filter,oil filter,each,bottle 1 L,\n`)),
    ).toEqual([
      expect.stringMatching(/^containers "barrel 200 L" is no container; write it as: bottle 1 US qt; jug 4 L/),
      'containers a part counted in pieces has none',
    ]);
  });
});

test('written out it is the same book: read in again nothing changes', async () => {
  for (const kind of ['suppliers', 'prices', 'links', 'counts', 'parts'])
    expect((await read(kind, await written(kind))).counts).toMatchObject({ add: 0, change: 0, left: 0, faulty: 0 });
});
