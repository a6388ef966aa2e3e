import { describe, expect, test } from '@jest/globals';
import { planProblem } from '@diurna/demo/plan-problems';
import fc from 'fast-check';
import loadHighs from 'highs';
import { Bound } from './bound/bound.ts';
import { Draft } from './search/draft.ts';
import { columnsBelow, planNearPrices, settle } from './bound/exact.ts';
import { groupsOf, shared } from './problem/groups.ts';
import { seeded } from '../random/index.ts';
import { modelOf, pricePlan, solveWith } from './index.ts';
import { elapsedOf } from './problem/model.ts';
import { countOf, reachable, stepsOfSlice } from './search/slices.ts';

const solve = solveWith(await loadHighs());

describe('what keeps a bound below every plan', () => {
  test('counts of visits that fit into a stretch together never exceed one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 60, max: 480 }),
        fc.constantFrom(2, 3, 4),
        fc.array(fc.integer({ min: 10, max: 240 }), { maxLength: 6 }),
        (length, n, visits) => {
          let sum = 0;
          const fitting = visits.filter((p) => (sum + p <= length ? ((sum += p), true) : false));
          expect(fitting.reduce((a, p) => a + countOf({ minutes: length, n }, p), 0)).toBeLessThanOrEqual(1 + 1e-9);
        },
      ),
    );
  });
  test('the steps of a slice charge what it counts', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 60, max: 480 }),
        fc.constantFrom(2, 3, 4),
        fc.integer({ min: 1, max: 480 }),
        fc.integer({ min: 1, max: 50 }),
        (minutes, n, p, price) => {
          fc.pre(p <= minutes); // a visit never runs longer than its stretch
          const charged = stepsOfSlice({ minutes, n }, price)
            .filter(([from]) => p > from)
            .reduce((sum, [, cost]) => sum + cost, 0);
          expect(charged).toBeCloseTo(price * countOf({ minutes, n }, p), 6);
        },
      ),
    );
  });
  test('what whole quantities can use of a supply: 5 of kits of two is 4', () => {
    expect(reachable([2, 2, 2])(5)).toBe(4);
    expect(reachable([2, 3, 4])(5)).toBe(5);
    expect(reachable([0.5, 2])(1.7)).toBe(1.7);
    expect(reachable([4])(3)).toBe(0);
  });
  test('minutes of the groups of a boat never add up to more than its visit', () => {
    const problem = planProblem(2, 30, 7);
    const model = modelOf(problem);
    const random = seeded(4);
    let looked = 0;
    model.boats.forEach((b, boat) => {
      if (b.tasks.length < 8) return;
      const groups = groupsOf(model, b.tasks, 5);
      expect(groups.flat().sort((x, y) => x - y)).toEqual([...b.tasks].sort((x, y) => x - y));
      for (const g of groups) expect(g.length).toBeLessThanOrEqual(5);
      const part = shared(model, boat, groups);
      for (let k = 0; k < 30; k++) {
        const some = b.tasks.filter(() => random.chance(0.5));
        if (some.length === 0) continue;
        looked++;
        const whole = elapsedOf(model, some, 1.2);
        const apart = groups.reduce((sum, g) => {
          const own = g.filter((i) => some.includes(i));
          return sum + (own.length > 0 ? elapsedOf(part, own, 1.2) : 0);
        }, 0);
        expect(apart).toBeLessThanOrEqual(whole + 1e-9);
      }
    });
    expect(looked).toBeGreaterThan(50);
  });
  test('no prices, however odd, prove more than the cheapest plan costs', () => {
    const problem = planProblem(5, 4, 7);
    const model = modelOf(problem);
    const bound = new Bound(model);
    const random = seeded(9);
    for (let k = 0; k < 200; k++) {
      for (let i = 0; i < bound.prices.length; i++) bound.prices[i] = random.chance(0.3) ? random.next() * 60 : 0;
      // 1447.63 by the exact solver on the whole problem.
      expect(bound.evaluate()).toBeLessThanOrEqual(1447.64);
    }
  });
});

describe('the exact solver on what a cheaper plan could hold', () => {
  const problem = planProblem(4, 4, 7);
  const model = modelOf(problem);
  const bound = new Bound(model);
  for (let k = 0; k < 120; k++) bound.iterate(2100);
  test('holds the optimum: a plan below the goal is found and its cost proven', () => {
    const found = settle(bound, new Draft(model), 2100, solve, { seconds: 20, gap: 1e-6, clock: () => 0 });
    const draft = new Draft(model);
    for (const v of found.visits!) draft.add(v);
    const { cost, faults } = pricePlan(problem, { visits: draft.planned() });
    expect(faults).toEqual([]);
    // 1983.92 by the exact solver on the whole problem.
    expect(cost.total).toBeCloseTo(1983.92, 2);
    expect(found.bound).toBeCloseTo(1983.92, 1);
  });
  test('with the optimum as goal nothing cheaper is left, and less is handed over', () => {
    const few = columnsBelow(bound, new Draft(model), 1983.93)!;
    const many = columnsBelow(bound, new Draft(model), 2100)!;
    expect(few.length).toBeLessThan(many.length);
    expect(settle(bound, new Draft(model), 1983.92, solve, { seconds: 20, gap: 1e-6, clock: () => 0 })).toMatchObject({
      visits: null,
    });
  });
  test('near the prices a plan stands too', () => {
    const visits = planNearPrices(bound, new Draft(model), 2100, solve, { seconds: 20, clock: () => 0 });
    const draft = new Draft(model);
    for (const v of visits ?? []) draft.add(v);
    expect(pricePlan(problem, { visits: draft.planned() }).faults).toEqual([]);
  });
});
