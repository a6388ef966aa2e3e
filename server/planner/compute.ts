import {
  Planner,
  PROVEN,
  type Plan,
  type PlannedVisit,
  type PlanProblem,
  type PlannerOptions,
} from '@diurna/core/planner';
import { Worker } from 'node:worker_threads';
import type { ProverSaid, ProverTask } from './prover-thread.ts';

export interface ComputeOptions extends PlannerOptions {
  /** Wall time from now; Infinity = until proven or as good as it gets. */
  seconds: number;
  /** Rounds instead of time: the same plan on any machine. No thread, no exact solver unless `exact`. */
  rounds?: number | undefined;
  /** Prove it where that can be done. */
  exact: boolean;
  /** File of the prover's thread. */
  threadFile: URL;
  progress?: ((now: Progress) => void) | undefined;
  /** Hears of the first plan, and of better ones every second. */
  better?: ((visits: PlannedVisit[], cost: number) => void) | undefined;
  signal?: AbortSignal | undefined;
}

export interface Progress {
  cost: number;
  bound: number | null;
  rounds: number;
  seconds: number;
}

/** One cooling of the search by itself, when no time is set; later ones are longer. */
const FIRST_COOLING_SECONDS = 1;
const SLICE_MS = 25;
const PROGRESS_MS = 250;
const BETTER_MS = 1000;
/** Problems of more tasks are searched by one cooling over all the time there is. */
const LARGE = 400;
/** Rounds of prices for each round of the search when both are counted. */
const ROUNDS_PER_PRICE = 20;

const near = (cost: number, bound: number | null) => bound !== null && cost - bound <= PROVEN * Math.max(1e-9, cost);

/** Plans on this thread and proves on another, until time is up, the plan is proven, or somebody calls it off. */
export async function computePlan(problem: PlanProblem, options: ComputeOptions): Promise<Plan> {
  const began = performance.now();
  const elapsed = () => (performance.now() - began) / 1000;
  const planner = new Planner(problem, options);
  planner.start();
  const proof: { bound: number | null; done: boolean; broken: unknown } = { bound: null, done: false, broken: null };
  const tell = () =>
    options.progress?.({ cost: planner.cost, bound: proof.bound, rounds: planner.rounds, seconds: elapsed() });
  tell();
  options.better?.(planner.visits(), planner.cost);
  if (options.rounds !== undefined) return computeByRounds(planner, problem, options.rounds, options.exact, tell);
  // Reasons take their time at the end.
  const reasonsAt = performance.now();
  planner.plan();
  const reserve = Math.min(options.seconds / 3, ((performance.now() - reasonsAt) / 1000) * 1.3 + 0.02);
  const budget = options.seconds - reserve - elapsed();
  if (budget <= 0 || problem.tasks.length === 0) return planner.plan(problem.tasks.length === 0 ? 0 : null);

  const task: ProverTask = {
    problem,
    goal: planner.cost,
    seconds: Number.isFinite(budget) ? budget : 36_000,
    exact: true,
  };
  const thread = new Worker(options.threadFile, { workerData: task });
  thread.on('message', (m: ProverSaid) => {
    if (m.bound > -Infinity) proof.bound = Math.max(proof.bound ?? -Infinity, m.bound);
    if (m.visits) planner.adopt(m.visits);
    if (m.guide) planner.follow(m.guide);
    proof.done = m.done;
  });
  thread.on('error', (error) => {
    proof.broken = error;
    proof.done = true;
  });
  let cooling =
    Number.isFinite(budget) && (budget <= 5 || problem.tasks.length > LARGE)
      ? budget
      : Math.min(budget, FIRST_COOLING_SECONDS);
  const searchBegan = performance.now();
  let from = 0;
  let told = 0;
  let sent = Infinity;
  let shown = planner.cost;
  let shownAt = 0;
  for (;;) {
    const at = (performance.now() - searchBegan) / 1000;
    if (at >= budget || options.signal?.aborted || near(planner.cost, proof.bound)) break;
    // Without an end of time: when the prover has nothing more to say, one long cooling more is enough.
    if (!Number.isFinite(options.seconds) && proof.done && at - from >= cooling) break;
    if (at - from >= cooling) {
      from = at;
      cooling = Math.min(cooling * 2, Math.max(0.5, budget - at));
      planner.again();
    }
    const until = performance.now() + SLICE_MS;
    while (performance.now() < until)
      planner.improve(Math.max(0, 1 - ((performance.now() - searchBegan) / 1000 - from) / cooling));
    if (planner.cost < sent - 1e-9) thread.postMessage({ goal: (sent = planner.cost) });
    if (performance.now() - told > PROGRESS_MS) {
      told = performance.now();
      tell();
      if (options.better && planner.cost < shown - 1e-6 && told - shownAt > BETTER_MS) {
        shownAt = told;
        options.better(planner.visits(), (shown = planner.cost));
      }
    }
    await new Promise(setImmediate);
  }
  await thread.terminate();
  if (proof.broken !== null) throw proof.broken instanceof Error ? proof.broken : new Error('the prover stopped');
  tell();
  return planner.plan(proof.bound === null ? null : Math.min(proof.bound, planner.cost));
}

async function computeByRounds(
  planner: Planner,
  problem: PlanProblem,
  rounds: number,
  exact: boolean,
  tell: () => void,
): Promise<Plan> {
  for (let k = 0; k < rounds; k++) planner.improve(1 - k / rounds);
  planner.again();
  if (problem.tasks.length === 0) return planner.plan(0);
  const { modelOf, Prover, solveWith } = await import('@diurna/core/planner');
  const model = modelOf(problem);
  const solve = exact ? solveWith(await (await import('highs')).default()) : null;
  const prover = new Prover(model, solve, () => performance.now());
  for (let k = 0; k < rounds / ROUNDS_PER_PRICE && !prover.done; k++) {
    const news = prover.step(planner.cost, 3600);
    if (news?.visits) planner.adopt(news.visits);
    if (!news) break;
  }
  tell();
  return planner.plan(prover.best === -Infinity ? null : Math.min(prover.best, planner.cost));
}
