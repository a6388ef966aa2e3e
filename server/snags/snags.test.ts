import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Snag } from '@diurna/contract/snags';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';

// The smallest PNG there is: one pixel.
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

let yard: Yard;
let dock: Client;
let ines: Client;
let boats: Record<string, { id: number; engines: { id: number; position: string }[] }> = {};
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T02:00:00Z'));
  const ilse = await yard.as('coordinator');
  dock = await yard.as('dock');
  ines = await yard.as('technician');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  boats = Object.fromEntries(
    (
      await ilse.get<{ rows: { id: number; name: string; engines: { id: number; position: string }[] }[] }>(
        '/fleet/boats',
      )
    ).rows.map((b) => [b.name, b]),
  );
});
afterAll(async () => {
  await yard.close();
});
const report = (more: object = {}) => ({
  boatId: boats.Turnstone!.id,
  engineId: null,
  text: 'weak stream on the starboard side',
  photo: null,
  ...more,
});

describe('snags', () => {
  test('a dock hand reports one with a picture; it stands on the day at the base', async () => {
    const { id } = await dock.post<{ id: number }>(
      '/snags',
      report({
        engineId: boats.Turnstone!.engines.find((e) => e.position === 'starboard')!.id,
        photo: { type: 'image/png', base64: PIXEL },
      }),
    );
    // Two in the morning UTC is still the evening before in Halifax.
    expect((await ines.get<Snag[]>('/snags'))[0]).toMatchObject({
      id,
      day: '2026-04-14',
      position: 'starboard',
      hasPhoto: true,
      by: 'dock',
      closed: null,
    });
    const picture = await ines.raw('get', `/snags/${id}/photo`);
    expect(picture.headers['content-type']).toBe('image/png');
    const { format, width, height } = await sharp(picture.body as Buffer).metadata();
    expect([format, width, height]).toEqual(['png', 1, 1]);
  });
  test('what is no picture, no words, or an engine of another boat is refused and leaves nothing', async () => {
    const before = (await ines.get<Snag[]>('/snags?state=all')).length;
    expect(
      (await dock.refused('post', '/snags', report({ photo: { type: 'image/jpeg', base64: PIXEL } }))).detail,
    ).toContain('cannot be read');
    expect(
      (await dock.refused('post', '/snags', report({ photo: { type: 'image/png', base64: '<svg>' } }))).detail,
    ).toContain('is no picture');
    expect((await dock.refused('post', '/snags', report({ text: ' ' }))).detail).toContain('wants a few words');
    expect((await dock.refused('post', '/snags', report({ engineId: boats.Knot!.engines[0]!.id }))).detail).toContain(
      'not on the boat',
    );
    expect((await ines.get<Snag[]>('/snags?state=all')).length).toBe(before);
  });
  test('a technician closes it with what was done; it stays in the book', async () => {
    const [open] = await ines.get<Snag[]>('/snags');
    expect(
      (await dock.refused('post', `/snags/${open!.id}/close`, { version: 1, remark: 'pump renewed' })).status,
    ).toBe(403);
    await ines.post(`/snags/${open!.id}/close`, { version: open!.version, remark: 'pump renewed' });
    expect((await ines.get<Snag[]>('/snags')).some((s) => s.id === open!.id)).toBe(false);
    expect(
      (await ines.get<Snag[]>(`/snags?state=all&boatId=${open!.boatId}`)).find((s) => s.id === open!.id),
    ).toMatchObject({ closed: { by: 'technician', remark: 'pump renewed' } });
    expect((await ines.refused('post', `/snags/${open!.id}/close`, { version: 2, remark: 'again' })).status).toBe(409);
  });
});

describe('what is told at the dock and keeps the engine in', () => {
  const held = async () =>
    (await ines.get<{ engineId: number; why: string; missing: string[] }[]>('/findings/holds?state=open')).map((h) => [
      h.engineId,
      h.why,
      h.missing,
    ]);
  test('an oil-pressure light holds its engine until the pressure is measured; hot in mid-range does not yet', async () => {
    const { id: boatId, engines } = boats.Turnstone!;
    const port = engines.find((e) => e.position === 'port')!.id;
    await dock.post('/snags', { ...report(), boatId, engineId: port, text: '', symptom: 'mid-range heat' });
    expect(await held()).toEqual([]);
    await dock.post('/snags', { ...report(), boatId, engineId: port, text: '', symptom: 'oil light' });
    await dock.post('/snags', { ...report(), boatId, engineId: port, text: 'still lit', symptom: 'oil light' });
    expect(await held()).toEqual([[port, 'The oil-pressure light was lit.', ['oil-pressure']]]);
  });
  test('what touched ground is held until propeller shaft and look-over are in the log; a chipped propeller is not', async () => {
    const starboard = boats.Turnstone!.engines.find((e) => e.position === 'starboard')!.id;
    const told = { ...report(), boatId: boats.Turnstone!.id, engineId: starboard, text: '' };
    await dock.post('/snags', { ...told, symptom: 'propeller damage' });
    expect((await held()).filter(([id]) => id === starboard)).toEqual([]);
    await dock.post('/snags', { ...told, symptom: 'grounded' });
    expect((await held()).filter(([id]) => id === starboard)).toEqual([
      [starboard, 'It touched ground or hit something.', ['prop-shaft', 'look-over']],
    ]);
  });
  test('where nobody knows which engine it was, none of the boat goes out', async () => {
    await dock.post('/snags', { ...report(), text: '', symptom: 'weak stream' });
    const engines = boats.Turnstone!.engines.map((e) => e.id);
    expect(
      (await held())
        .filter(([, why]) => why === 'Weak or no cooling stream.')
        .map(([id]) => id)
        .sort(),
    ).toEqual(engines.sort());
  });
});
