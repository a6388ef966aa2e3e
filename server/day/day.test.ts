import { timeOfDay } from '@diurna/core/calendar';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { Session } from '@diurna/contract/people';
import { openCardYard, type Cards } from '../test/cards.ts';
import { confirmGates, type Client, type Yard } from '../test/yard.ts';

/** Seven in the morning at the base. */
const SEVEN = new Date('2026-04-15T10:00:00Z').getTime();
let now = SEVEN;
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let boatId = 0;
let port = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, boatId, port } = await openCardYard(() => new Date(now)));
  await ilse.post('/hires', {
    boatId,
    outDay: '2026-04-15',
    outTime: '14:00',
    backDay: '2026-04-15',
    backTime: '18:00',
    reference: null,
  });
});
afterAll(async () => {
  await yard.close();
});

const at = (hour: number, minute = 0) => {
  now = SEVEN + ((hour - 7) * 60 + minute) * 60_000;
};
const goingOut = async () =>
  (await ilse.get<DayReply>('/day?day=2026-04-15')).boats.find((b) => b.way === 'out' && b.boatId === boatId)!;
const hand = (startMinute: number | null) => cards.hand([[port, 'engine-oil']], { startMinute });

describe('what goes out, with work on it', () => {
  test('without an hour it is placed where there is room; with one that counts, and past it the card is told', async () => {
    const open = await hand(null);
    expect(await goingOut()).toMatchObject({
      state: 'work first',
      text: expect.stringMatching(/^ready when technician is done, 9:\d\d$/),
    });
    await cards.callOff(open);
    const id = await hand(8 * 60);
    const { minutes } = await cards.read(id);
    const ready = timeOfDay(8 * 60 + Math.round(minutes));
    expect(await goingOut()).toMatchObject({ state: 'work first', text: `ready when technician is done, ${ready}` });
    // That hour is past, and nobody has finished the card.
    at(11);
    expect(await goingOut()).toMatchObject({
      state: 'work first',
      text: `technician should have been done at ${ready}; the card is still open`,
    });
    at(7);
    await cards.callOff(id);
  });
  test('by the clock the yard writes its hours by', async () => {
    const admin = await yard.as('administrator');
    const settings = await admin.get<{ version: number }>('/settings');
    await admin.put('/settings', { ...settings, clock: '12' });
    const id = await hand(8 * 60);
    const { minutes } = await cards.read(id);
    expect(await goingOut()).toMatchObject({
      text: `ready when technician is done, ${timeOfDay(8 * 60 + Math.round(minutes), '12')}`,
    });
    expect((await ilse.get<Session>('/session')).writing.clock).toBe('12');
    const refused = await admin.refused('put', '/settings', { ...settings, weekStarts: 3 });
    expect(JSON.stringify(refused)).toContain('weekStarts');
    const now = await admin.get<{ version: number }>('/settings');
    await admin.put('/settings', { ...now, clock: '24' });
    await cards.callOff(id);
  });
  test('work that ends after the hire begins is against it; work after the hire is nothing to it', async () => {
    const late = await hand(13 * 60 + 30);
    expect(await goingOut()).toMatchObject({
      state: 'over',
      text: expect.stringMatching(/^technician is not done before 14:\d\d$/),
    });
    await cards.callOff(late);
    const evening = await hand(18 * 60 + 30);
    expect((await goingOut()).text).not.toContain('technician');
    await cards.callOff(evening);
  });
  test('finished, the boat is ready', async () => {
    const id = await hand(8 * 60);
    await confirmGates(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    expect((await goingOut()).text).not.toContain('technician');
    expect((await goingOut()).state).not.toBe('work first');
  });
});

describe('a second person', () => {
  const visit = async (id: number) =>
    (await ilse.get<DayReply>('/day?day=2026-04-15')).people.flatMap((p) => p.visits).find((v) => v.jobId === id)!;
  test('is asked for as long as the card’s steps want one: for a lower unit two people lift, not for a light one', async () => {
    // A unit of a 60 hp is a two-person lift (common practice, no source).
    const heavy = await cards.hand([[port, 'impeller']]);
    const card = await cards.read(heavy);
    const wanted = card.steps.filter((t) => t.step.twoPeople).reduce((sum, t) => sum + t.step.minutes, 0);
    expect(wanted).toBeGreaterThan(10);
    expect((await visit(heavy)).secondMinutes).toBeCloseTo(wanted, 6);
    await cards.callOff(heavy);
    const models = await ilse.get<{ id: number; name: string; engines: number; traits: object }[]>('/fleet/models');
    const { id, engines: _, ...model } = models.find((m) => m.name === '60')!;
    await ilse.put(`/fleet/models/${id}`, { ...model, traits: { ...model.traits, twoPersonUnit: false } });
    const light = await cards.hand([[port, 'impeller']]);
    expect((await visit(light)).secondMinutes).toBe(0);
    await cards.callOff(light);
  });
});
