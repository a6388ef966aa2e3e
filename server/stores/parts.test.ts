import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Part } from '@diurna/contract/stores';
import { Cards } from '../test/cards.ts';
import { openTwinYard, workThrough } from '../test/yard.ts';

let own: Awaited<ReturnType<typeof openTwinYard>>;
beforeAll(async () => {
  own = await openTwinYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterAll(() => own.yard.close());

test('a part is added with what it fits, read, edited; its number is given once; technicians only read', async () => {
  const hanne = await own.yard.as('stores');
  const [model] = await own.ilse.get<{ id: number; name: string }[]>('/fleet/models');
  const fits = { modelId: model!.id, task: 'impeller', quantity: 1, from: null, to: null };
  const part = {
    number: 'IMP-1',
    name: 'Impeller',
    kind: 'impeller',
    unit: 'each',
    priceMinor: 1850,
    fitments: [fits],
  };
  const { id } = await hanne.post<{ id: number }>('/stores/parts', part);
  const read = await own.ines.get<Part>(`/stores/parts/${id}`);
  expect(read).toMatchObject({ number: 'IMP-1', priceMinor: 1850, onHand: [], fitments: [fits] });
  expect((await hanne.refused('post', '/stores/parts', part)).status).toBe(409);
  await hanne.put(`/stores/parts/${id}`, { ...part, priceMinor: 1900, version: read.version });
  expect((await own.ines.get<Part>(`/stores/parts/${id}`)).priceMinor).toBe(1900);
  expect((await hanne.refused('put', `/stores/parts/${id}`, { ...part, version: read.version })).status).toBe(409);
  expect((await own.ines.raw('post', '/stores/parts', { ...part, number: 'IMP-2' })).status).toBe(403);
  expect((await own.ines.refused('get', '/stores/parts/999999')).status).toBe(404);
});

test('of two parts that fit, the yard’s answers and the engine’s log take one; the change is worked out before it is kept', async () => {
  const hanne = await own.yard.as('stores');
  const engine = { boatId: own.boatId, engineId: own.starboard };
  const models = await own.ilse.get<{ id: number; name: string }[]>('/fleet/models');
  const modelId = models.find((m) => m.name === '60')!.id;
  const fit = (task: string, quantity: number | null) => ({ modelId, task, quantity, from: null, to: null });
  const add = (number: string, kind: string, task: string, more: object = {}) =>
    hanne.post<{ id: number }>('/stores/parts', {
      number,
      name: number,
      kind,
      unit: 'each',
      priceMinor: 100,
      fitments: [fit(task, 1)],
      ...more,
    });
  await add('WHEEL', 'impeller', 'impeller', { make: 'maker' });
  await add('KIT', 'pump kit', 'impeller', { make: 'maker', priceMinor: 5000 });
  await add('F-M', 'oil filter', 'oil-filter', { make: 'maker' });
  await add('F-A', 'oil filter', 'oil-filter', { make: 'approved' });
  const numbers = async () =>
    (
      await own.ilse.post<{ parts: { number: string }[] }>('/jobs/preview', {
        boatId: engine.boatId,
        tasks: ['impeller', 'engine-oil', 'oil-filter'].map((task) => ({ engineId: engine.engineId, task })),
      })
    ).parts
      .map((p) => p.number)
      .filter((n) => /^(WHEEL|KIT|F-[MA])$/.test(n))
      .sort();
  // Bought new, and never done: the wheel; after it the kit.
  expect(await numbers()).toEqual(['F-A', 'WHEEL']);
  await own.ilse.post('/service/entries', {
    engineId: engine.engineId,
    tasks: ['impeller'],
    doneOn: '2026-04-10',
    hours: null,
    doneBy: 'Ines',
    remark: null,
  });
  expect(await numbers()).toEqual(['F-A', 'KIT']);
  const would = await own.ilse.post<{
    moved: number;
    otherParts: number;
    comingYear: { before: { partsMinor: number }; after: { partsMinor: number } };
  }>('/rules/preview', { school: 'pump parts', answer: 'impeller' });
  expect(would).toMatchObject({ moved: 0 });
  expect(would.otherParts).toBeGreaterThan(0);
  expect(would.comingYear.after.partsMinor).toBeLessThan(would.comingYear.before.partsMinor);
  await own.ilse.put('/rules/schools/parts%20make', {
    answer: 'maker',
    was: 'maker impeller',
    reason: 'as the yard has it',
  });
  expect((await numbers())[0]).toBe('F-M');
});

test('a card keeps the parts it was issued with, to its finish and after, whatever the yard answers since', async () => {
  const hanne = await own.yard.as('stores');
  const cards = new Cards(own.ilse, { boatId: own.boatId, technicianId: own.yard.people.technician });
  const models = await own.ilse.get<{ id: number; name: string }[]>('/fleet/models');
  const { id: partId } = await hanne.post<{ id: number }>('/stores/parts', {
    number: 'GASK',
    name: 'Gear-case gasket',
    kind: 'gasket',
    unit: 'each',
    priceMinor: 70,
    fitments: [
      { modelId: models.find((m) => m.name === '60')!.id, task: 'gear-lube', quantity: 2, from: null, to: null },
    ],
  });
  await hanne.post('/stores/movements', { act: 'receive', partId, baseId: own.yard.baseId, quantity: 10, note: null });
  const washers = (answer: string, was: string) =>
    own.ilse.put('/rules/schools/washers', { answer, was, reason: 'as the yard has it' });
  const gaskets = async (id: number) => (await cards.read(id)).parts.find((p) => p.number === 'GASK')?.quantity;
  // They were new the last time: with this answer they would go on again.
  await own.ilse.post('/service/entries', {
    engineId: own.port,
    tasks: ['gear-lube'],
    doneOn: '2026-03-01',
    hours: null,
    doneBy: 'Ines',
    remark: null,
  });
  const id = await cards.hand([[own.port, 'gear-lube']]);
  await washers('second', 'new');
  const other = await cards.hand([[own.starboard, 'gear-lube']]);
  expect(await gaskets(id)).toBe(2);
  await workThrough(own.ines, id);
  const done = await cards.finish(own.ines, id);
  expect(done).toMatchObject({ status: 200 });
  expect((await cards.read(id)).used).toEqual(
    expect.arrayContaining([expect.objectContaining({ number: 'GASK', quantity: 2 })]),
  );
  // Twice new by now. The next time they are new again, the time after they go on once more.
  await cards.callOff(other);
  const third = await cards.hand([[own.port, 'gear-lube']]);
  expect(await gaskets(third)).toBe(2);
  await cards.callOff(third);
  await own.ilse.post('/service/entries', {
    engineId: own.port,
    tasks: ['gear-lube'],
    doneOn: '2026-04-15',
    hours: null,
    doneBy: 'Ines',
    remark: null,
  });
  const again = await cards.hand([[own.port, 'gear-lube']]);
  expect(await gaskets(again)).toBeUndefined();
  await workThrough(own.ines, again);
  expect(await cards.finish(own.ines, again)).toMatchObject({ status: 200 });
  // Its own entry in the log does not make it another turn.
  expect(await gaskets(again)).toBeUndefined();
  await washers('new', 'second');
});
