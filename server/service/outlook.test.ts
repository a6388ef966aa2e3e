import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { Outlook, OutlookRow } from '@diurna/contract/service';
import type { UsageCurve } from '@diurna/contract/usage';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

let yard: Yard;
let ilse: Client;
let now = new Date('2026-04-15T12:00:00Z');
const ids = new Map<string, number>();
const day = (ago: number) => new Date(Date.parse('2026-04-15') - ago * 86_400_000).toISOString().slice(0, 10);
const boatId = async (name: string) =>
  (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats')).rows.find((b) => b.name === name)!.id;
const chart = (query = '') => ilse.get<Outlook>(`/service/outlook?from=2026-04-13&days=42${query}`);
const rowOf = (outlook: Outlook, boat: string, position: string): OutlookRow =>
  outlook.rows.find((r) => r.boatName === boat && r.position === position)!;

beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  // Turnstone runs an hour a day, week by week, up to the day before yesterday; its port engine needs oil in 20 h.
  const weekly = ['C60-40116', 'C60-40117'].flatMap((serial) =>
    Array.from({ length: 20 }, (_, w) => `${serial},${day(2 + 7 * (19 - w))},${300 + 7 * w}`),
  );
  await ilse.post('/exchange/hours', ['serial,read_on,count', ...weekly].join('\n'));
  await ilse.post(
    '/exchange/service',
    [
      'serial,task,done_on,hours,reason',
      // Hours no meter showed, made up for where the limits come to stand.
      `C60-40116,engine-oil,${day(90)},353,for the test`,
      `C60-40117,engine-oil,${day(90)},300,for the test`,
      `C60-40117,gear-lube,${day(300)},380,for the test`,
      ...['oil-filter', 'spark-plugs', 'impeller'].flatMap((t) =>
        ['C60-40116', 'C60-40117'].map((serial) => `${serial},${t},${day(10)},420,`),
      ),
      `C60-40116,gear-lube,${day(10)},420,`,
    ].join('\n'),
  );
  for (const r of (
    await ilse.get<{ rows: { engineId: number; boatName: string; position: string }[] }>('/service/due?size=200')
  ).rows)
    ids.set(`${r.boatName} ${r.position}`, r.engineId);
});
afterAll(async () => {
  await yard.close();
});
beforeEach(() => {
  now = new Date('2026-04-15T12:00:00Z');
});

describe('the chart of the fleet', () => {
  test('every engine has one line, the worst first', async () => {
    const outlook = await chart();
    expect(outlook.rows.map((r) => `${r.boatName} ${r.position}`).sort()).toEqual([
      'Knot kicker',
      'Knot single',
      'Turnstone port',
      'Turnstone starboard',
    ]);
    expect((await chart('&task=engine-oil')).rows[0]).toMatchObject({
      boatName: 'Turnstone',
      position: 'starboard',
      nearest: { state: 'over', text: '33 h over' },
    });
  });
  test('a task stands at its likely day, its spread around it, in days from the first shown', async () => {
    const oil = rowOf(await chart(), 'Turnstone', 'port').tasks.find((t) => t.task === 'engine-oil')!;
    // 20 h left on 13 April at an hour a day or a little more in spring: from the end of April into May.
    expect(oil.likely).toBeGreaterThan(10);
    expect(oil.likely).toBeLessThan(30);
    expect(oil.early!).toBeLessThanOrEqual(oil.likely!);
    expect(oil.late!).toBeGreaterThanOrEqual(oil.likely!);
  });
  test('what is over carries no days; what is far off is left out', async () => {
    const outlook = await chart();
    expect(rowOf(outlook, 'Turnstone', 'starboard').tasks.find((t) => t.task === 'engine-oil')).toMatchObject({
      state: 'over',
      early: null,
      likely: null,
      late: null,
    });
    const shown = (o: Outlook) => o.rows.flatMap((r) => r.tasks).length;
    expect(shown(await chart())).toBeLessThanOrEqual(
      shown(await ilse.get<Outlook>('/service/outlook?from=2026-04-13&days=182')),
    );
    for (const t of outlook.rows.flatMap((r) => r.tasks)) if (t.early !== null) expect(t.early).toBeLessThan(42);
  });
  test('filters narrow it, orders turn it', async () => {
    expect((await chart('&q=knot')).rows.map((r) => r.boatName)).toEqual(['Knot', 'Knot']);
    expect((await chart('&sort=boat')).rows.map((r) => `${r.boatName} ${r.position}`)).toEqual([
      'Knot single',
      'Knot kicker',
      'Turnstone port',
      'Turnstone starboard',
    ]);
    expect((await chart('&state=over&task=engine-oil')).rows.map((r) => r.position)).toEqual(['starboard']);
    for (const r of (await chart('&task=gear-lube')).rows) for (const t of r.tasks) expect(t.task).toBe('gear-lube');
    expect((await ilse.refused('get', '/service/outlook?from=2026-04-13&days=999')).status).toBe(400);
  });
  test('hires stand by the clock of the base, in parts of days, once for both engines of a boat', async () => {
    await ilse.post('/hires', {
      boatId: await boatId('Knot'),
      outDay: '2026-04-14',
      outTime: '06:00',
      backDay: '2026-04-15',
      backTime: '18:00',
      reference: null,
    });
    const outlook = await chart();
    expect(outlook.hires[String(await boatId('Knot'))]).toEqual([[1.25, 2.75]]);
    expect(outlook.hires[String(await boatId('Turnstone'))]).toEqual([]);
  });
  test('work handed out stands on its day with its tasks', async () => {
    const { id } = await ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId: await boatId('Turnstone'),
      technicianId: yard.people.technician,
      day: '2026-04-20',
      tasks: [{ engineId: ids.get('Turnstone starboard'), task: 'engine-oil' }],
    });
    expect(rowOf(await chart(), 'Turnstone', 'starboard').jobs).toEqual([
      { id, day: 7, technician: 'technician', tasks: ['engine-oil'] },
    ]);
    expect(rowOf(await chart(), 'Turnstone', 'port').jobs).toEqual([]);
  });
  test('a reading changes its engine’s line at once; its twin keeps hours and limits, other boats everything', async () => {
    const before = await chart();
    await ilse.post('/usage/readings', { readings: [{ engineId: ids.get('Turnstone port'), count: 442 }] });
    const after = await chart();
    expect(rowOf(after, 'Turnstone', 'port').lifeHours).toBe(442);
    const oil = (o: Outlook) => rowOf(o, 'Turnstone', 'port').tasks.find((t) => t.task === 'engine-oil')!;
    expect(oil(after).likely!).toBeLessThan(oil(before).likely!);
    // The season is the boat's, so the twin's days may move a little; what is read does not.
    const facts = (o: Outlook) => rowOf(o, 'Turnstone', 'starboard').tasks.map((t) => [t.task, t.text]);
    expect(facts(after)).toEqual(facts(before));
    for (const position of ['single', 'kicker'])
      expect(rowOf(after, 'Knot', position)).toEqual(rowOf(before, 'Knot', position));
  });
  test('the next day it is worked out anew, without anything written', async () => {
    const lube = (o: Outlook) => rowOf(o, 'Turnstone', 'starboard').tasks.find((t) => t.task === 'gear-lube');
    const before = lube(await chart());
    // The calendar limit of the gear lube runs out two months on.
    now = new Date('2026-06-25T12:00:00Z');
    expect(lube(await chart())!.state).toBe('over');
    now = new Date('2026-04-15T12:00:00Z');
    expect(lube(await chart())).toEqual(before);
  });
});

describe('the curve of an engine', () => {
  const curve = (name: string) => ilse.get<UsageCurve>(`/usage/engines/${ids.get(name)}/curve`);
  test('begins where the meter was read last, and its band widens', async () => {
    const c = await curve('Turnstone starboard');
    expect(c).toMatchObject({ estimated: false, today: '2026-04-15' });
    expect(c.read.at(-1)).toEqual({ day: '2026-04-13', hours: 433 });
    expect(c.ahead[0]).toEqual({ day: '2026-04-13', low: 433, likely: 433, high: 433 });
    for (let i = 1; i < c.ahead.length; i++) {
      const [a, b] = [c.ahead[i - 1]!, c.ahead[i]!];
      expect(b.low).toBeLessThanOrEqual(b.likely);
      expect(b.likely).toBeLessThanOrEqual(b.high);
      expect(b.likely).toBeGreaterThanOrEqual(a.likely);
      expect(b.high - b.low).toBeGreaterThanOrEqual(a.high - a.low - 0.2);
    }
  });
  test('shows the limits, and the hours of each week as they ran', async () => {
    const c = await curve('Turnstone starboard');
    expect(c.limits).toContainEqual({ task: 'engine-oil', hours: 400, state: 'over' });
    expect(c.weeks).toHaveLength(26);
    expect(c.weeks.at(-3)).toMatchObject({ monday: '2026-03-30', hours: 7, hired: null });
    // Monday and Tuesday of this week: read up to Monday.
    expect(c.weeks.at(-1)).toMatchObject({ monday: '2026-04-13', hours: 1 });
  });
  test('without a meter or hires there is nothing to draw; an engine that is not in use is not found', async () => {
    expect(await curve('Knot kicker')).toMatchObject({ estimated: true, read: [], ahead: [], limits: [] });
    expect((await ilse.refused('get', '/usage/engines/99999/curve')).status).toBe(404);
  });
});
