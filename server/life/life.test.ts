import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { lifeRoutes } from '@diurna/contract/life';
import type { ReplyOf } from '@diurna/contract';
import { look, openFindings, take } from '../test/findings.ts';
import { confirmGates, write } from '../test/yard.ts';

type Life = ReplyOf<(typeof lifeRoutes)['readLife']>;
let own: Awaited<ReturnType<typeof openFindings>>;
beforeAll(async () => {
  own = await openFindings();
});
afterAll(() => own.yard.close());

const life = (more = '') => own.ilse.get<Life>(`/rules/life?task=impeller${more}`);
const renewed = (engineId: number, doneOn: string, hours: number) =>
  own.ilse.post('/service/entries', {
    ...{ engineId, tasks: ['impeller'], doneOn, hours, doneBy: 'Ines', remark: null },
  });

describe('lives of a part', () => {
  test('go from renewal to renewal and on to now; without a look they ended sound, and no law is made up', async () => {
    const before = await life();
    await renewed(own.port, '2024-06-01', 100);
    await renewed(own.port, '2025-06-01', 260);
    const after = await life();
    // 160 h between the two, and what runs since.
    expect(after.lives).toBeGreaterThan(before.lives);
    expect(after).toMatchObject({ failures: 0, few: true, fit: null, cheapest: null, points: [] });
  });
  test('what a card read of the old wheel ends a life; two such make a law, and few are said to be few', async () => {
    await renewed(own.starboard, '2024-06-01', 90);
    await own.ilse.post('/usage/readings', {
      readings: [
        { engineId: own.port, count: 410 },
        { engineId: own.starboard, count: 395 },
      ],
    });
    for (const engineId of [own.port, own.starboard]) {
      const id = await own.hand([engineId, 'impeller']);
      await write(own.ines, id, look(engineId, 'impeller look', 'cracked'), take(`${engineId} impeller worn`));
      await confirmGates(own.ines, id);
      expect((await own.finish(id)).status).toBe(200);
    }
    const found = await life('&planned=60&failed=480');
    expect(found).toMatchObject({ failures: 2, few: true, costs: { planned: 60, failed: 480 } });
    // From 260 h and from 90 h to what the meters show.
    expect(found.points).toHaveLength(2);
    expect(found.fit!.shape).toBeGreaterThan(0);
    expect(found.fit!.shapeRange[0]).toBeLessThan(found.fit!.shape);
    expect(found.inForce.reduce((n, r) => n + r.engines, 0)).toBeGreaterThan(0);
    // By the yard's own rates, where nobody typed others.
    const { costs } = await life();
    expect(costs.failed).toBeGreaterThan(costs.planned);
    // And the part's price, once one is known: on each of its engines.
    await own.ilse.post(
      '/exchange/parts',
      'part,name,kind,unit,price,model,task,quantity\nWHEEL,Pump kit,pump kit,each,58.00,Corvane 60,impeller,1\n',
    );
    const priced = (await life()).costs;
    expect(priced.planned - costs.planned).toBeGreaterThan(0);
    expect(priced.planned - costs.planned).toBeLessThanOrEqual(58);
    expect(priced.failed - priced.planned).toBe(costs.failed - costs.planned);
  });
  test('of boats in sand alone; a cost that is none is told at its field', async () => {
    expect((await life('&water=sand')).lives).toBe(0);
    expect((await own.ilse.refused('get', '/rules/life?task=impeller&failed=-3')).faults![0]!.path).toBe('failed');
    expect((await own.ilse.refused('get', '/rules/life?task=grease')).faults![0]!.path).toBe('task');
  });
  test('by months: from day to day, to now; of salt water alone', async () => {
    const months = await life('&by=months');
    const hours = await life();
    expect(months.lives).toBeGreaterThanOrEqual(hours.lives);
    expect(months.failures).toBe(hours.failures);
    // The wheel of the port engine, from June 2025 to the day of the card.
    expect(months.points.at(-1)!.time).toBeGreaterThan(5);
    expect(months.points.at(-1)!.time).toBeLessThan(40);
    expect((await life('&water=salt')).lives + (await life('&water=no%20salt')).lives).toBe(hours.lives);
  });
  test('what was found is written down by hand too, and comes in by files; of other work it is refused', async () => {
    const before = await life();
    const entry = { engineId: own.port, doneBy: 'Ines', remark: null, hours: 40 };
    const more = { ...entry, doneOn: '2023-06-01', tasks: ['impeller'], oldPart: 'spent' };
    await own.ilse.post('/service/entries', { ...more, doneOn: '2023-02-01', hours: 10, oldPart: null });
    await own.ilse.post('/service/entries', more);
    expect((await life()).failures).toBe(before.failures + 1);
    const other = { ...entry, doneOn: '2023-06-02', tasks: ['grease'], oldPart: 'sound' };
    expect((await own.ilse.refused('post', '/service/entries', other)).faults![0]!.path).toBe('oldPart');
    const out = (await own.ilse.raw('get', '/exchange/service')).text;
    const line = out.split('\n').find((l) => l.includes('impeller,2023-06-01'))!;
    expect(line.trim().endsWith(',spent')).toBe(true);
    const file = out.split('\n')[0]!.trim() + '\n' + line.trim().replace('2023-06-01', '2023-09-01');
    const seen = await own.ilse.post<{ rows: { does: string }[] }>(
      '/exchange/service/preview',
      file.replace(',40,', ',70,'),
    );
    expect(seen.rows[0]!.does).toBe('add');
    const wrong = await own.ilse.post<{ rows: { faults: { column: string }[] }[] }>(
      '/exchange/service/preview',
      file.replace(/spent$/, 'mouldy'),
    );
    expect(wrong.rows[0]!.faults.map((f) => f.column)).toContain('old_part');
  });
});
