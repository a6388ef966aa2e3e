import { modelOf, Prover, solveWith, type Guide, type PlannedVisit, type PlanProblem } from '@diurna/core/planner';
import loadHighs from 'highs';
import { parentPort, workerData } from 'node:worker_threads';

/** What the search tells the thread: the cost of its best plan. */
export interface ProverGoal {
  goal: number;
}
/** What the thread tells the search. */
export interface ProverSaid {
  bound: number;
  visits?: PlannedVisit[];
  guide?: Guide;
  done: boolean;
}
export interface ProverTask {
  problem: PlanProblem;
  goal: number;
  seconds: number;
  exact: boolean;
}

const port = parentPort!;
const { problem, goal: first, seconds, exact } = workerData as ProverTask;
let goal = first;
port.on('message', (m: ProverGoal) => {
  goal = Math.min(goal, m.goal);
});

const until = performance.now() + seconds * 1000;
const model = modelOf(problem);
const prover = new Prover(model, exact ? solveWith(await loadHighs()) : null, () => performance.now());

/** The search follows the prices, told anew so often. */
const GUIDE_MS = 400;

async function prove(): Promise<void> {
  let told = performance.now();
  while (performance.now() < until) {
    const news = prover.step(goal, (until - performance.now()) / 1000);
    const guiding = performance.now() > told + GUIDE_MS;
    if (guiding) told = performance.now();
    if (news)
      port.postMessage({ ...news, done: prover.done, ...(guiding && { guide: prover.guide() }) } satisfies ProverSaid);
    if (prover.done) break;
    // Let the search's messages in; with nothing to do, wait for a better plan.
    await new Promise((resolve) => setTimeout(resolve, news ? 0 : 20));
  }
  port.postMessage({ bound: prover.best, done: true } satisfies ProverSaid);
  port.close();
}
await prove();
