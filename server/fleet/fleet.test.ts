import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Boat, Engine, SearchHit } from '@diurna/contract/fleet';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

let yard: Yard;
let ilse: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
});
afterAll(async () => {
  await yard.close();
});

const boat = async (name: string) => (await ilse.get<{ rows: Boat[] }>(`/fleet/boats?q=${name}`)).rows[0]!;
const edit = (b: Boat, more: object = {}) => ({
  name: b.name,
  baseId: b.baseId,
  berth: b.berth,
  version: b.version,
  ...more,
});

describe('boats', () => {
  test('add, edit, retire and take back', async () => {
    const { id } = await ilse.post<{ id: number }>('/fleet/boats', {
      name: ' Avocet ',
      baseId: yard.baseId,
      berth: null,
    });
    const made = await ilse.get<Boat>(`/fleet/boats/${id}`);
    expect(made).toMatchObject({ name: 'Avocet', version: 1, engines: [] });
    await ilse.put(`/fleet/boats/${id}`, edit(made, { berth: '8' }));
    await ilse.post(`/fleet/boats/${id}/retire`, { version: 2, retired: true });
    expect(await boat('Avocet')).toBeUndefined();
    await ilse.post(`/fleet/boats/${id}/retire`, { version: 3, retired: false });
    expect((await boat('Avocet')).berth).toBe('8');
  });
  test('are found by anything of their line, and stand in the order asked for, either way', async () => {
    const list = async (query: string) => (await ilse.get<{ rows: Boat[] }>(`/fleet/boats?${query}`)).rows;
    const all = await list('size=100');
    const one = all.find((b) => b.engines.length > 0 && b.berth)!;
    for (const q of [one.engines[0]!.serial, one.engines[0]!.modelName.split(' ').at(-1)!, one.berth!, one.baseName])
      expect((await list(`size=100&q=${encodeURIComponent(q)}`)).map((b) => b.id)).toContain(one.id);
    expect(await list('q=%25')).toEqual([]);
    const hours = (b: Boat) => Math.max(-1, ...b.engines.map((e) => e.lifeHours ?? -1));
    const byHours = (await list('size=100&order=hours')).map(hours);
    expect(byHours).toEqual([...byHours].sort((a, b) => b - a));
    const ranks = { over: 0, due: 1, unknown: 2, soon: 3, fine: 4 };
    const worst = (b: Boat) => Math.min(9, ...b.engines.map((e) => (e.nearest ? ranks[e.nearest.state] : 9)));
    const due = await list('size=100&order=due');
    expect(due).toHaveLength(all.length);
    const first = worst(due[0]!);
    expect(first).toBe(Math.min(...all.map(worst)));
    const down = await list('size=100&order=due&down=yes');
    expect(down.map((b) => b.id)).toEqual(due.map((b) => b.id).reverse());
    // Page by page the same order, nobody twice.
    const paged = [...(await list('size=2&order=due&page=1')), ...(await list('size=2&order=due&page=2'))];
    expect(paged.map((b) => b.id)).toEqual(due.slice(0, 4).map((b) => b.id));
  });

  test('two people editing at once: the second is told, nothing is overwritten', async () => {
    const b = await boat('Knot');
    const replies = await Promise.all(
      ['x', 'y'].map((berth) => ilse.raw('put', `/fleet/boats/${b.id}`, edit(b, { berth }))),
    );
    expect(replies.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409]);
    const winner = replies[0]!.status === 200 ? 'x' : 'y';
    expect((await boat('Knot')).berth).toBe(winner);
  });
  test('a name is given once, whatever the capitals', async () => {
    const problem = await ilse.refused('post', '/fleet/boats', { name: 'TURNSTONE', baseId: yard.baseId, berth: null });
    expect(problem).toMatchObject({ status: 409, faults: [{ path: 'name' }] });
  });
  test('a boat with open work is not retired', async () => {
    const b = await boat('Turnstone');
    await ilse.post('/jobs', {
      insist: ALL_THE_SAME,
      boatId: b.id,
      technicianId: yard.people.technician,
      day: '2026-04-20',
      tasks: [{ engineId: b.engines[0]!.id, task: 'impeller' }],
    });
    expect(
      (await ilse.refused('post', `/fleet/boats/${b.id}/retire`, { version: b.version, retired: true })).detail,
    ).toContain('1 open job');
  });
});

describe('engines', () => {
  test('one engine a position; a serial once a model', async () => {
    const b = await boat('Turnstone');
    const base = { modelId: b.engines[0]!.modelId, boatId: b.id, inServiceOn: null, boughtNew: false, meter: null };
    expect(
      (await ilse.refused('post', '/fleet/engines', { ...base, serial: 'NEW', position: 'port' })).detail,
    ).toContain('position on the boat is taken');
    expect(
      (await ilse.refused('post', '/fleet/engines', { ...base, serial: 'c60-40116', position: 'kicker' })).detail,
    ).toContain('already in the book');
    expect(
      (await ilse.refused('post', '/fleet/engines', { ...base, serial: 'NEW', position: 'kicker', boughtNew: true }))
        .detail,
    ).toContain('needs the day');
  });
  test('moves to another boat with its history; twins know each other', async () => {
    const b = await boat('Turnstone');
    const engine = await ilse.get<Engine>(`/fleet/engines/${b.engines[1]!.id}`);
    expect(engine.twins).toEqual([{ id: b.engines[0]!.id, position: 'port', lifeHours: null }]);
    const avocet = await boat('Avocet');
    await ilse.put(`/fleet/engines/${engine.id}`, {
      serial: engine.serial,
      modelId: engine.modelId,
      boatId: avocet.id,
      position: 'single',
      inServiceOn: engine.inServiceOn,
      boughtNew: engine.boughtNew,
      version: engine.version,
    });
    expect(await ilse.get<Engine>(`/fleet/engines/${engine.id}`)).toMatchObject({ boatName: 'Avocet', twins: [] });
  });
  test('nonsense is refused by the database itself', async () => {
    const bad = (sql: string) => expect(yard.pool.query(sql)).rejects.toThrow(/violates|invalid/);
    await bad("insert into engine_model (maker, name, power_hp, stroke, cylinders) values ('A', 'B', 10, 3, 2)");
    await bad(
      `insert into engine_model (maker, name, power_hp, stroke, cylinders, sump_value, sump_unit) values ('A', 'B',
        10, 2, 2, 1, 'L')`,
    );
    await bad('update programme_rule set every_hours = null, every_months = null');
    await bad(
      `insert into meter (engine_id, kind, fitted_on) select id, 'dash', '2026-01-01' from engine where serial =
        'T50-1'`,
    );
    await bad(
      `insert into reading (engine_id, meter_id, day, count, source) select e.id, m.id, '2026-01-01', 1, 'typed' from
        engine e, meter m where m.engine_id <> e.id`,
    );
    await bad(
      `update part set price_minor = -1; insert into part (number, name, kind, unit, price_minor) values ('X', 'X',
        'oil', 'mL', -1)`,
    );
  });
});

describe('bases and models', () => {
  test('a zone that is none, a rule without limits, the same task twice', async () => {
    expect(
      (
        await ilse.refused('post', '/fleet/bases', {
          name: 'X',
          timeZone: 'Mars/Base',
          hemisphere: 'north',
          dayMinutes: 480,
          workdays: [1],
        })
      ).faults![0]!.path,
    ).toBe('timeZone');
    const model = {
      maker: 'Skarn',
      name: '90',
      powerHp: 90,
      stroke: 4,
      cylinders: 4,
      sump: { value: 4.3, unit: 'US qt' },
      gearCase: null,
    };
    expect(
      (
        await ilse.refused('post', '/fleet/models', {
          ...model,
          rules: [{ task: 'impeller', everyHours: null, everyMonths: null }],
        })
      ).faults![0]!.path,
    ).toBe('rules.0.everyHours');
    expect(
      (
        await ilse.refused('post', '/fleet/models', {
          ...model,
          rules: [
            { task: 'impeller', everyHours: 1, everyMonths: null },
            { task: 'impeller', everyHours: 2, everyMonths: null },
          ],
        })
      ).faults![0]!.path,
    ).toBe('rules.1.task');
    expect(
      (
        await ilse.refused('post', '/fleet/models', {
          ...model,
          stroke: 2,
          sump: null,
          rules: [{ task: 'engine-oil', everyHours: 1, everyMonths: null }],
        })
      ).detail,
    ).toContain('two-stroke');
  });
});

describe('search', () => {
  test('finds boats, engines, models and people by a piece of the name; wildcards stand for themselves', async () => {
    const find = (q: string) => ilse.get<SearchHit[]>(`/search?q=${encodeURIComponent(q)}`);
    expect((await find('turn'))[0]).toMatchObject({ kind: 'boat', title: 'Turnstone' });
    expect(await find('40116')).toEqual([expect.objectContaining({ kind: 'engine', title: 'Turnstone port' })]);
    expect((await find('corvane')).map((h) => h.kind)).toContain('model');
    expect((await find('manag'))[0]).toMatchObject({ kind: 'person' });
    expect(await find('%')).toEqual([]);
    expect(await find('_')).toEqual([]);
  });
});

test('looking for a sign that is a pattern to the database finds only what has it in its name', async () => {
  await ilse.post('/exchange/parts', PARTS_CSV);
  await ilse.post('/exchange/service', 'serial,task,done_on\nC60-40116,anodes,2026-04-01\n');
  await ilse.post('/exchange/hires', 'boat,out,back\nTurnstone,2026-04-20 09:00,2026-04-20 17:00\n');
  const paths = ['/fleet/boats?', '/stores/parts?', '/service/entries?', '/hires?from=2026-04-01&days=40&'];
  for (const path of paths) {
    expect((await ilse.get<{ total: number }>(path)).total).toBeGreaterThan(0);
    for (const sign of ['%25', '_', '%5C'])
      expect((await ilse.get<{ total: number }>(`${path}q=${sign}`)).total).toBe(0);
  }
});
