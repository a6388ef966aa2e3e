import { describe, expect, test } from '@jest/globals';
import type { TaskKind } from '../service/index.ts';
import { coupled, keysOf, type YardTask } from './index.ts';

const task = (engineId: number, kind: TaskKind, more: Partial<YardTask> = {}): YardTask => ({
  engineId,
  boatId: 1,
  task: kind,
  early: 10,
  likely: 20,
  late: 30,
  over: false,
  unknown: false,
  share: 0.5,
  partsCost: 10,
  parts: [{ partId: engineId, quantity: 1 }],
  hands: 20,
  ...more,
});

// That a filter never comes off without its oil: common practice, no source.
describe('an oil filter goes with its oil change', () => {
  test('as one task with the minutes, parts and price of both; other tasks and other engines stay', () => {
    const plan = coupled([
      task(1, 'oil-filter', { hands: 10 }),
      task(1, 'engine-oil'),
      task(2, 'oil-filter'),
      task(1, 'anodes'),
    ]);
    expect(plan.map((p) => [p.at, p.task.engineId, p.task.task])).toEqual([
      [1, 1, 'engine-oil'],
      [2, 2, 'oil-filter'],
      [3, 1, 'anodes'],
    ]);
    expect(plan[0]!.task).toMatchObject({ hands: 30, partsCost: 20, brings: ['oil-filter'] });
    expect(plan[0]!.task.parts).toHaveLength(2);
    expect(plan[1]!.task.brings).toBeUndefined();
  });
  test('the more urgent of the two says when', () => {
    const urgent = task(1, 'oil-filter', { over: true, likely: -4, share: 1.2 });
    expect(coupled([task(1, 'engine-oil'), urgent])[0]!.task).toMatchObject({
      task: 'engine-oil',
      over: true,
      likely: -4,
      share: 1.2,
    });
    expect(coupled([task(1, 'engine-oil', { likely: 3 }), task(1, 'oil-filter')])[0]!.task.likely).toBe(3);
  });
  test('on two open cards they stay apart', () => {
    expect(coupled([task(1, 'engine-oil'), task(1, 'oil-filter')], () => true)).toHaveLength(2);
  });
  test('on a card they are two tasks again, each once', () => {
    const tasks = coupled([task(1, 'engine-oil'), task(1, 'oil-filter'), task(1, 'anodes')]).map((p) => p.task);
    expect(keysOf(tasks, ['1 engine-oil', '1 anodes'])).toEqual([
      { engineId: 1, task: 'engine-oil' },
      { engineId: 1, task: 'oil-filter' },
      { engineId: 1, task: 'anodes' },
    ]);
    expect(keysOf(tasks, ['1 engine-oil', '1 oil-filter'])).toHaveLength(2);
    expect(keysOf(tasks, ['9 grease'])).toEqual([{ engineId: 9, task: 'grease' }]);
  });
});
