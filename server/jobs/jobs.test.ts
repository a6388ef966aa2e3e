import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import type { DueRow } from '@diurna/contract/service';
import type { Movement, Part } from '@diurna/contract/stores';
import {
  confirmGates,
  entryOf,
  fleetWithTwins,
  openYard,
  PARTS_CSV,
  write,
  type Client,
  type Yard,
} from '../test/yard.ts';

let yard: Yard;
let ilse: Client;
let ines: Client;
let port = 0;
let starboard = 0;
let boatId = 0;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
  ines = await yard.as('technician');
  ({ boatId, port, starboard } = await fleetWithTwins(ilse));
  await ilse.post('/exchange/hours', 'serial,read_on,count\nC60-40116,2026-04-01,400\nC60-40117,2026-04-01,398\n');
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(async () => {
  await yard.close();
});

const work = (more: object = {}) => ({
  boatId,
  technicianId: yard.people.technician,
  day: '2026-04-15',
  tasks: [
    { engineId: port, task: 'engine-oil' },
    { engineId: port, task: 'oil-filter' },
    { engineId: starboard, task: 'engine-oil' },
    { engineId: starboard, task: 'oil-filter' },
  ],
  ...more,
});
const card = (id: number) => ines.get<JobCard>(`/jobs/${id}`);
const dueOf = async (engineId: number, task: string) =>
  (await ilse.get<{ rows: DueRow[] }>(`/service/due?engineId=${engineId}`)).rows.find((r) => r.due.task === task)!;
const part = async (number: string) =>
  (await ilse.get<{ rows: Part[] }>('/stores/parts')).rows.find((p) => p.number === number)!;
const onHand = async (number: string) =>
  (await part(number)).onHand.find((h) => h.baseId === yard.baseId)?.quantity ?? 0;
const finishing = (c: JobCard, more: object = {}) => ({
  version: c.version,
  hours: [],
  remark: null,
  parts: c.parts.map((p) => ({ partId: p.partId, quantity: p.quantity })),
  tasks: c.tasks.map((t) => ({ engineId: t.engineId, task: t.task, done: true })),
  ...more,
});

describe('from due to done and back', () => {
  let id = 0;

  test('before it is handed out: minutes and parts by serial', async () => {
    const seen = await ilse.post<{
      minutes: number;
      parts: { number: string; quantity: number }[];
      partsUnknown: unknown[];
    }>('/jobs/preview', { boatId, tasks: [...work().tasks, { engineId: port, task: 'impeller' }] });
    expect(seen.parts.map((p) => [p.number, p.quantity])).toEqual([
      ['OIL', 5400],
      ['F1', 1],
      ['F2', 1],
    ]);
    expect(seen.partsUnknown).toEqual([{ engineId: port, task: 'impeller' }]);
  });

  test('handed out, it stands on the card, and in the due list with its technician', async () => {
    id = (await ilse.post<{ id: number }>('/jobs', work())).id;
    const c = await card(id);
    expect(c).toMatchObject({ boatName: 'Turnstone', status: 'open', technician: 'technician', berth: '14' });
    expect(c.engines[0]!.sump).toEqual({ value: 2.7, unit: 'L' });
    expect((await dueOf(port, 'engine-oil')).job).toEqual({ id, day: '2026-04-15', technician: 'technician' });
  });

  test('an oil filter is not handed out without its oil', async () => {
    const alone = work({ tasks: [{ engineId: port, task: 'oil-filter' }] });
    expect((await ilse.refused('post', '/jobs', alone)).detail).toBe(
      'Oil filter is never done without engine oil of the same engine: add that too.',
    );
    const c = await card(id);
    expect(
      (
        await ilse.refused('put', `/jobs/${id}`, {
          version: c.version,
          day: c.day,
          technicianId: c.technicianId,
          tasks: c.tasks.filter((t) => t.task !== 'engine-oil').map(({ engineId, task }) => ({ engineId, task })),
        })
      ).detail,
    ).toContain('never done without');
  });

  test('the same task cannot be handed out twice, also not at the same moment', async () => {
    expect((await ilse.refused('post', '/jobs', work())).detail).toContain('already on another open job');
    const replies = await Promise.all(
      [1, 2, 3].map(() =>
        ilse.raw('post', '/jobs', work({ day: '2026-04-24', tasks: [{ engineId: starboard, task: 'spark-plugs' }] })),
      ),
    );
    expect(replies.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409, 409]);
  });

  test('finishing is one transaction: a shelf too short undoes the hours and entries with it', async () => {
    await confirmGates(ines, id);
    const c = await card(id);
    const f1 = c.parts.find((p) => p.number === 'F1')!;
    const problem = await ines.refused(
      'post',
      `/jobs/${id}/finish`,
      finishing(c, {
        hours: [{ engineId: port, count: 405 }],
        parts: [{ partId: f1.partId, quantity: 2 }],
        belowZero: true,
      }),
    );
    expect(problem).toMatchObject({ status: 409, type: 'short' });
    expect(problem.detail).toContain('F1 Filter early: the shelf has 1, 2 wanted');
    expect((await dueOf(port, 'engine-oil')).lifeHours).toBe(400);
    expect((await card(id)).status).toBe('open');
    expect(await onHand('OIL')).toBe(9000);
  });

  test('finished: entries at the hours typed, parts down, next due dates, one task left over', async () => {
    await write(ines, id, { kind: 'task', engineId: port, task: 'engine-oil', done: true });
    const c = await card(id);
    expect(c.tasks[0]!.state).toBe('done');
    await ines.post(
      `/jobs/${id}/finish`,
      finishing(c, {
        hours: [{ engineId: port, count: 406.3 }],
        remark: 'Plug seal was dry.',
        tasks: c.tasks.map((t) => ({
          engineId: t.engineId,
          task: t.task,
          done: t.engineId === port,
          volume: t.task === 'engine-oil' ? { value: 2.6, unit: 'L' } : null,
        })),
        parts: [
          { partId: (await part('OIL')).id, quantity: 2600 },
          { partId: (await part('F1')).id, quantity: 1 },
        ],
      }),
    );
    expect((await dueOf(port, 'engine-oil')).due).toMatchObject({
      state: 'fine',
      hoursLeft: 100,
      last: { day: '2026-04-15', hours: 406.3 },
    });
    expect((await dueOf(starboard, 'oil-filter')).job).toBeNull();
    expect([await onHand('OIL'), await onHand('F1'), await onHand('F2')]).toEqual([6400, 0, 2]);
    expect(await card(id)).toMatchObject({
      status: 'done',
      remark: 'Plug seal was dry.',
      used: [
        { number: 'F1', quantity: 1 },
        { number: 'OIL', quantity: 2600 },
      ],
    });
    expect((await ines.refused('post', `/jobs/${id}/finish`, finishing(c))).status).toBe(409);
  });

  test('undone: correcting entries and counter-movements, nothing erased, the card is open again', async () => {
    const before = await card(id);
    await ines.post(`/jobs/${id}/undo`, { version: before.version, reason: 'it was the other boat' });
    expect([await onHand('OIL'), await onHand('F1')]).toEqual([9000, 1]);
    expect((await dueOf(port, 'engine-oil')).due).toMatchObject({ state: 'over', last: { from: 'new' } });
    expect((await dueOf(port, 'engine-oil')).lifeHours).toBe(406.3);
    const { rows } = await ilse.get<{ rows: Movement[] }>(`/stores/parts/${(await part('OIL')).id}/ledger`);
    expect(rows.map((m) => [m.reason, m.quantity, m.balance])).toEqual([
      ['returned', 2600, 9000],
      ['used', -2600, 6400],
      ['counted', 9000, 9000],
    ]);
    const { rows: log } = await yard.pool.query(
      'select count(*)::int as n, count(cancels)::int as c from service_entry',
    );
    expect(log[0]).toEqual({ n: 4, c: 2 });
    expect(await card(id)).toMatchObject({ status: 'open', used: [] });
  });

  test('it can be finished anew, and undone anew', async () => {
    const c = await card(id);
    await ines.post(`/jobs/${id}/finish`, finishing(c));
    const after = await card(id);
    await ilse.post(`/jobs/${id}/undo`, { version: after.version, reason: 'once more' });
    expect(await onHand('OIL')).toBe(9000);
    expect((await card(id)).used).toEqual([]);
  });

  test('called off, its tasks are free at once', async () => {
    const c = await card(id);
    await ilse.post(`/jobs/${id}/cancel`, { version: c.version, reason: 'the boat went out' });
    expect((await dueOf(port, 'engine-oil')).job).toBeNull();
    const again = (await ilse.post<{ id: number }>('/jobs', work())).id;
    expect(again).toBeGreaterThan(id);
    await ilse.post(`/jobs/${again}/cancel`, { version: (await card(again)).version, reason: 'only tried' });
  });
});

describe('who may do what, and when', () => {
  test('a technician works on own cards only; a coordinator moves them', async () => {
    const other = await ilse.post<{ id: number }>(
      '/jobs',
      work({ technicianId: yard.people.coordinator, tasks: [{ engineId: port, task: 'gear-lube' }] }),
    );
    const tick = entryOf({ kind: 'task', engineId: port, task: 'gear-lube', done: true });
    expect((await ines.refused('post', `/jobs/${other.id}/entries`, { entries: [tick] })).detail).toContain(
      'belongs to a colleague',
    );
    expect((await ines.refused('put', `/jobs/${other.id}`, { ...work(), version: 1 })).status).toBe(403);
    await ilse.put(`/jobs/${other.id}`, {
      version: 1,
      technicianId: yard.people.technician,
      day: '2026-04-16',
      tasks: [{ engineId: port, task: 'gear-lube' }],
    });
    expect((await write(ines, other.id, tick)).kept).toHaveLength(1);
    expect(
      (
        await ilse.refused('put', `/jobs/${other.id}`, {
          version: 1,
          technicianId: yard.people.technician,
          day: '2026-04-17',
          tasks: [{ engineId: port, task: 'gear-lube' }],
        })
      ).detail,
    ).toContain('Someone else changed this job');
  });
  test('a day that is over, an engine of another boat, a stores keeper as technician', async () => {
    const knot = (await ilse.get<{ rows: DueRow[] }>('/service/due?q=knot')).rows[0]!;
    expect((await ilse.refused('post', '/jobs', work({ day: '2026-04-14' }))).detail).toContain('That day is over');
    expect(
      (await ilse.refused('post', '/jobs', work({ tasks: [{ engineId: knot.engineId, task: 'gear-lube' }] }))).detail,
    ).toContain('not on Turnstone');
    expect(
      (
        await ilse.refused(
          'post',
          '/jobs',
          work({ technicianId: yard.people.stores, tasks: [{ engineId: starboard, task: 'impeller' }] }),
        )
      ).detail,
    ).toContain('Choose a technician');
  });
});

describe('a shelf below zero', () => {
  test('where the book allows it, a person decides and it is marked', async () => {
    const admin = await yard.as('administrator');
    const settings = await admin.get<{ version: number }>('/settings');
    await admin.put('/settings', {
      company: 'Test Boats',
      currency: 'EUR',
      shelfPolicy: 'mark',
      secondFactor: false,
      morningMinute: 360,
      version: settings.version,
    });
    const made = await ilse.post<{ id: number }>(
      '/jobs',
      work({ tasks: [{ engineId: starboard, task: 'engine-oil' }] }),
    );
    await confirmGates(ines, made.id);
    const c = await card(made.id);
    const oil = c.parts.find((p) => p.number === 'OIL')!;
    const body = finishing(c, { parts: [{ partId: oil.partId, quantity: 9500 }] });
    expect((await ines.refused('post', `/jobs/${made.id}/finish`, body)).detail).toContain(
      'say that the parts were there',
    );
    await ines.post(`/jobs/${made.id}/finish`, { ...body, belowZero: true });
    expect(await onHand('OIL')).toBe(-500);
    expect((await card(made.id)).used[0]).toMatchObject({ number: 'OIL', belowZero: true });
    expect((await ilse.get<{ rows: Movement[] }>(`/stores/parts/${oil.partId}/ledger`)).rows[0]).toMatchObject({
      belowZero: true,
      balance: -500,
    });
  });

  test('two technicians cannot both take the last one', async () => {
    const hanne = await yard.as('stores');
    const f2 = await part('F2');
    await hanne.post('/stores/movements', { act: 'count', partId: f2.id, baseId: yard.baseId, counted: 1, note: null });
    const replies = await Promise.all(
      [1, 2, 3, 4].map(() =>
        hanne.raw('post', '/stores/movements', {
          act: 'write off',
          partId: f2.id,
          baseId: yard.baseId,
          quantity: 1,
          note: 'bent',
        }),
      ),
    );
    expect(replies.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409, 409, 409]);
    expect(await onHand('F2')).toBe(0);
  });
});

describe('the audit', () => {
  test('knows every act on a card', async () => {
    const jobs = await ilse.get<{ rows: { act: string }[] }>('/records/audit?subject=job&size=200');
    expect(new Set(jobs.rows.map((r) => r.act))).toEqual(
      new Set(['added', 'changed', 'finished', 'undone', 'cancelled']),
    );
  });
  test('a refused act leaves none', async () => {
    const count = async () => (await ilse.get<{ total: number }>('/records/audit')).total;
    const before = await count();
    await ilse.refused('post', '/fleet/boats', { name: 'Turnstone', baseId: yard.baseId, berth: null });
    expect(await count()).toBe(before);
  });
});
