import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { Hire } from '@diurna/contract/hires';
import { tick } from '../test/cards.ts';
import { openFindings } from '../test/findings.ts';
import { write } from '../test/yard.ts';

/** Boats that go out and come back: seen at the dock, sometimes told later, sometimes seen wrongly or by two. */
const { yard, ilse, ines, bram, boatId, port, hand } = await openFindings();
afterAll(() => yard.close());
const day = '2026-04-15';
/** The test's instant. */
const NOW = Date.parse('2026-04-15T10:00:00Z');
const ago = (minutes: number) => new Date(NOW - minutes * 60_000).toISOString();
let hireId = 0;
const hire = async () =>
  (await bram.get<{ rows: Hire[] }>(`/hires?from=${day}&days=1`)).rows.find((h) => h.id === hireId)!;
const out = (body: object = {}) => bram.post<{ clash: string | null }>(`/hires/${hireId}/let-go`, { boatId, ...body });
const back = (body: object = {}) =>
  bram.post<{ clash: string | null }>(`/hires/${hireId}/come-back`, { boatId, ...body });
const book = async (outTime: string, backTime: string) => {
  const saved = await ilse.post<{ id: number }>('/hires', {
    boatId,
    outDay: day,
    outTime,
    backDay: day,
    backTime,
    reference: null,
  });
  hireId = saved.id;
};
beforeAll(() => book('09:00', '10:00'));

describe('a boat that went out', () => {
  test('is here after all when somebody tapped wrongly, and is out again by another tap', async () => {
    expect((await out()).clash).toBeNull();
    expect((await hire()).letGo).toMatchObject({ by: 'dock', at: new Date(NOW).toISOString() });
    expect((await out({ out: false })).clash).toBeNull();
    expect((await hire()).letGo).toBeNull();
    expect((await out({ out: false })).clash).toBe('Turnstone was not out.');
    await out({ at: ago(50) });
    expect((await hire()).letGo).toMatchObject({ at: ago(50) });
  });
  test('stands so on the day of the desk', async () => {
    const boats = async () =>
      (await ilse.get<DayReply>(`/day?day=${day}`)).boats
        .filter((b) => b.boatId === boatId)
        .map((b) => [b.way, b.state, b.text]);
    expect(await boats()).toContainEqual(['out', 'gone', expect.stringMatching(/^out since \d+:\d\d$/)]);
    await back({ at: ago(2) });
    expect(await boats()).toContainEqual(['back', expect.any(String), expect.stringMatching(/^back since \d+:\d\d; /)]);
    await back({ back: false });
    expect(await boats()).toContainEqual(['back', expect.any(String), expect.not.stringMatching(/since/)]);
  });
  test('told again by a second phone: it stays as it was written first, and the phone hears by whom', async () => {
    const again = await ines.post<{ clash: string }>(`/hires/${hireId}/let-go`, { boatId, at: ago(5) });
    expect(again.clash).toMatch(/^Turnstone is out already: dock, \d\d:\d\d\.$/);
    expect((await hire()).letGo).toMatchObject({ at: ago(50), by: 'dock' });
  });
  test('comes back once it was out, and not out again before that is taken back', async () => {
    expect((await bram.refused('post', `/hires/${hireId}/come-back`, { boatId, at: ago(55) })).detail).toMatch(
      /^Turnstone went out at .*, after it was seen back at .*\. Look which of the two is right\.$/,
    );
    await back({ at: ago(10) });
    expect(await hire()).toMatchObject({ cameBack: { at: ago(10), by: 'dock' } });
    expect((await back()).clash).toMatch(/^Turnstone is back already: dock, /);
    expect((await bram.refused('post', `/hires/${hireId}/let-go`, { boatId, out: false })).detail).toMatch(
      /it was out/,
    );
    await back({ back: false });
    expect((await hire()).cameBack).toBeNull();
    expect((await back({ back: false })).clash).toBe('Turnstone was not written down as back.');
    await out({ out: false });
  });
  test('a phone whose clock runs ahead is held to the book’s; what is weeks old is no word of today', async () => {
    await out({ at: ago(-90) });
    expect((await hire()).letGo).toMatchObject({ at: new Date(NOW).toISOString() });
    await out({ out: false });
    expect((await bram.refused('post', `/hires/${hireId}/let-go`, { boatId, at: ago(15 * 1440) })).detail).toMatch(
      /more than two weeks ago/,
    );
  });
  test('of another boat than the one that was seen nothing is written down', async () => {
    const [other] = (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats?q=Knot')).rows;
    await ilse.post(`/hires/${hireId}/give`, { version: (await hire()).version, boatId: other!.id });
    expect((await bram.refused('post', `/hires/${hireId}/let-go`, { boatId, at: ago(30) })).detail).toMatch(
      /^This hire has Knot now, not the boat you saw\./,
    );
    expect((await hire()).letGo).toBeNull();
    await ilse.post(`/hires/${hireId}/give`, { version: (await hire()).version, boatId });
  });
  test('not by whoever has nothing to do with it', async () => {
    const stores = await yard.as('manager');
    expect((await stores.raw('post', `/hires/${hireId}/let-go`, { boatId })).status).toBe(403);
    expect((await stores.raw('post', `/hires/${hireId}/come-back`, { boatId })).status).toBe(403);
  });
});

describe('a boat that is held', () => {
  test('does not go by a tap; gone without signal it is out in the book, the desk is told at once', async () => {
    await bram.post('/snags', { boatId, engineId: port, text: '', symptom: 'weak stream', photo: null, at: ago(20) });
    const [snag] = await bram.get<{ at: string }[]>('/snags');
    expect(snag!.at).toBe(ago(20));
    expect((await hire()).snags).toEqual([expect.stringMatching(/^port: .*stream/i)]);
    expect((await hire()).held).toEqual(['Port: Weak or no cooling stream.']);
    expect((await bram.refused('post', `/hires/${hireId}/let-go`, { boatId })).detail).toMatch(
      /is held and does not go out/,
    );
    const { clash } = await out({ at: ago(30) });
    expect(clash).toMatch(
      /^Turnstone has been out since .*, but it should not be\. Weak or no cooling stream\. Call it back\.$/,
    );
    expect((await hire()).letGo).toMatchObject({ at: ago(30) });
    const told = (await ilse.get<{ text: string }[]>('/session/notices')).map((n) => n.text);
    expect(told.at(-1)).toBe(clash);
    await out({ out: false });
  });
});

test('before it goes the dock sees what is being done on it', async () => {
  const id = await hand([port, 'anodes']);
  const { steps } = await ilse.get<{ steps: { step: { id: string } }[] }>(`/jobs/${id}`);
  await write(ines, id, tick(steps[0]!.step.id));
  const { underWay } = await hire();
  expect(underWay).toEqual([
    expect.stringMatching(/^1 of \d+ steps done: technician works on it, until about \d\d:\d\d\.$/),
  ]);
});
