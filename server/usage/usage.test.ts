import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';

interface Reading {
  id: number;
  day: string;
  count: number;
  lifeHours: number;
  doubt: string | null;
  reason: string | null;
  withdrawn: string | null;
  source: string;
}
interface Row {
  engineId: number;
  boatName: string;
  position: string;
  lastCount: number | null;
  lastDay: string | null;
  recent: unknown[];
}

let yard: Yard;
let ilse: Client;
let now = new Date('2026-04-15T10:00:00Z');
let port = 0;
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  port = (await sheet()).find((r) => r.position === 'port')!.engineId;
});
afterAll(async () => {
  await yard.close();
});
beforeEach(() => {
  now = new Date('2026-04-15T10:00:00Z');
});

const sheet = async () => (await ilse.get<{ rows: Row[] }>('/usage/hours?size=100')).rows;
const type = (count: number, more: object = {}, day?: string) => ({
  day,
  readings: [{ engineId: port, count, ...more }],
});
const readings = async () => (await ilse.get<{ rows: Reading[] }>(`/usage/engines/${port}/readings`)).rows;

describe('typing hours', () => {
  test('engines with a meter stand on the sheet, those without do not', async () => {
    expect((await sheet()).map((r) => `${r.boatName} ${r.position}`)).toEqual([
      'Knot single',
      'Turnstone port',
      'Turnstone starboard',
    ]);
  });

  test('the dock hand types; the day is the one at the base', async () => {
    // 00:30 UTC is still the evening before in Halifax (UTC-3).
    now = new Date('2026-04-10T00:30:00Z');
    const dock = await yard.as('dock');
    expect(await dock.post('/usage/readings', type(230.9))).toEqual({ saved: 1, unchanged: 0 });
    expect((await readings())[0]).toMatchObject({ day: '2026-04-09', count: 230.9, source: 'typed', doubt: null });
  });

  test('the same figure on the same day is not written twice', async () => {
    await ilse.post('/usage/readings', type(240));
    expect(await ilse.post('/usage/readings', type(240))).toEqual({ saved: 0, unchanged: 1 });
  });

  test('lower than the last is questioned, and all or none is written', async () => {
    const [knot] = await sheet();
    const before = (await readings()).length;
    const problem = await ilse.refused('post', '/usage/readings', {
      readings: [
        { engineId: knot!.engineId, count: 5 },
        { engineId: port, count: 239.9 },
      ],
    });
    expect(problem).toMatchObject({ status: 422, type: 'questioned', faults: [{ path: 'readings.1.count' }] });
    expect(problem.detail).toContain('Turnstone port: 0.1 h below the last reading of 240 h');
    expect((await readings()).length).toBe(before);
    expect((await sheet())[0]!.lastCount).toBeNull();
  });

  test('a dock hand takes back what they typed themselves, and nobody else’s', async () => {
    const dock = await yard.as('dock');
    await ilse.post('/usage/readings', type(240.1));
    const hers = (await readings())[0]!;
    const refused = await dock.refused('post', `/usage/readings/${hers.id}/withdraw`, { reason: 'looks wrong' });
    expect([refused.status, refused.detail]).toEqual([403, expect.stringContaining('Somebody else typed')]);
    await dock.post('/usage/readings', type(240.2));
    const own = (await readings())[0]!;
    await dock.post(`/usage/readings/${own.id}/withdraw`, { reason: 'read it wrong' });
    await ilse.post(`/usage/readings/${hers.id}/withdraw`, { reason: 'read it wrong as well' });
    expect((await readings()).filter((r) => r.withdrawn !== null)).toHaveLength(2);
  });

  test('confirmed with a reason it is taken and stays marked; a wrong one is taken back and struck out', async () => {
    await ilse.post('/usage/readings', type(999.9, { confirm: 'read twice, the computer says so' }));
    const marked = (await readings())[0]!;
    expect(marked).toMatchObject({ doubt: 'faster than the clock', reason: 'read twice, the computer says so' });
    await ilse.post(`/usage/readings/${marked.id}/withdraw`, { reason: 'typed into the wrong line' });
    expect((await readings())[0]).toMatchObject({ id: marked.id, withdrawn: 'typed into the wrong line' });
    expect((await sheet()).find((r) => r.engineId === port)!.lastCount).toBe(240);
    expect((await ilse.refused('post', `/usage/readings/${marked.id}/withdraw`, { reason: 'once more' })).status).toBe(
      409,
    );
  });

  test.each([[-1], [240.55], [100_000], ['240'], [null], [Number.NaN]])(
    '%p never reaches the database',
    async (count) => {
      expect((await ilse.refused('post', '/usage/readings', { readings: [{ engineId: port, count }] })).status).toBe(
        422,
      );
    },
  );

  test('a day to come, a day before the meter, an engine without a meter, the same engine twice', async () => {
    expect((await ilse.refused('post', '/usage/readings', type(300, {}, '2026-04-16'))).detail).toContain(
      'still to come',
    );
    expect((await ilse.refused('post', '/usage/readings', type(1, {}, '2024-02-01'))).detail).toContain(
      'fitted on 2024-03-01',
    );
    const kicker = (
      await ilse.get<{ rows: { engines: { id: number; position: string }[] }[] }>('/fleet/boats?q=Knot')
    ).rows[0]!.engines.find((e) => e.position === 'kicker')!;
    expect(
      (await ilse.refused('post', '/usage/readings', { readings: [{ engineId: kicker.id, count: 4 }] })).detail,
    ).toContain('has no meter');
    expect(
      (
        await ilse.refused('post', '/usage/readings', {
          readings: [
            { engineId: port, count: 250 },
            { engineId: port, count: 251 },
          ],
        })
      ).detail,
    ).toContain('twice');
  });

  test('two people typing one engine at once: one is written, the other questioned or equal', async () => {
    const dock = await yard.as('dock');
    const replies = await Promise.all([
      ilse.raw('post', '/usage/readings', type(243)),
      dock.raw('post', '/usage/readings', type(244)),
      ilse.raw('post', '/usage/readings', type(244)),
    ]);
    const saved = replies.filter((r) => r.status === 200).reduce((n, r) => n + (r.body as { saved: number }).saved, 0);
    const inBook = (await readings()).filter((r) => [243, 244].includes(r.count));
    expect(inBook.length).toBe(saved);
    expect(inBook.filter((r) => r.count === 244)).toHaveLength(1);
  });

  test('the manager may look, not type', async () => {
    const manager = await yard.as('manager');
    await manager.get('/usage/hours');
    expect((await manager.refused('post', '/usage/readings', type(260))).status).toBe(403);
  });
});

describe('a meter change', () => {
  test('life hours go on without a step', async () => {
    const last = (await readings()).find((r) => r.withdrawn === null)!;
    await ilse.post(`/fleet/engines/${port}/meters`, {
      kind: 'dash',
      day: '2026-04-15',
      oldCount: last.count + 1,
      newCount: 3.5,
      reason: 'the computer died',
    });
    const [fresh, old] = await readings();
    expect(old).toMatchObject({ source: 'meter change', lifeHours: last.lifeHours + 1 });
    expect(fresh).toMatchObject({ count: 3.5, lifeHours: last.lifeHours + 1 });
    now = new Date('2026-04-18T10:00:00Z');
    await ilse.post('/usage/readings', type(10.5));
    expect(await ilse.get<{ lifeHours: number; meters: unknown[] }>(`/fleet/engines/${port}`)).toMatchObject({
      lifeHours: last.lifeHours + 8,
    });
  });
  test('what the change hangs on cannot be taken back alone', async () => {
    const anchor = (await readings()).find((r) => r.source === 'meter change')!;
    expect(
      (await ilse.refused('post', `/usage/readings/${anchor.id}/withdraw`, { reason: 'no good' })).detail,
    ).toContain('meter change');
  });
});
