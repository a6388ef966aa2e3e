import { describe, expect, test } from '@jest/globals';
import type { OrderPlan } from '@diurna/core/ordering';
import { orderProblem } from '@diurna/demo/order-problems';
import { commandOf, expectRefused } from '../test/command.ts';
import { judge } from '../../core/ordering/test/judge.ts';

const run = commandOf('order');

describe('the command', () => {
  test('prints the plan and nothing else; as many rounds give the same plan again', () => {
    const problem = orderProblem(5, 8, 21, 2);
    const first = run(JSON.stringify(problem), '--iterations', '300', '--seed', '3');
    expect(first.status).toBe(0);
    const plan = JSON.parse(first.stdout) as OrderPlan;
    expect(plan).toMatchObject({ format: 'diurna-order-plan', version: 1 });
    expect(judge(problem, plan.orders)).toEqual({ total: expect.closeTo(plan.cost.total, 6), faults: [] });
    expect(plan.bound!).toBeLessThanOrEqual(plan.cost.total + 1e-6);
    expect(first.stderr).toMatch(/s {2}cost [\d.]+ {2}bound/);
    expect(run(JSON.stringify(problem), '--iterations', '300', '--seed', '3').stdout).toBe(first.stdout);
  });

  test('goes on until it is proven, with the exact solver where its own bound leaves something open', () => {
    // It would go on for an hour; `run` gives up long before.
    for (const seed of [2, 7]) {
      const problem = orderProblem(seed, 3, 12, 1);
      const plan = JSON.parse(run(JSON.stringify(problem), '--exact', '--seconds', '3600').stdout) as OrderPlan;
      expect(judge(problem, plan.orders).total).toBeCloseTo(plan.cost.total, 6);
      expect((plan.cost.total - plan.bound!) / Math.abs(plan.cost.total)).toBeLessThan(2e-4);
    }
  });

  test.each([
    ['no JSON', 'hm', 'is no JSON'],
    ['another format', '{"format":"x"}', 'format: must be "diurna-order-problem"'],
    ['a shape', JSON.stringify({ ...orderProblem(1, 2, 3, 1), suppliers: [{ id: 's' }] }), 'suppliers[0].leadDays'],
    [
      'a name that points nowhere',
      JSON.stringify({ ...orderProblem(1, 2, 3, 1), suppliers: [] }),
      'offers[0].supplier: there is no supplier',
    ],
  ])('refuses %s with exit status 2 and the place', (_, input, text) => {
    expectRefused(run(input), text);
  });

  test('refuses wrong words of its own', () => {
    expect(run('{}', '--seconds', 'soon').stderr).toContain('--seconds is "soon"');
    expect(run('{}', '--problem').status).toBe(2);
  });
});
