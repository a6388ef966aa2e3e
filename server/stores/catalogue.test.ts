import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Arrival, Movement, Part, PartPage, StoreWorth, WhichPart } from '@diurna/contract/stores';
import { confirmGates, PARTS_CSV, southSlip, workThrough, type Client, type Yard } from '../test/yard.ts';
import { openCardYard, type Cards } from '../test/cards.ts';

let now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let hanne: Client;
let south: number;
let cards: Cards;
let ines: Client;
let port = 0;
beforeAll(async () => {
  ({ yard, ilse, cards, port } = await openCardYard(() => now));
  hanne = await yard.as('stores');
  ines = await yard.as('technician');
  await ilse.post('/exchange/parts', PARTS_CSV);
  south = await southSlip(ilse);
});
afterAll(() => yard.close());

const partOf = async (number: string) =>
  (await ilse.get<{ rows: Part[] }>('/stores/parts')).rows.find((p) => p.number === number)!;
const pageOf = async (number: string) => ilse.get<PartPage>(`/stores/parts/${(await partOf(number)).id}`);
const edit = async (number: string, more: Partial<PartPage>) => {
  const { id, onHand: _, places: __, keptBack: ___, ...part } = await partOf(number);
  return ilse.put(`/stores/parts/${id}`, { ...part, ...more });
};
const refusedEdit = async (number: string, more: Partial<PartPage>) => {
  const { id, onHand: _, places: __, keptBack: ___, ...part } = await partOf(number);
  return ilse.refused('put', `/stores/parts/${id}`, { ...part, ...more });
};
const add = (number: string, more: Record<string, unknown> = {}) =>
  ilse.post<{ id: number }>('/stores/parts', {
    number,
    name: number,
    kind: 'oil filter',
    unit: 'each',
    priceMinor: 1000,
    fitments: [],
    ...more,
  });
const move = (act: string, partId: number, more: Record<string, unknown>) =>
  hanne.post<{ onHand: number }>('/stores/movements', { act, partId, baseId: yard.baseId, note: null, ...more });
const link = (otherId: number, kind: 'superseded by' | 'equivalent', approved = true) => ({
  otherId,
  kind,
  approved,
  evidence: 'bulletin 7',
  saidBy: 'Tern Parts',
  day: '2026-01-10',
});
const total = async (partId: number) =>
  (await ilse.get<{ rows: Movement[] }>(`/stores/parts/${partId}/ledger?size=200`)).rows.reduce(
    (sum, m) => sum + m.quantity,
    0,
  );

describe('numbers that stand for others', () => {
  test('a newer number fits what the older did; the answer is the newer, the older is used up', async () => {
    const newer = await add('F1-B');
    await edit('F1', { links: [link(newer.id, 'superseded by')] });
    expect((await pageOf('F1-B')).fitments).toEqual((await pageOf('F1')).fitments);
    expect((await pageOf('F1-B')).supersedes).toEqual([(await partOf('F1')).id]);
    const which = await ilse.get<WhichPart[]>(`/stores/engines/${port}/parts`);
    const filters = which.filter((w) => w.task === 'oil-filter');
    expect(filters).toHaveLength(1);
    expect(filters[0]).toMatchObject({ part: { number: 'F1-B' }, quantity: 1, onHand: 0, doubts: [] });
    expect(filters[0]!.instead).toMatchObject([
      { number: 'F1', onHand: 1, why: 'older number: bulletin 7 (Tern Parts)' },
    ]);
    // The shelf does as many services as before: what is left of the older counts.
    const shelf = await ilse.get<{ tasks: { task: string; serials: string; count: number }[] }[]>('/stores/models');
    expect(shelf.flatMap((m) => m.tasks)).toContainEqual(
      expect.objectContaining({ task: 'oil-filter', serials: 'up to C60-40116', count: 1 }),
    );
  });

  test('what leads in a ring, to itself or to nothing is refused at its line', async () => {
    const [older, newer] = [await partOf('F1'), await partOf('F1-B')];
    const ring = await refusedEdit('F1-B', { links: [link(older.id, 'superseded by')] });
    expect(ring).toMatchObject({ status: 422, faults: [{ path: 'links.0.otherId' }] });
    const self = await refusedEdit('F1-B', { links: [link(newer.id, 'equivalent')] });
    expect(self.faults![0]!.text).toContain('cannot stand for itself');
    const none = await refusedEdit('F1-B', { links: [{ ...link(older.id, 'equivalent'), evidence: '' }] });
    expect(none.faults![0]!.text).toContain('where is it written');
  });

  test('a kit held against a service: what is missing, what another number brings', async () => {
    const [newer, oil] = [await partOf('F1-B'), await partOf('OIL')];
    const kit = await add('KIT', {
      kind: 'other',
      contents: [
        { partId: newer.id, quantity: 1 },
        { partId: oil.id, quantity: 1000 },
      ],
    });
    const modelId = newer.fitments[0]!.modelId;
    const check = await ilse.get<{ missing: { number: string; quantity: number }[]; unknown: string[] }>(
      `/stores/parts/${kit.id}/kit-check?modelId=${modelId}&serial=C60-40050&tasks=engine-oil,oil-filter,impeller`,
    );
    expect(check.missing.map((m) => m.number)).toEqual(['OIL']);
    expect(check.unknown).toEqual(['impeller']);
    expect((await ilse.refused('get', `/stores/parts/${kit.id}/kit-check?modelId=${modelId}&tasks=tea`)).status).toBe(
      422,
    );
    expect((await pageOf('KIT')).kitModels).toContain(modelId);
  });
});

describe('handed to a person, for no card', () => {
  test('it is used and known by whom; no more is brought back than was taken; two at once end exact', async () => {
    const { id } = await add('RAG', { kind: 'other' });
    await move('receive', id, { quantity: 10 });
    const people = await ilse.get<{ id: number; role: string; name: string }[]>('/people');
    const technician = people.find((p) => p.role === 'technician')!;
    const line = { personId: technician.id, note: null };
    await move('hand out', id, { ...line, quantity: 6 });
    await move('bring back', id, { ...line, quantity: 2 });
    const ledger = await hanne.get<{ rows: Movement[] }>(`/stores/parts/${id}/ledger?page=1&size=20`);
    expect(ledger.rows.slice(0, 2)).toMatchObject([
      { quantity: 2, reason: 'returned', takenBy: technician.name, jobId: null, balance: 6 },
      { quantity: -6, reason: 'used', takenBy: technician.name, jobId: null, balance: 4 },
    ]);
    const body = { partId: id, baseId: yard.baseId, ...line };
    const refused = (more: object) => hanne.refused('post', '/stores/movements', { ...body, ...more });
    expect(await refused({ act: 'bring back', quantity: 5 })).toMatchObject({
      ...{ status: 409, detail: expect.stringContaining(`${technician.name} has 4 of RAG from here.`) },
    });
    expect((await refused({ act: 'hand out', quantity: 7 })).detail).toContain('The shelf has too little');
    expect((await refused({ act: 'hand out', quantity: 1, personId: 99_999 })).faults![0]!.path).toBe('personId');
    // The last ones, asked for by five at once: two get them.
    const tries = await Promise.allSettled(
      Array.from({ length: 5 }, () => move('hand out', id, { ...line, quantity: 3 })),
    );
    expect(tries.filter((t) => t.status === 'fulfilled')).toHaveLength(2);
    expect((await pageOf('RAG')).onHand.find((h) => h.baseId === yard.baseId)!.quantity).toBe(0);
  });
});

describe('lots, and what they cost', () => {
  test('what expires first goes first; the average and first in first out; money tied up', async () => {
    const { id } = await add('PASTE', { kind: 'other', shelfLifeMonths: 12 });
    await move('receive', id, { quantity: 10, lot: 'A', costMinor: 1000 });
    await move('receive', id, { quantity: 10, lot: 'B', expires: '2026-05-31', costMinor: 1200 });
    await move('write off', id, { quantity: 12, note: 'dried out' });
    const page = await pageOf('PASTE');
    // A has the shelf life of the part; B says itself when it is over, and goes first.
    expect(page.lots).toMatchObject([{ lot: 'A', expires: '2027-04-15', left: 8 }]);
    expect(page.worth).toMatchObject([{ averageMinor: 110, worthMinor: 880, worthFifoMinor: 960, expired: 0 }]);
    const worth = await hanne.get<StoreWorth>(`/stores/worth?baseId=${yard.baseId}`);
    expect(worth.parts.find((p) => p.number === 'PASTE')).toMatchObject({ worthMinor: 880, turns: null, dead: false });
    now = new Date('2028-04-15T10:00:00Z');
    const later = await hanne.get<StoreWorth>('/stores/worth');
    expect(later.parts.find((p) => p.number === 'PASTE')).toMatchObject({ expired: 8, dead: true, lastUsed: null });
    now = new Date('2026-04-15T10:00:00Z');
    expect((await (await yard.as('dock')).refused('get', '/stores/worth')).status).toBe(403);
  });
});

describe('on the way between bases', () => {
  test('nothing vanishes: on its way, put there, short, or sent back; the cost goes with it', async () => {
    const { id } = await add('BELT', { kind: 'other' });
    await move('receive', id, { quantity: 10, costMinor: 5000 });
    await move('move', id, { quantity: 4, toBaseId: south });
    expect(await total(id)).toBe(6);
    const first = (await hanne.get<Arrival[]>(`/stores/arrivals?partId=${id}`))[0]!;
    // Three came, one is still looked for.
    await hanne.post(`/stores/arrivals/${first.id}/close`, { received: 3, restOn: '2026-04-18' });
    expect(await total(id)).toBe(9);
    const rest = (await hanne.get<Arrival[]>(`/stores/arrivals?partId=${id}`))[0]!;
    expect(rest).toMatchObject({ quantity: 1, day: '2026-04-18', fromBaseId: yard.baseId });
    expect((await hanne.refused('post', `/stores/arrivals/${rest.id}/close`, { received: 2 })).detail).toContain(
      'Only 1',
    );
    await hanne.post(`/stores/arrivals/${rest.id}/close`, { received: 0 });
    expect(await total(id)).toBe(10);
    expect((await pageOf('BELT')).worth.find((w) => w.baseId === south)).toMatchObject({ worthMinor: 1500 });
    // Lost on the way: written off where it was sent from.
    await move('move', id, { quantity: 2, toBaseId: south });
    const lost = (await hanne.get<Arrival[]>(`/stores/arrivals?partId=${id}`))[0]!;
    await hanne.post(`/stores/arrivals/${lost.id}/close`, { received: 1 });
    expect(await total(id)).toBe(9);
    expect((await pageOf('BELT')).onHand).toEqual(
      expect.arrayContaining([
        { baseId: yard.baseId, quantity: 5 },
        { baseId: south, quantity: 4 },
      ]),
    );
  });

  test('ten who send at once: no more leaves than lies there, and all of it is somewhere', async () => {
    const { id } = await add('BOLT', { kind: 'other' });
    await move('receive', id, { quantity: 7 });
    const sent = await Promise.allSettled(
      Array.from({ length: 10 }, () => move('move', id, { quantity: 1, toBaseId: south })),
    );
    expect(sent.filter((s) => s.status === 'fulfilled')).toHaveLength(7);
    const under = await hanne.get<Arrival[]>(`/stores/arrivals?partId=${id}`);
    await Promise.allSettled(
      under.flatMap((a) => [1, 1].map((received) => hanne.post(`/stores/arrivals/${a.id}/close`, { received }))),
    );
    expect((await pageOf('BOLT')).onHand).toEqual(
      expect.arrayContaining([
        { baseId: yard.baseId, quantity: 0 },
        { baseId: south, quantity: 7 },
      ]),
    );
  });

  test('what is kept back for a card does not leave unless somebody says so; the card is named', async () => {
    const job = await cards.hand([[port, 'gear-lube']]);
    const lube = await partOf('LUBE');
    const kept = await hanne.refused('post', '/stores/movements', {
      ...{ act: 'move', partId: lube.id, baseId: yard.baseId, toBaseId: south, quantity: 900, note: null },
    });
    expect(kept).toMatchObject({ status: 409, type: 'kept' });
    expect(kept.detail).toMatch(/360 mL are free here: the rest is kept back for Turnstone on Wed 15 Apr/);
    await move('move', lube.id, { quantity: 300, toBaseId: south });
    await move('move', lube.id, { quantity: 600, toBaseId: south, although: true });
    await cards.callOff(job);
  });
});

describe('containers of a fluid', () => {
  const bottle = { value: 1, unit: 'L' as const, kind: 'bottle' as const };
  const open = async () => (await pageOf('MIX')).open.map((o) => [o.label, o.leftMl]);

  test('poured from what stands open, the oldest first; then a full one is opened', async () => {
    const { id } = await add('MIX', { kind: 'other', unit: 'mL', containers: [bottle] });
    await move('receive', id, { quantity: 3000 });
    await move('write off', id, { quantity: 300, note: 'spilt' });
    expect(await open()).toEqual([['1 L bottle', 700]]);
    await move('write off', id, { quantity: 900, note: 'spilt again' });
    expect(await open()).toEqual([['1 L bottle', 800]]);
    await move('open', id, { container: bottle });
    expect(await open()).toHaveLength(2);
    // 1800 mL lie there, and all of it stands open.
    const refused = await hanne.refused('post', '/stores/movements', {
      ...{ act: 'open', partId: id, baseId: yard.baseId, container: bottle },
    });
    expect(refused.detail).toContain('no full 1 L bottle can be left');
  });

  test('poured over, never beyond what fits; counted: what stands open is looked at by itself', async () => {
    const page = await pageOf('MIX');
    const [a, b] = page.open;
    const over = (fromId: number, toId: number, ml: number) => ({ fromId, toId, ml });
    const full = await hanne.refused('post', '/stores/movements', {
      ...{ act: 'decant', partId: page.id, baseId: yard.baseId, ...over(a!.id, b!.id, 300) },
    });
    expect(full.detail).toContain('takes no more than 0 mL');
    await move('decant', page.id, over(b!.id, a!.id, 200));
    expect(await open()).toEqual([
      ['1 L bottle', 1000],
      ['1 L bottle', 800],
    ]);
    await move('count', page.id, { counted: 1500, open: [{ id: b!.id, leftMl: 600 }] });
    expect(await open()).toEqual([
      ['1 L bottle', 1000],
      ['1 L bottle', 500],
    ]);
  });

  test('what a card takes is poured, and goes back into its bottle when the card is opened again', async () => {
    const lube = await partOf('LUBE');
    await edit('LUBE', { containers: [bottle] });
    await move('receive', lube.id, { quantity: 4000 });
    const left = async () => (await pageOf('LUBE')).open.map((o) => [o.label, o.leftMl]);
    const before = await left();
    const id = await cards.hand([[port, 'gear-lube']]);
    const [line] = (await cards.read(id)).parts.filter((p) => p.partId === lube.id);
    expect(line!.sizes).toMatchObject([{ id: '1 L bottle', ml: 1000 }]);
    await confirmGates(ines, id);
    await workThrough(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    expect(await left()).toEqual([...before, ['1 L bottle', 360]]);
    await ilse.post(`/jobs/${id}/undo`, { version: (await cards.read(id)).version, reason: 'wrong card' });
    expect(await left()).toEqual([...before, ['1 L bottle', 1000]]);
  });
});
