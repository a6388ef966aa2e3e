import { describe, expect, test } from '@jest/globals';
import { planProblem } from '@diurna/demo/plan-problems';
import fc from 'fast-check';
import {
  modelOf,
  planByHand,
  planChanges,
  Planner,
  pricePlan,
  problemFaults,
  Prover,
  type PlanProblem,
} from './index.ts';
import { clock, keepsItsWord, planned, proven, solve, sound } from './test/planned.ts';
import { smallProblem } from './test/small-problem.ts';
import { solveReference } from './test/whole-program.ts';

describe('against trying everything', () => {
  // Tiny, so that every plan there is can be tried: two days, two people, up to four tasks on two boats.
  const tiny = fc
    .record({
      hands: fc.array(fc.integer({ min: 20, max: 200 }), { minLength: 1, maxLength: 4 }),
      waits: fc.array(fc.constantFrom(0, 0, 30), { minLength: 4, maxLength: 4 }),
      costs: fc.array(
        fc.oneof(
          { weight: 6, arbitrary: fc.integer({ min: 0, max: 120 }) },
          { weight: 1, arbitrary: fc.constant(null) },
        ),
        { minLength: 8, maxLength: 8 },
      ),
      skips: fc.array(fc.integer({ min: 10, max: 260 }), { minLength: 4, maxLength: 4 }),
      lift: fc.boolean(),
      skill: fc.boolean(),
      supply: fc.integer({ min: 0, max: 3 }),
      overtime: fc.constantFrom(0, 60),
      pace: fc.constantFrom(1, 1.25),
    })
    .map(({ hands, waits, costs, skips, lift, skill, supply, overtime, pace }) =>
      smallProblem({
        lifts: [1, 0],
        technicians: [
          {
            id: 'ines',
            skills: ['lower unit'],
            overtime: [overtime, 0],
            shift: [
              { from: 480, to: 700 },
              { from: 480, to: 760 },
            ],
          },
          { id: 'reva', pace, shift: [{ from: 480, to: 640 }, null] },
        ],
        boats: [
          {
            id: 'tern',
            free: [
              [
                { from: 420, to: 620, idleCost: 0 },
                { from: 640, to: 900, idleCost: 15 },
              ],
              [{ from: 600, to: 900, idleCost: 0 }],
            ],
          },
          { id: 'skua', free: [[{ from: 500, to: 800, idleCost: 0 }], []] },
        ],
        tasks: hands.map((h, i) => ({
          id: `t${i}`,
          boat: i % 2 === 0 ? 'tern' : 'skua',
          handsOn: h,
          wait: waits[i]!,
          access: i < 2 ? ['cowl'] : ['tilt', 'cowl'],
          skills: skill && i === 0 ? ['lower unit'] : [],
          needsLift: lift && i < 2,
          dayCost: [costs[2 * i]!, costs[2 * i + 1]!],
          skipCost: skips[i]!,
          parts: i % 2 === 0 ? { kit: 1 } : {},
        })),
        parts: [{ id: 'kit', supply: [Math.min(1, supply), Math.max(0, supply - 1)] }],
      }),
    );
  test('feasible, never below the cheapest of all, and the cheapest of all when it says so', () => {
    fc.assert(
      fc.property(tiny, (problem) => {
        keepsItsWord(problem);
      }),
      { numRuns: 40, seed: 4 },
    );
  });
});

describe('against the exact solver on the whole problem at once', () => {
  test.each([
    // Larger ones take the whole program half a minute: `npm run bench -- planner` has them.
    [2, 5, 8],
    [4, 4, 7],
    [5, 4, 7],
    [7, 6, 7],
  ] as const)(
    'seed %i: %i boats, %i days',
    (seed, boats, days) => {
      const problem = planProblem(seed, boats, days);
      const exact = solveReference(problem, solve, 40);
      const plan = proven(problem);
      const cost = sound(problem, plan);
      expect(plan.proven).toBe(true);
      // The reference relaxes the order within a day: its optimum may lie below, never above.
      expect(cost).toBeGreaterThanOrEqual(exact.bound - 1e-4);
      expect(plan.bound!).toBeLessThanOrEqual(cost + 1e-6);
      expect(Math.abs(cost - exact.value!) / cost).toBeLessThan(2e-3);
      expect(pricePlan(problem, { visits: planByHand(problem) }).faults).toEqual([]);
      expect(pricePlan(problem, { visits: planByHand(problem) }).cost.total).toBeGreaterThanOrEqual(cost - 1e-6);
    },
    120_000,
  );
  test('a bound of boats cut into groups never lies above the optimum', () => {
    const problem = planProblem(3, 16, 21);
    const planner = new Planner(problem);
    planner.start();
    const prover = new Prover(modelOf(problem), null, clock);
    for (let k = 0; k < 15; k++) prover.step(planner.cost, 1);
    // 6654.640 by the exact solver on the whole problem (bench, 30 s).
    expect(prover.best).toBeLessThanOrEqual(6654.65);
    expect(prover.best).toBeGreaterThan(6000);
  });
});

describe('the search', () => {
  test('the same problem, seed and rounds give the same plan', () => {
    const problem = planProblem(5, 12, 14);
    expect(planned(problem, 300, { seed: 7 })).toEqual(planned(problem, 300, { seed: 7 }));
  });
  test('every plan on the way stands', () => {
    const problem = planProblem(6, 20, 21);
    const planner = new Planner(problem);
    planner.start();
    let last = Infinity;
    for (let k = 0; k < 500; k++) {
      planner.improve(1 - k / 500);
      if (k % 50 === 0) {
        const cost = sound(problem, planner.plan());
        expect(cost).toBeLessThanOrEqual(last + 1e-6);
        last = cost;
      }
    }
  });
  test('a plan that stands is changed less when moves cost', () => {
    const problem = planProblem(8, 20, 21);
    const old = planned(problem, 300).visits;
    // Somebody falls ill for a week.
    const ill: PlanProblem = {
      ...problem,
      technicians: problem.technicians.map((t, i) =>
        i === 0 ? { ...t, shift: t.shift.map((s, d) => (d < 7 ? null : s)) } : t,
      ),
    };
    const freely = planChanges(old, planned(ill, 600, { standing: old, moveCost: 0 }).visits).length;
    const dearly = planned(ill, 600, { standing: old, moveCost: 60 });
    sound(ill, dearly);
    expect(planChanges(old, dearly.visits).length).toBeLessThan(freely);
  });
});

describe('single rules', () => {
  const tasks = [{ id: 'oil', boat: 'tern' }];
  test('an empty problem has an empty plan that costs nothing', () => {
    const plan = planned(smallProblem({ boats: [], technicians: [] }));
    expect(plan).toMatchObject({ visits: [], unplanned: [], cost: { total: 0 } });
  });
  test('null days are kept, the cheaper day is taken', () => {
    expect(planned(smallProblem({ tasks: [{ ...tasks[0]!, dayCost: [null, 5] }] })).visits).toMatchObject([{ day: 1 }]);
    expect(planned(smallProblem({ tasks: [{ ...tasks[0]!, dayCost: [9, 5] }] })).visits).toMatchObject([{ day: 1 }]);
  });
  test('a part that arrives on the second day makes the second day', () => {
    const plan = planned(
      smallProblem({ tasks: [{ ...tasks[0]!, parts: { kit: 1 } }], parts: [{ id: 'kit', supply: [0, 1] }] }),
    );
    expect(plan.visits).toMatchObject([{ day: 1 }]);
  });
  test('use of a later day never eats what an earlier one needs', () => {
    const problem = smallProblem({
      boats: [{ id: 'tern' }, { id: 'skua' }],
      tasks: [
        { id: 'a', boat: 'tern', parts: { kit: 1 }, dayCost: [0, null] },
        { id: 'b', boat: 'skua', parts: { kit: 1 }, dayCost: [null, 0], skipCost: 90 },
      ],
      parts: [{ id: 'kit', supply: [1, 0] }],
    });
    const plan = planned(problem);
    expect(plan.visits.map((v) => v.tasks)).toEqual([['a']]);
  });
  test('people work at the base where they are that day', () => {
    const plan = planned(smallProblem({ technicians: [{ id: 'pell', base: ['mole', 'quay'] }], tasks }));
    expect(plan.visits).toMatchObject([{ day: 1, technician: 'pell' }]);
  });
  test('pace stretches work, not draining nor what the engine runs: 1.5 x (15 + 6 + 28) + 6 + 20 = 99.5 minutes', () => {
    const plan = planned(
      smallProblem({ technicians: [{ id: 'reva', pace: 1.5 }], tasks: [{ ...tasks[0]!, wait: 20 }] }),
    );
    expect(plan.visits[0]!.elapsed).toBeCloseTo(99.5, 9);
    // A problem that does not say what runs reads as it always did: 1.5 x (15 + 10 + 30) + 20.
    const problem = smallProblem({ technicians: [{ id: 'reva', pace: 1.5 }], tasks: [{ ...tasks[0]!, wait: 20 }] });
    const plain = {
      ...problem,
      engines: problem.engines.map(({ running: _, ...e }) => e),
      tasks: problem.tasks.map(({ running: _, ...t }) => t),
    };
    expect(planned(plain).visits[0]!.elapsed).toBeCloseTo(102.5, 9);
    expect(
      problemFaults({ ...problem, engines: problem.engines.map((e) => ({ ...e, running: { cowl: 11 } })) }),
    ).toEqual([expect.objectContaining({ path: 'engines[0].running.cowl' })]);
  });
  test('access is opened once for both tasks: 15 + 10 + 30 + 30 = 85 minutes', () => {
    const plan = planned(
      smallProblem({
        tasks: [
          { id: 'oil', boat: 'tern' },
          { id: 'plugs', boat: 'tern' },
        ],
      }),
    );
    expect(plan.visits).toMatchObject([{ elapsed: 85, tasks: ['oil', 'plugs'] }]);
    expect(plan.cost.labour).toBeCloseTo(85, 9);
  });
  test('one lift turn a day takes one boat a day', () => {
    const plan = planned(
      smallProblem({
        boats: [{ id: 'tern' }, { id: 'skua' }],
        tasks: [
          { id: 'a', boat: 'tern', needsLift: true },
          { id: 'b', boat: 'skua', needsLift: true },
        ],
      }),
    );
    expect(plan.visits.map((v) => v.day).sort((a, b) => a - b)).toEqual([0, 1]);
  });
  test('overtime is paid above the hour: 40 minutes past the shift at half as much again', () => {
    const problem = smallProblem({
      days: 1,
      technicians: [{ id: 'ines', shift: [{ from: 480, to: 560 }], overtime: [60] }],
      tasks: [{ ...tasks[0]!, handsOn: 95 }],
    });
    const plan = planned(problem);
    expect(plan.cost).toMatchObject({ labour: 120, overtime: 20 });
  });
  test('windows: a visit lies in one gap, and the cheaper gap is taken', () => {
    const free = [
      [
        { from: 420, to: 520, idleCost: 0 },
        { from: 600, to: 900, idleCost: 30 },
      ],
      [],
    ];
    expect(
      planned(smallProblem({ boats: [{ id: 'tern', free }], tasks: [{ ...tasks[0]!, handsOn: 60 }] })).visits,
    ).toMatchObject([{ day: 0, start: 600 }]);
  });
});
