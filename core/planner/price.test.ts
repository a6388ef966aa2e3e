import { describe, expect, test } from '@jest/globals';
import { pricePlan, problemFaults } from './index.ts';
import { smallProblem } from './test/small-problem.ts';

describe('the evaluator, by hand', () => {
  const problem = smallProblem({
    boats: [{ id: 'tern', free: [[{ from: 420, to: 600, idleCost: 12 }], []] }],
    tasks: [
      { id: 'oil', boat: 'tern', dayCost: [7, 0], wait: 20 },
      { id: 'plugs', boat: 'tern', skipCost: 33 },
    ],
  });
  const plan = { visits: [{ boat: 'tern', day: 0, technician: 'ines', start: 480, elapsed: 75, tasks: ['oil'] }] };
  test('7 for the day, 33 left out, 75 minutes at 60 an hour, 12 for the window', () => {
    // elapsed = max(15 + 10 + 30, 15 + 10 + 30 + 20) = 75.
    expect(pricePlan(problem, plan)).toEqual({
      cost: { total: 127, day: 7, skip: 33, labour: 75, overtime: 0, idle: 12 },
      faults: [],
    });
  });
  test.each([
    ['out of the window', { ...plan.visits[0]!, start: 540 }, 'in no free window'],
    ['before the shift', { ...plan.visits[0]!, start: 420 }, 'outside the hours of ines'],
    ['wrong minutes', { ...plan.visits[0]!, elapsed: 60 }, 'takes 75'],
    ['unknown boat', { ...plan.visits[0]!, boat: 'auk' }, 'no such boat'],
    ['no tasks', { ...plan.visits[0]!, tasks: [] }, 'no tasks'],
  ])('%s is a fault', (_, v, text) => {
    expect(pricePlan(problem, { visits: [v] }).faults.join(' ')).toContain(text);
  });
  test('two places at once is a fault', () => {
    const two = smallProblem({
      boats: [{ id: 'tern' }, { id: 'skua' }],
      tasks: [
        { id: 'a', boat: 'tern' },
        { id: 'b', boat: 'skua' },
      ],
    });
    const at = (boat: string, task: string, start: number) => ({
      boat,
      day: 0,
      technician: 'ines',
      start,
      elapsed: 55,
      tasks: [task],
    });
    expect(pricePlan(two, { visits: [at('tern', 'a', 480), at('skua', 'b', 500)] }).faults).toEqual([
      'ines is in two places on day 0',
    ]);
    expect(pricePlan(two, { visits: [at('tern', 'a', 480), at('skua', 'b', 535)] }).faults).toEqual([]);
  });
});

test('faults of a problem carry their path', () => {
  const problem = smallProblem({
    tasks: [{ id: 'oil', boat: 'tern', dayCost: [0], access: ['hatch'], parts: { nut: 1 } }],
    pinned: [{ boat: 'auk', day: 9, technician: 'nobody', tasks: ['oil', 'gone'] }],
  });
  const paths = problemFaults(problem).map((f) => f.path);
  expect(paths).toEqual(
    expect.arrayContaining([
      'tasks[0].dayCost',
      'tasks[0].access[0]',
      'tasks[0].parts.nut',
      'pinned[0].boat',
      'pinned[0].day',
      'pinned[0].technician',
      'pinned[0].tasks[1]',
    ]),
  );
});
