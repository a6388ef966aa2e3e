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
    expect((await life()).costs.failed).toBeGreaterThan((await life()).costs.planned);
  });
  test('of boats in sand alone; a cost that is none is told at its field', async () => {
    expect((await life('&water=sand')).lives).toBe(0);
    expect((await own.ilse.refused('get', '/rules/life?task=impeller&failed=-3')).faults![0]!.path).toBe('failed');
    expect((await own.ilse.refused('get', '/rules/life?task=grease')).faults![0]!.path).toBe('task');
  });
});
