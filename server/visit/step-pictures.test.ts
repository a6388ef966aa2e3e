import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { StepPicture } from '@diurna/contract/step-pictures';
import { openCardYard } from '../test/cards.ts';

/** The smallest PNG there is: one pixel. */
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const book = await openCardYard(() => new Date('2026-04-15T10:00:00Z'));
const { yard, ilse, ines } = book;
afterAll(() => yard.close());
let modelId = 0;
beforeAll(async () => {
  [{ id: modelId }] = await ilse.get<[{ id: number }]>('/fleet/models');
});
const picture = (more: object = {}) => ({
  place: 'impeller/housing',
  modelId: null,
  caption: 'Mark on the housing',
  photo: { type: 'image/png', base64: PIXEL },
  ...more,
});
const list = () => ines.get<StepPicture[]>('/visit/step-pictures');

test('a picture stands at its step from then on; the next one takes its place, a model’s own stands beside it', async () => {
  const first = await ines.post<{ id: number }>('/visit/step-pictures', picture());
  expect(await list()).toMatchObject([
    {
      id: first.id,
      place: 'impeller/housing',
      modelId: null,
      modelName: null,
      caption: 'Mark on the housing',
      by: 'technician',
    },
  ]);
  const second = await ilse.post<{ id: number }>('/visit/step-pictures', picture({ caption: '' }));
  const own = await ilse.post<{ id: number }>('/visit/step-pictures', picture({ modelId }));
  expect((await list()).map((p) => p.id)).toEqual([second.id, own.id]);
  const file = await ines.raw('get', `/visit/step-pictures/${own.id}/file`);
  expect([file.status, file.headers['content-type']]).toEqual([200, 'image/png']);
});

test('shown no more it is gone from the cards, and who took it away is told', async () => {
  const [shown] = await list();
  await ilse.post(`/visit/step-pictures/${shown!.id}/drop`, {});
  expect((await list()).some((p) => p.id === shown!.id)).toBe(false);
  expect((await ilse.refused('post', `/visit/step-pictures/${shown!.id}/drop`, {})).status).toBe(404);
  const { rows, names } = await ilse.get<{ rows: { act: string; subject: string }[]; names: Record<string, string> }>(
    '/records/audit?subject=step%20picture',
  );
  expect(rows[0]).toMatchObject({ act: 'retired', subject: 'step picture' });
  // What it is of is told by its name, not by its number.
  const [{ name }] = await ilse.get<[{ name: string }]>('/fleet/models');
  expect(names[`modelId ${modelId}`]).toBe(name);
});

test('what is no picture, no step, or of no model is refused in words', async () => {
  const text = { type: 'image/png', base64: Buffer.from('no picture at all').toString('base64') };
  expect((await ilse.refused('post', '/visit/step-pictures', picture({ photo: text }))).detail).toMatch(
    /cannot be read/,
  );
  expect((await ilse.refused('post', '/visit/step-pictures', picture({ place: '../x' }))).detail).toMatch(/is no step/);
  expect((await ilse.refused('post', '/visit/step-pictures', picture({ modelId: 9999 }))).detail).toMatch(
    /model is not/,
  );
  const bram = await yard.as('dock');
  expect((await bram.raw('post', '/visit/step-pictures', picture())).status).toBe(403);
});
