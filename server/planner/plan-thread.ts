import type { PlanLine } from '@diurna/contract/planner';
import type { PlannedVisit, PlanProblem } from '@diurna/core/planner';
import { parentPort, workerData } from 'node:worker_threads';
import { computePlan } from './compute.ts';

/** A plan worked out off the thread that answers requests. */
export interface PlanTask {
  problem: PlanProblem;
  standing: PlannedVisit[];
  moveCost: number;
  seconds: number;
}
const port = parentPort!;
const { problem, standing, moveCost, seconds } = workerData as PlanTask;
const send = (m: PlanLine) => {
  port.postMessage(m);
};
try {
  const plan = await computePlan(problem, {
    seconds,
    exact: false,
    standing,
    moveCost,
    threadFile: new URL('./prover.js', import.meta.url),
    progress: ({ cost, bound, seconds: at }) => {
      send({ say: 'progress', cost, bound, seconds: at });
    },
    better: (visits, cost) => {
      send({ say: 'plan', visits, cost, bound: null });
    },
  });
  send({ say: 'plan', visits: plan.visits, cost: plan.cost.total, bound: plan.bound });
} catch (error) {
  if (!(error instanceof Error) || !('faults' in error)) throw error;
  send({ say: 'pins', faults: (error.faults as { text: string }[]).map((f) => f.text) });
}
port.close();
