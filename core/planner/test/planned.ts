import { expect } from '@jest/globals';
import loadHighs from 'highs';
import {
  modelOf,
  Planner,
  pricePlan,
  problemFaults,
  Prover,
  solveWith,
  type Plan,
  type PlanProblem,
} from '../index.ts';
import { cheapestOfAll } from './exhaustive.ts';

export const solve = solveWith(await loadHighs());
// Time stands still: nothing here is stopped by the clock.
export const clock = () => 0;

/** What the search alone finds in so many rounds. */
export function planned(problem: PlanProblem, rounds = 400, options = {}): Plan {
  const planner = new Planner(problem, options);
  planner.start();
  for (let k = 0; k < rounds; k++) planner.improve(1 - k / rounds);
  return planner.plan();
}

/** Search and proof taking turns, until proven. */
export function proven(problem: PlanProblem): Plan {
  const planner = new Planner(problem);
  planner.start();
  const prover = new Prover(modelOf(problem), solve, clock);
  for (let turn = 0; turn < 400 && !prover.done; turn++) {
    for (let k = 0; k < 40; k++) planner.improve(1 - turn / 400);
    const news = prover.step(planner.cost, 20);
    if (news?.visits) planner.adopt(news.visits);
    expect(prover.best).toBeLessThanOrEqual(planner.cost + 1e-6);
  }
  return planner.plan(prover.best);
}

/** The plan is feasible and never below the cheapest of all, its bound never above, and proven only when it is that. */
export function keepsItsWord(problem: PlanProblem): Plan {
  expect(problemFaults(problem)).toEqual([]);
  const best = cheapestOfAll(problem);
  const plan = proven(problem);
  const cost = sound(problem, plan);
  expect(cost).toBeGreaterThanOrEqual(best - 1e-6);
  expect(plan.bound!).toBeLessThanOrEqual(best + 1e-6);
  if (plan.proven) expect(cost).toBeLessThanOrEqual(best * (1 + 1e-3) + 1e-6);
  return plan;
}

/** What a plan costs by the judge, who finds no fault with it and agrees with the search. */
export const sound = (problem: PlanProblem, plan: Plan) => {
  const { cost, faults } = pricePlan(problem, plan);
  expect(faults).toEqual([]);
  expect(plan.cost.total).toBeCloseTo(cost.total, 6);
  return cost.total;
};
