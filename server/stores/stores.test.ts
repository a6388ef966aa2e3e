import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import type { Part, WantedPart } from '@diurna/contract/stores';
import { Cards } from '../test/cards.ts';
import { fleetWithTwins, openYard, PARTS_CSV, write, type Client, type Yard } from '../test/yard.ts';

const now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let ines: Client;
let hanne: Client;
let cards: Cards;
let boatId = 0;
let port = 0;
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  ines = await yard.as('technician');
  hanne = await yard.as('stores');
  ({ boatId, port } = await fleetWithTwins(ilse));
  cards = new Cards(ilse, { boatId, technicianId: yard.people.technician });
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(async () => {
  await yard.close();
});

const part = async (number: string) =>
  (await hanne.get<{ rows: Part[] }>('/stores/parts')).rows.find((p) => p.number === number)!;
const hand = (...tasks: string[]) => cards.hand(tasks.map((task) => [port, task]));
const card = (id: number) => ines.get<JobCard>(`/jobs/${id}`);

describe('where a part lies', () => {
  test('stands on the card of a boat at that base, changes at once, and goes when it is emptied', async () => {
    const id = await hand('engine-oil', 'oil-filter');
    const place = async (number: string) => (await card(id)).parts.find((p) => p.number === number)?.place;
    expect(await place('OIL')).toBe('B2');
    const oil = await part('OIL');
    await hanne.put(`/stores/parts/${oil.id}/place`, { baseId: yard.baseId, place: '  rack 3, box 7 ' });
    expect(await place('OIL')).toBe('rack 3, box 7');
    expect((await part('OIL')).places).toEqual([{ baseId: yard.baseId, place: 'rack 3, box 7' }]);
    await hanne.put(`/stores/parts/${oil.id}/place`, { baseId: yard.baseId, place: ' ' });
    expect(await place('OIL')).toBeNull();
    expect((await part('OIL')).places).toEqual([]);
    await cards.callOff(id);
  });
  test('only who keeps the shelves says so, and the audit has both places', async () => {
    const oil = await part('OIL');
    expect(
      (await ines.refused('put', `/stores/parts/${oil.id}/place`, { baseId: yard.baseId, place: 'here' })).status,
    ).toBe(403);
    expect((await hanne.refused('put', `/stores/parts/${oil.id}/place`, { baseId: 9999, place: 'here' })).status).toBe(
      422,
    );
    expect(
      (await hanne.refused('put', '/stores/parts/99999/place', { baseId: yard.baseId, place: 'here' })).status,
    ).toBe(404);
    const { rows } = await yard.pool.query<{ before: { place: string | null }; after: { place: string | null } }>(
      "select before, after from audit where subject = 'part' and act = 'changed' order by id",
    );
    expect(rows.map((r) => [r.before.place, r.after.place])).toEqual([
      ['B2', 'rack 3, box 7'],
      ['rack 3, box 7', null],
    ]);
  });
  test('a file brings places in and takes them out, also of a part nobody has counted', async () => {
    const csv = 'part,name,kind,unit,base,shelf\nWSH,Washer,washer,each,North Quay,C4\n';
    await ilse.post('/exchange/parts', csv);
    expect(await part('WSH')).toMatchObject({ onHand: [], places: [{ baseId: yard.baseId, place: 'C4' }] });
    const out = await ilse.raw('get', '/exchange/parts');
    expect(out.text).toMatch(/^WSH,Washer,washer,each,,,North Quay,,C4,/m);
    expect(await ilse.post('/exchange/parts/preview', out.text)).toMatchObject({
      counts: { add: 0, change: 0, faulty: 0 },
    });
    const faults = await ilse.post<{ rows: { faults: { column: string; text: string }[] }[] }>(
      '/exchange/parts/preview',
      'part,name,kind,unit,base,shelf\nA,A,other,each,,C4\nB,B,other,each,North Quay,C4\nB,B,other,each,North Quay,C5\n',
    );
    expect(faults.rows.flatMap((r) => r.faults).map((f) => f.column)).toEqual(['base', 'shelf']);
  });
});

describe('parts a finding asks for', () => {
  let id = 0;
  const wanted = () => hanne.get<WantedPart[]>('/stores/wanted');
  const ask = () =>
    write(
      ines,
      id,
      { kind: 'read', key: `${port} screw#gear-lube`, value: { choice: 'seized' } },
      { kind: 'decide', finding: `${port} screw gear-lube`, take: true, reason: null },
    );
  beforeAll(async () => {
    id = await hand('gear-lube');
  });

  test('stand with Stores, with what fits the serial and what its base has', async () => {
    await ask();
    const [lube] = [await part('LUBE')];
    expect(await wanted()).toMatchObject([
      {
        boatName: 'Turnstone',
        position: 'port',
        task: 'gear-lube',
        why: 'A screw was seized. Wanted: gear-case screw.',
        by: 'technician',
        jobId: id,
        parts: [{ partId: lube.id, number: 'LUBE', onHand: 1000, onTheWay: 0 }],
      },
    ]);
    expect(await hanne.get<WantedPart[]>(`/stores/wanted?baseId=${yard.baseId + 1000}`)).toEqual([]);
  });
  test('ordered, plans count on it, and the request is settled once', async () => {
    const [w] = await wanted();
    const lines = [{ partId: w!.parts[0]!.partId, quantity: 500 }];
    expect(
      (await ines.refused('post', `/stores/wanted/${w!.id}/close`, { act: 'order', day: '2026-04-18', lines })).status,
    ).toBe(403);
    expect(
      (await hanne.refused('post', `/stores/wanted/${w!.id}/close`, { act: 'order', day: '2026-04-01', lines })).faults,
    ).toEqual([{ path: 'day', text: 'That day is over. Choose the day it is expected.' }]);
    const two = await Promise.all(
      [1, 2].map(() => hanne.raw('post', `/stores/wanted/${w!.id}/close`, { act: 'order', day: '2026-04-18', lines })),
    );
    expect(two.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409]);
    expect(await wanted()).toEqual([]);
    expect(await hanne.get('/stores/arrivals')).toMatchObject([
      { number: 'LUBE', day: '2026-04-18', quantity: 500, note: 'for Turnstone port, gear lube' },
    ]);
  });
  test('or not needed, with the reason kept', async () => {
    await yard.pool.query(
      `insert into part_wanted (engine_id, task, why, at)
        values (${port}, 'gear-lube', 'A screw was seized.', '2026-04-15T10:00:00Z')`,
    );
    const [w] = await wanted();
    expect(w!.parts[0]!.onTheWay).toBe(500);
    expect(
      (await hanne.refused('post', `/stores/wanted/${w!.id}/close`, { act: 'not needed', because: '' })).status,
    ).toBe(422);
    await hanne.post(`/stores/wanted/${w!.id}/close`, { act: 'not needed', because: 'screws are in the drawer' });
    expect(await wanted()).toEqual([]);
    const { rows } = await yard.pool.query<{ closed_because: string }>(
      'select closed_because from part_wanted order by id',
    );
    expect(rows.map((r) => r.closed_because)).toEqual(['ordered, expected 2026-04-18', 'screws are in the drawer']);
  });
});
