import { describe, expect, test } from '@jest/globals';
import { planLine, readProblem } from './planner.ts';

/** The smallest problem that says something: one task, one person, one day. */
const problem = {
  format: 'diurna-plan-problem',
  version: 1,
  days: 1,
  visit: { setupMinutes: 15 },
  bases: [{ id: 'q', liftSlots: [1] }],
  technicians: [
    {
      id: 'i',
      base: 'q',
      skills: [],
      shift: [{ from: 480, to: 960 }],
      overtime: [0],
      ratePerHour: 60,
      overtimeFactor: 1.5,
    },
  ],
  boats: [{ id: 'b', base: 'q', free: [[{ from: 480, to: 960, idleCost: 0 }]] }],
  engines: [{ id: 'e', boat: 'b', access: { cowl: 5 } }],
  tasks: [
    {
      id: 't',
      engine: 'e',
      kind: 'oil',
      handsOn: 30,
      wait: 0,
      access: ['cowl'],
      skills: [],
      needsLift: false,
      dayCost: [0],
      skipCost: 100,
      parts: {},
    },
  ],
  parts: [],
  pinned: [],
};
const faultsOf = (change: object) => {
  const { faults } = readProblem({ ...problem, ...change });
  return Object.fromEntries((faults ?? []).map((f) => [f.path, f.text]));
};

describe('a plan problem out of a file', () => {
  test('is read as it is', () => {
    expect(readProblem(problem)).toEqual({ problem, faults: null });
  });

  test('says each fault with its path, as a person finds it in the file', () => {
    expect(faultsOf({ format: 'x' })).toEqual({ format: 'must be "diurna-plan-problem"' });
    expect(faultsOf({ version: 3 })).toEqual({ version: 'must be 1 or 2: this reader knows no other' });
    expect(faultsOf({ visit: { setupMinutes: -1 } })).toEqual({
      'visit.setupMinutes': 'must be a number of 0 or more',
    });
    expect(faultsOf({ tasks: [{ ...problem.tasks[0], dayCost: ['dear'] }] })).toEqual({
      'tasks[0].dayCost[0]': 'has to be a number',
    });
    expect(faultsOf({ technicians: [{ ...problem.technicians[0], base: 7 }] })).toEqual({
      'technicians[0].base': 'must be the id of a base, or a list with one id or null a day',
    });
    expect(readProblem(null).faults![0]!.path).toBe('the problem');
  });

  test('what a shape cannot say is said too: lists as long as the days, names that lead nowhere', () => {
    expect(Object.keys(faultsOf({ days: 2 })).length).toBeGreaterThan(0);
    const lost = faultsOf({ engines: [{ ...problem.engines[0], boat: 'gone' }] });
    expect(Object.keys(lost)[0]).toMatch(/^engines\[0\]/);
    expect(Object.values(lost)[0]).toMatch(/gone/);
  });
});

test.each([
  [{ say: 'progress', cost: 1, bound: null, seconds: 0.5 }, true],
  [{ say: 'pins', faults: ['Sven is away'] }, true],
  [{ say: 'broken', text: 'stopped' }, true],
  [{ say: 'plan', cost: 1, bound: null }, false],
  [{ say: 'else' }, false],
])('a line of the stream, %p: %p', (line, fits) => {
  expect(planLine.safeParse(line).success).toBe(fits);
});
