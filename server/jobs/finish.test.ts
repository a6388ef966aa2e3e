import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { openCardYard, tick, type Cards } from '../test/cards.ts';
import { asItShould, confirmGates, entryOf, write, type Client, type Yard } from '../test/yard.ts';

let now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let port = 0;
let starboard = 0;
let boatId = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port, starboard, boatId } = await openCardYard(() => now));
});
afterAll(async () => {
  await yard.close();
});

describe('finishing', () => {
  test('each gate is confirmed by a person before it can be finished, only those of what was done', async () => {
    const id = await cards.hand([
      [starboard, 'engine-oil'],
      [starboard, 'anodes'],
    ]);
    expect((await cards.finish(ines, id)).body.detail).toContain('Not confirmed yet: ');
    const c = await cards.read(id);
    const anodesOnly = {
      tasks: c.tasks.map((t) => ({ engineId: t.engineId, task: t.task, done: t.task === 'anodes' })),
    };
    const refused = await cards.finish(ines, id, anodesOnly);
    expect(refused.body.faults?.map((f) => f.path)).toEqual(['rags']);
    await write(ines, id, tick('rags'));
    expect((await cards.finish(ines, id, anodesOnly)).status).toBe(200);
  });
  test('minutes taken go into the log, waste into its streams, and a look after the first outing is asked for', async () => {
    const id = await cards.hand([[starboard, 'engine-oil']]);
    const c = await cards.read(id);
    let at = now.getTime() - 6 * 3_600_000;
    for (const t of c.steps) {
      const acts = t.step.readings.includes('oil out')
        ? [entryOf({ kind: 'read', key: `${starboard} oil out`, value: { value: 2.6, unit: 'L' } }, { at })]
        : [];
      at = now.getTime() - 6 * 3_600_000 + t.end * 60_000;
      await write(ines, id, ...acts, ...asItShould(c, t), entryOf(tick(t.step.id), { at }));
    }
    expect((await cards.finish(ines, id)).status).toBe(200);
    const { rows: log } = await yard.pool.query<{ minutes: string }>(
      'select minutes from service_entry where job_id = $1',
      [id],
    );
    expect(Number(log[0]!.minutes)).toBeGreaterThan(23);
    expect(Number(log[0]!.minutes)).toBeLessThan(28);
    expect((await cards.read(id)).waste).toEqual([{ stream: 'used oil', quantity: 2600, measured: true }]);
    const asked = (
      await ilse.get<{ rows: { due: { task: string; state: string }; asked: string | null }[] }>(
        `/service/due?engineId=${starboard}`,
      )
    ).rows.find((r) => r.due.task === 'first-outing')!;
    expect(asked).toMatchObject({ due: { state: 'soon' }, asked: expect.stringContaining('After anodes') });
    const minutes = await ilse.get<{
      people: { name: string; times: number }[];
      works: { task: string; times: number }[];
    }>('/visit/minutes');
    expect(minutes.works).toMatchObject([{ task: 'engine-oil', times: 1 }]);
    expect(minutes.people.find((p) => p.name === 'technician')!.times).toBe(1);
    // Undone, the waste goes back and the look with it.
    await ilse.post(`/jobs/${id}/undo`, { version: (await cards.read(id)).version, reason: 'wrong engine' });
    expect((await cards.read(id)).waste).toEqual([]);
    const { rows } = await yard.pool.query<{ n: number }>(
      'select count(*)::int as n from waste_entry where job_id = $1',
      [id],
    );
    expect(rows[0]!.n).toBe(2);
    expect((await cards.read(id)).entries.length).toBeGreaterThan(c.steps.length);
    await cards.callOff(id);
  });
  test('the look after the first outing falls due when the boat is back from its next hire', async () => {
    await ilse.post('/hires', {
      boatId,
      outDay: '2026-04-16',
      outTime: '09:00',
      backDay: '2026-04-17',
      backTime: '16:00',
      reference: null,
    });
    const dueOf = async () =>
      (
        await ilse.get<{ rows: { due: { task: string; limitDay: string | null; state: string } }[] }>(
          `/service/due?engineId=${starboard}`,
        )
      ).rows.find((r) => r.due.task === 'first-outing')?.due;
    expect(await dueOf()).toMatchObject({ limitDay: '2026-04-17', state: 'due' });
    const id = await cards.hand([[starboard, 'first-outing']]);
    await confirmGates(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    expect(await dueOf()).toBeUndefined();
  });
});

describe('a finish that comes late', () => {
  test('finished yesterday without signal: service and hours are of yesterday, by the phone’s clock', async () => {
    const id = await cards.hand([[port, 'grease']]);
    const was = now;
    const at = Date.parse('2026-04-15T16:30:00Z');
    now = new Date('2026-04-16T07:00:00Z');
    await confirmGates(ines, id);
    expect(await cards.finish(ines, id, { at, hours: [{ engineId: port, count: 401.5 }] })).toMatchObject({
      status: 200,
    });
    expect((await cards.read(id)).finishedAt).toBe('2026-04-15T16:30:00.000Z');
    const { rows } = await yard.pool.query<{ day: string; hours: string; of: string }>(
      `select s.done_on::text as day, s.hours, (select r.day::text from reading r where r.engine_id = s.engine_id
        order by r.id desc limit 1) as of from service_entry s where s.job_id = ${id}`,
    );
    expect(rows).toMatchObject([{ day: '2026-04-15', of: '2026-04-15' }]);
    expect(Number(rows[0]!.hours)).toBe(401.5);
    now = was;
  });
  test('a clock that is ahead, or weeks behind, does not date a finish', async () => {
    for (const at of [now.getTime() + 3_600_000, now.getTime() - 40 * 86_400_000]) {
      const id = await cards.hand([[port, 'grease']]);
      await confirmGates(ines, id);
      expect(await cards.finish(ines, id, { at })).toMatchObject({ status: 200 });
      expect((await cards.read(id)).finishedAt).toBe(now.toISOString());
    }
  });
});
