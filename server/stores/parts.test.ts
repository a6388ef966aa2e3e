import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Part } from '@diurna/contract/stores';
import { openTwinYard } from '../test/yard.ts';

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
