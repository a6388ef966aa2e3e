import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply, Matter } from '@diurna/contract/day';
import type { BoardReply } from '@diurna/contract/planner';
import { openCardYard, type Cards } from '../test/cards.ts';
import { PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

/** What is to be decided, today and on a day to come. Nine in the morning of a Wednesday at the base. */
const TODAY = '2026-04-15';
let now = new Date(`${TODAY}T12:00:00Z`);
let yard: Yard;
let ilse: Client;
let cards: Cards;
let boatId = 0;
let port = 0;
beforeAll(async () => {
  ({ yard, ilse, cards, boatId, port } = await openCardYard(() => now));
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(() => yard.close());

const mattersOn = async (day: string) => (await ilse.get<DayReply>(`/day?day=${day}`)).matters!;
const one = (all: readonly Matter[], key: RegExp) => all.find((m) => key.test(m.key))!;
const hire = (day: string, outTime: string, backTime: string) =>
  ilse.post<{ id: number }>('/hires', { boatId, outDay: day, outTime, backDay: day, backTime, reference: null });

describe('cards that cannot stand where they are', () => {
  test('leave entered over a card of a coming day is told today, with who and why, and offers another place', async () => {
    const id = await cards.hand([[port, 'engine-oil']], { day: '2026-04-17' });
    expect(one(await mattersOn(TODAY), /^stands/)).toBeUndefined();
    const leave = await ilse.post<{ id: number }>(`/people/${yard.people.technician}/exceptions`, {
      kind: 'away',
      firstDay: '2026-04-17',
      lastDay: '2026-04-17',
      baseId: null,
      fromMinute: null,
      toMinute: null,
      reason: 'a wedding',
    });
    const m = one(await mattersOn(TODAY), /^stands/);
    expect(m).toMatchObject({
      key: `stands ${id}`,
      group: 'cards',
      weight: 'now',
      title: 'Turnstone on Fri 17 cannot be done by technician as it stands',
    });
    expect(m.text).toBe('Technician is off, or at another base.');
    expect(m.options.some((o) => o.act.kind === 'move')).toBe(true);
    // On that day itself the card stands among what has to be decided.
    expect(one(await mattersOn('2026-04-17'), /^card/)).toMatchObject({ key: `card ${id}` });
    await ilse.raw('delete', `/people/exceptions/${leave.id}`);
    await cards.callOff(id);
  });

  test('a hire booked over a visit is told, and the visit finds another day', async () => {
    const id = await cards.hand([[port, 'engine-oil']], { day: '2026-04-20' });
    await hire('2026-04-20', '07:00', '20:00');
    const m = one(await mattersOn(TODAY), /^stands/);
    expect(m.text).toBe('The boat is out all day.');
    expect(m.options.find((o) => o.act.kind === 'move')!.act).not.toMatchObject({ day: '2026-04-20' });
    await cards.callOff(id);
  });

  test('a card with work that is in no programme stands in the plan all the same, and is told', async () => {
    const id = await cards.hand([[port, 'steering-rod']], { day: '2026-04-20' });
    const { standing } = await ilse.get<BoardReply>('/plan?days=14');
    expect(standing).toMatchObject([{ jobId: id, tasks: [`${port} steering-rod`] }]);
    // The boat is out all of that day by now.
    expect(one(await mattersOn(TODAY), /^stands/).key).toBe(`stands ${id}`);
    await cards.callOff(id);
  });

  test('past its planned end, with nothing ticked, it can go elsewhere', async () => {
    const id = await cards.hand([[port, 'anodes']], { startMinute: 7 * 60 });
    expect(one(await mattersOn(TODAY), /^past/)).toMatchObject({
      key: `past ${id}`,
      title: expect.stringMatching(/^Turnstone should have been done at \d:\d\d$/),
      text: expect.stringMatching(/^Nothing is ticked on technician’s card\./),
    });
    await cards.callOff(id);
  });
});

describe('what stands open in the book', () => {
  test('hires at one time, a part that did not come, a calendar that cannot be read', async () => {
    await hire('2026-04-22', '09:00', '12:00');
    await hire('2026-04-22', '11:00', '15:00');
    const parts = await ilse.get<{ rows: { id: number; number: string }[] }>('/stores/parts?size=50');
    const lube = parts.rows.find((p) => p.number === 'LUBE')!.id;
    const stores = await yard.as('stores');
    await stores.post('/stores/arrivals', {
      partId: lube,
      baseId: yard.baseId,
      day: TODAY,
      quantity: 2000,
      note: null,
    });
    const administrator = await yard.as('administrator');
    const feed = await administrator.post<{ id: number }>('/hires/feeds', {
      name: 'Quay desk',
      url: 'http://127.0.0.1:1/hires.ics',
      baseId: yard.baseId,
      active: true,
    });
    await ilse.post(`/hires/feeds/${feed.id}/read`);
    now = new Date('2026-04-16T12:00:00Z');
    const all = await mattersOn('2026-04-16');
    expect(one(all, /^overlap/)).toMatchObject({
      group: 'hires',
      title: 'Turnstone is booked twice at the same time',
      text: 'Wed 22 9:00 to 12:00, and Wed 22 11:00 to 15:00.',
    });
    expect(one(all, /^late part/)).toMatchObject({ group: 'parts', title: '2.0 L Gear lube should have come Wed 15' });
    expect(one(all, /^calendar/)).toMatchObject({
      group: 'calendars',
      title: 'The calendar Quay desk could not be read',
    });
    // None of it belongs to another day, but for the hires of that day.
    const then = await mattersOn('2026-04-22');
    expect(then.map((m) => m.group)).not.toContain('parts');
    expect(one(then, /^overlap/)).toBeDefined();
  });

  test('only who decides is told', async () => {
    const ines = await yard.as('technician');
    expect((await ines.get<DayReply>('/day?day=2026-04-16')).matters).toBeNull();
  });
});
