import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DueRow, Entry } from '@diurna/contract/service';
import { FleetCache } from './index.ts';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
let ilse: Client;
let now = new Date('2026-04-15T10:00:00Z');
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post(
    '/exchange/hours',
    'serial,read_on,count\nC60-40116,2026-04-01,400\nC60-40117,2026-04-01,398\nT50-1,2026-04-01,90\n',
  );
  await ilse.post(
    '/exchange/service',
    'serial,task,done_on,hours\nC60-40116,engine-oil,2026-01-10,302\nC60-40117,engine-oil,2026-01-10,290\nC60-40116,gear-lube,2025-04-16,250\n',
  );
});
afterAll(async () => {
  await yard.close();
});

const due = async (query = '') =>
  ilse.get<{ rows: DueRow[]; total: number; counts: Record<string, number> }>(`/service/due?size=200${query}`);
const oil = async (serialPosition: string) =>
  (await due('&task=engine-oil')).rows.find((r) => r.boatName === 'Turnstone' && r.position === serialPosition)!;

describe('what is due', () => {
  test('worst first, with both limits and the last time', async () => {
    const { rows, counts, total } = await due();
    // Twins of 60 hp, a two-stroke without oil and level, a kicker without separator, thermostat and battery.
    expect(total).toBe(14 + 14 + 12 + 11);
    expect(counts.over! + counts.due! + counts.soon! + counts.unknown! + counts.fine!).toBe(total);
    const ranks = rows.map((r) => ['over', 'due', 'soon', 'unknown', 'fine'].indexOf(r.due.state));
    expect(ranks).toEqual([...ranks].sort((a, b) => a - b));
    expect((await oil('starboard')).due).toMatchObject({
      state: 'over',
      by: 'hours',
      hoursLeft: -8,
      limitHours: 390,
      last: { day: '2026-01-10', hours: 290, from: 'service' },
    });
    expect((await oil('port')).due).toMatchObject({ state: 'due', hoursLeft: 2 });
  });
  test('bought new counts from the first day; bought used without papers is unknown', async () => {
    const { rows } = await due();
    expect(rows.find((r) => r.position === 'kicker' && r.due.task === 'gear-lube')!.due).toMatchObject({
      state: 'soon',
      by: 'months',
      limitDay: '2026-05-01',
      hoursUnchecked: true,
    });
    expect(
      rows.find((r) => r.boatName === 'Knot' && r.position === 'single' && r.due.task === 'impeller')!.due.state,
    ).toBe('unknown');
  });
  test('the day turns at the base', async () => {
    const gear = async () => (await due('&task=gear-lube')).rows.find((r) => r.position === 'port')!.due;
    expect((await gear()).daysLeft).toBe(1);
    now = new Date('2026-04-17T02:30:00Z'); // still the 16th in Halifax (UTC-3)
    expect((await gear()).daysLeft).toBe(0);
    now = new Date('2026-04-17T03:30:00Z');
    expect(await gear()).toMatchObject({ daysLeft: -1, state: 'over' });
    now = new Date('2026-04-15T10:00:00Z');
  });
  test('filters and pages', async () => {
    expect((await due('&state=over')).rows.every((r) => r.due.state === 'over')).toBe(true);
    expect((await due('&q=knot')).rows.every((r) => r.boatName === 'Knot')).toBe(true);
    const first = await ilse.get<{ rows: DueRow[] }>('/service/due?size=7&page=1&sort=boat');
    const second = await ilse.get<{ rows: DueRow[] }>('/service/due?size=7&page=2&sort=boat');
    expect(first.rows).toHaveLength(7);
    expect(first.rows.at(-1)!.boatName <= second.rows[0]!.boatName).toBe(true);
  });
});

describe('the memory of the fleet is never behind the book', () => {
  test('a reading, an entry, its correction, a programme, a retired boat: each shows at once', async () => {
    const engine = await oil('port');
    await ilse.post('/usage/readings', { readings: [{ engineId: engine.engineId, count: 410 }] });
    expect((await oil('port')).due).toMatchObject({ state: 'over', hoursLeft: -8 });
    const entry = await ilse.post<{ ids: number[] }>('/service/entries', {
      engineId: engine.engineId,
      tasks: ['engine-oil'],
      doneOn: '2026-04-14',
      hours: 409,
      doneBy: null,
      remark: null,
    });
    expect((await oil('port')).due).toMatchObject({ state: 'fine', hoursLeft: 99 });
    await ilse.post(`/service/entries/${entry.ids[0]}/cancel`, { reason: 'it was the other engine' });
    expect((await oil('port')).due.hoursLeft).toBe(-8);
    const model = (await ilse.get<{ id: number; name: string }[]>('/fleet/models')).find(
      (m) => m.name === '60',
    )! as unknown as { id: number; rules: { task: string; everyHours: number }[] } & Record<string, unknown>;
    const { id, engines: _, ...edit } = model;
    await ilse.put(`/fleet/models/${id}`, {
      ...edit,
      rules: model.rules.map((r) => (r.task === 'engine-oil' ? { ...r, everyHours: 150 } : r)),
    });
    expect((await oil('port')).due.hoursLeft).toBe(42);
    const boat = (await ilse.get<{ rows: { id: number; version: number }[] }>('/fleet/boats?q=Knot')).rows[0]!;
    await ilse.post(`/fleet/boats/${boat.id}/retire`, { version: boat.version, retired: true });
    expect((await due('&q=knot')).total).toBe(0);
    await ilse.post(`/fleet/boats/${boat.id}/retire`, { version: boat.version + 1, retired: false });
    expect((await due('&q=knot')).total).toBe(23);
  });

  test('another app process sees what this one wrote', async () => {
    const other = new FleetCache(yard.db);
    await other.refresh(now);
    const { engineId } = await oil('starboard');
    await ilse.post('/usage/readings', { readings: [{ engineId, count: 412.5 }] });
    await other.refresh(now);
    expect(other.engines.get(engineId)!.lifeHours).toBe(412.5);
  });

  test('what a slow transaction wrote is not missed though a later one was seen first', async () => {
    const { engineId } = await oil('starboard');
    const { engineId: portId } = await oil('port');
    const slow = await yard.pool.connect();
    await slow.query('begin');
    await slow.query(
      `insert into reading (engine_id, meter_id, day, count, source, at) select $1, id, '2026-04-15', 420, 'typed',
        '2026-04-15T10:00:00Z' from meter where engine_id = $1`,
      [engineId],
    );
    await ilse.post('/usage/readings', { readings: [{ engineId: portId, count: 415 }] });
    await yard.fleet.refresh(now);
    expect(yard.fleet.engines.get(portId)!.lifeHours).toBe(415);
    expect(yard.fleet.engines.get(engineId)!.lifeHours).toBe(412.5);
    await slow.query('commit');
    slow.release();
    await yard.fleet.refresh(now);
    expect(yard.fleet.engines.get(engineId)!.lifeHours).toBe(420);
  });
});

describe('the service log', () => {
  test('a correction stands beside the entry; both stay', async () => {
    const { rows } = await ilse.get<{ rows: Entry[] }>('/service/entries?task=engine-oil');
    expect(rows.find((r) => r.doneOn === '2026-04-14')).toMatchObject({
      cancelled: { by: 'coordinator', reason: 'it was the other engine' },
    });
  });
  test('an entry is cancelled once, in the future there are none, two-strokes have no engine oil', async () => {
    const cancelled = (await ilse.get<{ rows: Entry[] }>('/service/entries')).rows.find((r) => r.cancelled)!;
    expect(
      (await ilse.refused('post', `/service/entries/${cancelled.id}/cancel`, { reason: 'again' })).detail,
    ).toContain('already cancelled');
    const knot = (await due('&q=knot')).rows.find((r) => r.position === 'single')!;
    const entry = {
      engineId: knot.engineId,
      tasks: ['gear-lube'],
      doneOn: '2026-04-16',
      hours: null,
      doneBy: null,
      remark: null,
    };
    expect((await ilse.refused('post', '/service/entries', entry)).detail).toContain('still to come');
    expect(
      (
        await ilse.refused('post', '/service/entries', {
          ...entry,
          tasks: ['gear-lube', 'engine-oil'],
          doneOn: '2026-04-01',
        })
      ).detail,
    ).toContain('two-stroke');
  });
  test('hours no meter could have shown are questioned, and kept with the reason', async () => {
    const { engineId, lifeHours: life } = await oil('starboard');
    const entry = {
      engineId,
      tasks: ['anodes', 'prop-shaft'],
      doneOn: '2026-04-14',
      hours: life! + 9000,
      doneBy: null,
      remark: 'half left',
    };
    const refused = await ilse.refused('post', '/service/entries', entry);
    expect(refused).toMatchObject({ status: 422, type: 'questioned', faults: [{ path: 'hours' }] });
    const { ids } = await ilse.post<{ ids: number[] }>('/service/entries', {
      ...entry,
      confirm: 'the first meter’s count',
    });
    const kept = (await ilse.get<{ rows: Entry[] }>(`/service/entries?engineId=${engineId}`)).rows.filter((r) =>
      ids.includes(r.id),
    );
    expect(kept.map((r) => r.task).sort()).toEqual(['anodes', 'prop-shaft']);
    for (const row of kept)
      expect(row).toMatchObject({ hours: life! + 9000, remark: 'half left the first meter’s count' });
    for (const id of ids) await ilse.post(`/service/entries/${id}/cancel`, { reason: 'only tried' });
  });
  test.each(['service_entry', 'stock_movement', 'audit'])(
    'the database itself refuses to change or erase %s',
    async (table) => {
      const key = table === 'audit' ? 'act' : 'reason';
      await expect(yard.pool.query(`update ${table} set ${key} = ${key}`)).rejects.toThrow('never changed or erased');
      await expect(yard.pool.query(`delete from ${table}`)).rejects.toThrow('never changed or erased');
      await expect(yard.pool.query(`truncate ${table} cascade`)).rejects.toThrow('never changed or erased');
    },
  );
  test('a reading may only be taken back', async () => {
    await expect(yard.pool.query('update reading set count = 1')).rejects.toThrow('never changed');
    await expect(yard.pool.query('delete from reading')).rejects.toThrow('never changed or erased');
  });
});

describe('running in a new engine', () => {
  interface State {
    applies: boolean;
    hours: number;
    done: boolean;
    entries: { hours: number; by: string | null; remark: string | null }[];
  }
  test('a kicker without a meter is run in by what is written down; one of unknown history is not asked', async () => {
    const engines = (await due()).rows;
    const kicker = engines.find((r) => r.position === 'kicker')!.engineId;
    const knot = engines.find((r) => r.boatName === 'Knot' && r.position === 'single')!.engineId;
    const dock = await yard.as('dock');
    expect(await ilse.get<State>(`/service/engines/${kicker}/break-in`)).toMatchObject({
      applies: true,
      hours: 0,
      done: false,
      entries: [],
    });
    await dock.post(`/service/engines/${kicker}/break-in`, { hours: 1.5, remark: 'speed changed every minute' });
    await dock.post(`/service/engines/${kicker}/break-in`, { hours: 8.5, remark: null });
    expect(await ilse.get<State>(`/service/engines/${kicker}/break-in`)).toMatchObject({
      hours: 10,
      done: true,
      entries: [{ hours: 1.5, by: 'dock', remark: 'speed changed every minute' }, { hours: 8.5 }],
    });
    expect(await ilse.get<State>(`/service/engines/${knot}/break-in`)).toMatchObject({ applies: false });
    expect(
      (await dock.refused('post', `/service/engines/${knot}/break-in`, { hours: 1, remark: null })).detail,
    ).toContain('not bought new');
    expect(
      (await dock.refused('post', `/service/engines/${kicker}/break-in`, { hours: 0, remark: null })).detail,
    ).toContain('between 0.1 and 24');
    await expect(yard.pool.query('update break_in_entry set hours = 1')).rejects.toThrow('never changed');
  });
});
