import { describe, expect, test } from '@jest/globals';
import { PinsRefused, Planner } from './index.ts';
import { planned, proven, sound } from './test/planned.ts';
import { smallProblem } from './test/small-problem.ts';

describe('pins', () => {
  const boats = [{ id: 'tern' }, { id: 'skua' }];
  test('are kept though another place is cheaper, and others may join', () => {
    const problem = smallProblem({
      boats,
      tasks: [
        { id: 'oil', boat: 'tern', dayCost: [0, 80] },
        { id: 'plugs', boat: 'tern' },
      ],
      pinned: [{ boat: 'tern', day: 1, technician: 'ines', tasks: ['oil'] }],
    });
    const plan = planned(problem);
    sound(problem, plan);
    expect(plan.visits).toMatchObject([{ day: 1, tasks: ['oil', 'plugs'] }]);
  });
  test('are kept though leaving the task were cheaper', () => {
    const problem = smallProblem({
      tasks: [{ id: 'oil', boat: 'tern', skipCost: 1 }],
      pinned: [{ boat: 'tern', day: 0, technician: 'ines', tasks: ['oil'] }],
    });
    expect(planned(problem).visits).toHaveLength(1);
    expect(proven(problem).proven).toBe(true);
  });
  test.each([
    [
      'boat out',
      smallProblem({
        boats: [{ id: 'tern', free: [[], []] }],
        tasks: [{ id: 'oil', boat: 'tern' }],
        pinned: [{ boat: 'tern', day: 0, technician: 'ines', tasks: ['oil'] }],
      }),
      'the boat is out all day',
    ],
    [
      'no skill',
      smallProblem({
        tasks: [{ id: 'oil', boat: 'tern', skills: ['lower unit'] }],
        pinned: [{ boat: 'tern', day: 0, technician: 'ines', tasks: ['oil'] }],
      }),
      'ines lacks lower unit',
    ],
    [
      'no part',
      smallProblem({
        tasks: [{ id: 'oil', boat: 'tern', parts: { kit: 1 } }],
        parts: [{ id: 'kit', supply: [0, 1] }],
        pinned: [{ boat: 'tern', day: 0, technician: 'ines', tasks: ['oil'] }],
      }),
      'kit is not there by then',
    ],
    [
      'not allowed',
      smallProblem({
        tasks: [{ id: 'oil', boat: 'tern', dayCost: [null, 0] }],
        pinned: [{ boat: 'tern', day: 0, technician: 'ines', tasks: ['oil'] }],
      }),
      'oil is not allowed that day',
    ],
    [
      'day too full',
      smallProblem({
        boats,
        technicians: [{ id: 'ines', shift: [{ from: 480, to: 560 }, null] }],
        tasks: [
          { id: 'a', boat: 'tern' },
          { id: 'b', boat: 'skua' },
        ],
        pinned: [
          { boat: 'tern', day: 0, technician: 'ines', tasks: ['a'] },
          { boat: 'skua', day: 0, technician: 'ines', tasks: ['b'] },
        ],
      }),
      'do not fit into that day together',
    ],
    [
      'lift taken',
      smallProblem({
        boats,
        tasks: [
          { id: 'a', boat: 'tern', needsLift: true },
          { id: 'b', boat: 'skua', needsLift: true },
        ],
        pinned: [
          { boat: 'tern', day: 0, technician: 'ines', tasks: ['a'] },
          { boat: 'skua', day: 0, technician: 'ines', tasks: ['b'] },
        ],
      }),
      'the lift is taken',
    ],
  ])('%s: refused by name', (_, problem, text) => {
    let refused: unknown;
    try {
      new Planner(problem);
    } catch (error) {
      refused = error;
    }
    expect(refused).toBeInstanceOf(PinsRefused);
    expect((refused as PinsRefused).faults[0]!.path).toMatch(/^pinned\[\d\]$/);
    expect((refused as PinsRefused).message).toContain(text);
  });
});
