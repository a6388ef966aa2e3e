import {
  Board,
  modelOf,
  Planner,
  planByHand,
  pricePlan,
  solveWith,
  type Plan,
  type PlanProblem,
} from '@diurna/core/planner';
import { planProblem } from '@diurna/demo/plan-problems';
import { seeded } from '@diurna/demo/random';
import loadHighs from 'highs';
import { linearRegression } from 'simple-statistics';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { percentile, row } from './report.ts';
import { runProblem, type CommandRan } from './command.ts';
import { solveReference } from '../core/planner/test/whole-program.ts';

const root = join(import.meta.dirname, '..');
const SHARED = join(root, '../shared/instances');
const percent = (x: number) => `${(x * 100).toFixed(2)} %`;
const over = (cost: number, bound: number) => (cost - bound) / bound;

type Ran = CommandRan<Plan>;

const run = (file: string, args: string[]): Promise<Ran> => runProblem<Plan>('plan', file, args);

const judged = (problem: PlanProblem, plan: Plan) => {
  const { cost, faults } = pricePlan(problem, plan);
  if (faults.length > 0 || Math.abs(cost.total - plan.cost.total) > 0.01)
    throw new Error(`the evaluator disagrees: ${faults.join('; ')}`);
  return cost.total;
};

/**
 * First plan, cost in time, proof and memory on shipped and seeded problems, beside the exact solver; growth;
 * repricing.
 */
export async function benchPlanner(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-plan-'));
  const solve = solveWith(await loadHighs());
  try {
    const write = (name: string, problem: PlanProblem) => {
      const file = join(folder, `${name}.json`);
      writeFileSync(file, JSON.stringify(problem));
      return { name, file, problem };
    };
    const shipped = (name: string) => {
      const file = join(SHARED, `${name}.json`);
      return existsSync(file) ? [{ name, file, problem: JSON.parse(readFileSync(file, 'utf8')) as PlanProblem }] : [];
    };
    for (const { name, file, problem } of [
      ...shipped('small-8x14'),
      ...shipped('mid-14x21'),
      ...shipped('mid-24x28'),
      write('seed-3-16x21', planProblem(3, 16, 21)),
      write('seed-4-20x28', planProblem(4, 20, 28)),
    ]) {
      const began = performance.now();
      const exact = solveReference(problem, solve, 120);
      const solver = (performance.now() - began) / 1000;
      const best = exact.value ?? Infinity;
      const first = firstPlan(problem);
      const ran = await run(file, ['--exact', '--seconds', '60']);
      const cost = judged(problem, ran.plan);
      const early = judged(problem, (await run(file, ['--seconds', '2'])).plan);
      row(
        `${name}, ${problem.tasks.length} tasks: first plan`,
        `${(first * 1000).toFixed(0)} ms`,
        'under 300 ms',
        first < 0.3,
        `${(first / solver).toFixed(4)} x the exact solver’s ${solver.toFixed(1)} s; with the start of the command ${ran.steps[0]!.seconds.toFixed(2)} s`,
      );
      row(
        `${name}: after 2 s`,
        percent(over(early, exact.bound)),
        name.startsWith('small') ? 'optimum if proven' : 'within 0.5 %',
        over(early, exact.bound) <= (name.startsWith('small') ? 0.01 : 0.005),
        `over the solver’s bound ${exact.bound.toFixed(2)}, best ${best.toFixed(2)}`,
      );
      row(
        `${name}: proven`,
        `${ran.seconds.toFixed(1)} s`,
        'in 60 s',
        ran.plan.proven,
        `${(ran.seconds / solver).toFixed(2)} x the exact solver; cost ${(cost / best).toFixed(5)} x its best`,
      );
      row(
        `${name}: the rule used by hand`,
        `${(pricePlan(problem, { visits: planByHand(problem) }).cost.total / cost).toFixed(2)} x`,
        'dearer than ours',
        true,
        `earliest due first into the nearest gap, against our plan of ${cost.toFixed(2)}`,
      );
    }
    for (const { name, file, problem } of [...shipped('fleet-48x42'), write('seed-5-48x42', planProblem(5, 48, 42))]) {
      const began = performance.now();
      const exact = solveReference(problem, solve, 100);
      const solver = (performance.now() - began) / 1000;
      const first = firstPlan(problem);
      const ran = await run(file, ['--exact', '--seconds', '120']);
      judged(problem, ran.plan);
      const bound = Math.max(exact.bound, ran.plan.bound ?? 0);
      const early = judged(problem, (await run(file, ['--seconds', '5'])).plan);
      row(
        `${name}, ${problem.tasks.length} tasks: first plan`,
        `${(first * 1000).toFixed(0)} ms`,
        'under 500 ms',
        first < 0.5,
        `${(first / solver).toFixed(4)} x the exact solver’s ${solver.toFixed(0)} s`,
      );
      row(
        `${name}: after 5 s`,
        percent(over(early, bound)),
        'within 1 %',
        over(early, bound) <= 0.01,
        `over the best bound ${bound.toFixed(2)}; the exact solver had ${exact.value === null ? 'no plan' : percent(over(exact.value, bound))} after ${solver.toFixed(0)} s`,
      );
      row(
        `${name}: own bound`,
        percent(over(ran.plan.cost.total, ran.plan.bound ?? 0)),
        'within 1 %',
        over(ran.plan.cost.total, ran.plan.bound ?? 0) <= 0.01,
        `own bound ${ran.plan.bound?.toFixed(2)} after ${ran.seconds.toFixed(0)} s, ${((ran.plan.bound ?? 0) / exact.bound).toFixed(5)} x the solver’s ${exact.bound.toFixed(2)}; proven: ${ran.plan.proven ? 'yes' : 'no'}`,
      );
      row(
        `${name}: the rule used by hand`,
        `${(pricePlan(problem, { visits: planByHand(problem) }).cost.total / ran.plan.cost.total).toFixed(2)} x`,
        'dearer than ours',
        true,
        `our plan ${ran.plan.cost.total.toFixed(2)}`,
      );
    }
    for (const { name, file, problem, seconds, first, within, known } of [
      ...shipped('region-400x42').map((x) => ({ ...x, seconds: 60, first: 3, within: 0.04, known: 136796.867 })),
      { ...write('seed-1-1500x56', planProblem(1, 1500, 56)), seconds: 180, first: 15, within: 0.05, known: null },
    ]) {
      const ran = await run(file, ['--seconds', String(seconds)]);
      judged(problem, ran.plan);
      const bound = Math.max(known ?? 0, ran.plan.bound ?? 0);
      row(
        `${name}, ${problem.tasks.length} tasks: first plan`,
        `${ran.steps[0]!.seconds.toFixed(2)} s`,
        `under ${first} s`,
        ran.steps[0]!.seconds < first,
        `${(ran.steps[0]!.cost / bound).toFixed(2)} x the bound; start of the command included`,
      );
      row(
        `${name}: after ${seconds} s`,
        percent(over(ran.plan.cost.total, bound)),
        `within ${within * 100} %`,
        over(ran.plan.cost.total, bound) <= within,
        `over ${known ? `the higher of the LP relaxation, ${known.toFixed(0)}, and ` : ''}the own bound, ${(ran.plan.bound ?? 0).toFixed(0)}${known ? ` (${((ran.plan.bound ?? 0) / known).toFixed(4)} x)` : ''}; by hand ${(pricePlan(problem, { visits: planByHand(problem) }).cost.total / ran.plan.cost.total).toFixed(2)} x`,
      );
      row(
        `${name}: peak memory`,
        `${ran.megabytes} MB`,
        'under 1500 MB',
        ran.megabytes < 1500,
        `both threads; ${((ran.megabytes * 1000) / problem.tasks.length).toFixed(0)} kB a task`,
      );
    }
    growth();
    repricing(planProblem(5, 48, 42));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function firstPlan(problem: PlanProblem): number {
  const began = performance.now();
  new Planner(problem).start();
  return (performance.now() - began) / 1000;
}

/** Time for a first plan and as many rounds a boat, over five sizes. */
function growth(): void {
  const ROUNDS_PER_BOAT = 10;
  const points: [number, number][] = [];
  const said: string[] = [];
  for (const boats of [100, 200, 400, 800, 1600]) {
    const problem = planProblem(9, boats, 42);
    const began = performance.now();
    const planner = new Planner(problem);
    planner.start();
    for (let k = 0; k < boats * ROUNDS_PER_BOAT; k++) planner.improve(1 - k / (boats * ROUNDS_PER_BOAT));
    const seconds = (performance.now() - began) / 1000;
    points.push([Math.log(problem.tasks.length), Math.log(seconds)]);
    said.push(`${problem.tasks.length}: ${seconds.toFixed(1)} s`);
  }
  const { m } = linearRegression(points);
  row(
    'growth of time with tasks, five sizes',
    `power ${m.toFixed(2)}`,
    'near 1',
    m < 1.25,
    `first plan and ${ROUNDS_PER_BOAT} rounds a boat; ${said.join(', ')}`,
  );
}

/** What one move costs to price, and all moves of one visit over six weeks. */
function repricing(problem: PlanProblem): void {
  const planner = new Planner(problem);
  planner.start();
  for (let k = 0; k < 4000; k++) planner.improve(1 - k / 4000);
  const visits = planner.visits();
  const board = new Board(problem, visits);
  const random = seeded(3);
  let said = 0;
  const one: number[] = [];
  const all: number[] = [];
  for (let k = 0; k < 60; k++) {
    const v = random.pick(visits);
    const picked = { boat: v.boat, from: { day: v.day }, tasks: v.tasks };
    const began = performance.now();
    const offers = board.offers(picked);
    all.push(performance.now() - began);
    const able = offers.filter((o) => o.change !== null && o.day !== v.day && !o.joins);
    if (able.length === 0) continue;
    const to = random.pick(able);
    const start = performance.now();
    board.move(picked, to.day, to.technician);
    said += board.total;
    one.push(performance.now() - start);
    board.move({ boat: v.boat, from: { day: to.day }, tasks: v.tasks }, v.day, v.technician);
  }
  if (!Number.isFinite(said)) throw new Error('no price');
  const started = performance.now();
  for (let k = 0; k < 20; k++) new Board(problem, visits).cost();
  const whole = (performance.now() - started) / 20;
  row(
    `one move of ${visits.length} visits priced anew, p95`,
    `${percentile(one, 0.95).toFixed(2)} ms`,
    'under 5 ms',
    percentile(one, 0.95) < 5,
    `${(percentile(one, 0.95) / whole).toFixed(3)} x pricing the whole plan from nothing (${whole.toFixed(1)} ms)`,
  );
  row(
    'all places of one visit over six weeks, p95',
    `${percentile(all, 0.95).toFixed(1)} ms`,
    'under 100 ms',
    percentile(all, 0.95) < 100,
    `${modelOf(problem).techs.length} people x ${problem.days} days; ${(percentile(all, 0.95) / whole).toFixed(2)} x pricing the whole plan`,
  );
}
