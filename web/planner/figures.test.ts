import { describe, expect, test } from '@jest/globals';
import { Planner, type PlannedVisit, type PlanProblem } from '@diurna/core/planner';
import { costOf, moreText, savedMinutes, wholeMoney } from './figures.ts';

/**
 * Two tasks of one engine behind the same cover (20 min), setup 15 min, hands 30 and 10 min: worked out by hand below.
 */
const problem: PlanProblem = {
  format: 'diurna-plan-problem',
  version: 1,
  days: 2,
  visit: { setupMinutes: 15 },
  bases: [{ id: 'q', liftSlots: [1, 1] }],
  technicians: [
    {
      id: 'quick',
      base: 'q',
      skills: [],
      shift: [
        { from: 480, to: 960 },
        { from: 480, to: 960 },
      ],
      overtime: [0, 0],
      ratePerHour: 60,
      overtimeFactor: 1.5,
    },
    {
      id: 'slow',
      base: 'q',
      skills: [],
      shift: [
        { from: 480, to: 960 },
        { from: 480, to: 960 },
      ],
      overtime: [0, 0],
      ratePerHour: 60,
      overtimeFactor: 1.5,
      pace: 2,
    },
  ],
  boats: [{ id: 'b', base: 'q', free: [[{ from: 480, to: 960, idleCost: 0 }], [{ from: 480, to: 960, idleCost: 0 }]] }],
  engines: [{ id: 'e', boat: 'b', access: { cover: 20 } }],
  tasks: [30, 10].map((handsOn, i) => ({
    id: `t${i}`,
    engine: 'e',
    kind: 'x',
    handsOn,
    wait: 0,
    access: ['cover'],
    skills: [],
    needsLift: false,
    dayCost: [5, 8],
    skipCost: 500,
    parts: {},
  })),
  parts: [],
  pinned: [],
};
const at = (day: number, technician: string, tasks: string[]): PlannedVisit => ({
  boat: 'b',
  day,
  technician,
  start: 480,
  elapsed: 0,
  tasks,
});

describe('figures of a plan', () => {
  test('one visit for both saves a setup and a cover: 15 + 20 min, at half the pace twice that', () => {
    expect(savedMinutes(problem, [at(0, 'quick', ['t0', 't1'])])).toBe(35);
    expect(savedMinutes(problem, [at(0, 'slow', ['t0', 't1'])])).toBe(70);
    expect(savedMinutes(problem, [at(0, 'quick', ['t0']), at(1, 'quick', ['t1'])])).toBe(0);
  });

  test('tasks that left the book are passed over', () => {
    expect(savedMinutes(problem, [at(0, 'quick', ['t0', 'gone'])])).toBe(0);
  });

  test('cost: 75 min at 60 an hour and the day of each; skipped 500 each', () => {
    expect(costOf(problem, [at(0, 'quick', ['t0', 't1'])])).toMatchObject({ labour: 75, day: 10, skip: 0, total: 85 });
    expect(costOf(problem, [])).toMatchObject({ labour: 0, skip: 1000, total: 1000 });
    expect(costOf(problem, [at(1, 'slow', ['t0', 't1'])])).toMatchObject({ labour: 150, day: 16 });
  });

  test('the planner does it in one visit by the quicker one', () => {
    const planner = new Planner(problem);
    planner.start();
    for (let k = 0; k < 50; k++) planner.improve(1 - k / 50);
    expect(planner.plan()).toMatchObject({
      cost: { total: 85 },
      visits: [{ technician: 'quick', day: 0, tasks: ['t0', 't1'] }],
    });
  });

  test.each([
    [12.4, '+12'],
    [-3.5, '−4'],
    [-0.4, '+0'],
    [0.49, '+0'],
    [1234.5, '+1,235'],
    [-20_000, '−20,000'],
  ])('%p is written %p', (x, text) => {
    expect(moreText(x)).toBe(text);
  });
  test.each([
    [1999.5, '2,000'],
    [-0.2, '0'],
    [0, '0'],
  ])('%p of money is %p', (x, text) => {
    expect(wholeMoney(x)).toBe(text);
  });
});
