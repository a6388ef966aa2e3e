import { describe, expect, test } from '@jest/globals';
import { pricePlan, type Plan } from '@diurna/core/planner';
import { planProblem as seededProblem } from '@diurna/demo/plan-problems';
import { commandOf, expectRefused } from '../test/command.ts';

const run = commandOf('plan');

describe('the command', () => {
  test('prints the plan and nothing else; as many rounds give the same plan again', () => {
    const problem = seededProblem(5, 6, 7);
    const first = run(JSON.stringify(problem), '--iterations', '300', '--seed', '3');
    expect(first.status).toBe(0);
    const plan = JSON.parse(first.stdout) as Plan;
    expect(plan).toMatchObject({ format: 'diurna-plan', version: 1 });
    expect(pricePlan(problem, plan).faults).toEqual([]);
    expect(pricePlan(problem, plan).cost.total).toBeCloseTo(plan.cost.total, 6);
    expect(plan.bound!).toBeLessThanOrEqual(plan.cost.total + 1e-6);
    expect(run(JSON.stringify(problem), '--iterations', '300', '--seed', '3').stdout).toBe(first.stdout);
  });
  test('stops at the time set, and with --exact when proven', () => {
    const problem = seededProblem(4, 4, 7);
    // It would go on for an hour; `run` gives up long before.
    const exact = run(JSON.stringify(problem), '--exact', '--seconds', '3600');
    expect(JSON.parse(exact.stdout)).toMatchObject({ proven: true });
  });
  test.each([
    ['no JSON', 'hm', 'is no JSON'],
    ['another format', '{"format":"x"}', 'format: must be "diurna-plan-problem"'],
    ['a shape', JSON.stringify({ ...seededProblem(1, 2, 3), technicians: [{ id: 't' }] }), 'technicians[0].base'],
    [
      'a name that points nowhere',
      JSON.stringify({ ...seededProblem(1, 2, 3), engines: [] }),
      'tasks[0].engine: there is no engine',
    ],
    [
      'a pin that cannot be kept',
      JSON.stringify({
        ...seededProblem(1, 2, 3),
        boats: seededProblem(1, 2, 3).boats.map((b) => ({ ...b, free: [[], [], []] })),
        pinned: [
          { boat: 'boat-0', day: 0, technician: 'technician-0-0', tasks: [seededProblem(1, 2, 3).tasks[0]!.id] },
        ],
      }),
      'the boat is out all day',
    ],
  ])('refuses %s with exit status 2 and the place', (_, input, text) => {
    expectRefused(run(input), text);
  });
  test('refuses wrong words of its own', () => {
    expect(run('{}', '--seconds', 'soon').stderr).toContain('--seconds is "soon"');
    expect(run('{}', '--fast').status).toBe(2);
  });
});
