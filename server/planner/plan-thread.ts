import type { BoardReply, PlanLine } from '@diurna/contract/planner';
import type { PlannedVisit, PlanProblem } from '@diurna/core/planner';
import { parentPort, workerData } from 'node:worker_threads';
import { giveWay } from '../give-way.ts';
import { computePlan } from './compute.ts';

/** A plan worked out off the thread that answers requests: of a board as it is sent to people. */
export interface PlanTask {
  /** The board's JSON text: taken apart here, not where people wait. */
  board: string;
  standing: PlannedVisit[];
  pins: PlanProblem['pinned'];
  /** Without regard to what stands. */
  fresh: boolean;
  seconds: number;
}
// The threads this one makes take its place in the queue with them.
giveWay();
const port = parentPort!;
const task = workerData as PlanTask;
const { seconds } = task;
const board = JSON.parse(task.board) as BoardReply;
const known = new Set(board.problem.tasks.map((t) => t.id));
/** Of what a page names, what is still on the board. */
const still = <T extends { tasks: string[] }>(visits: readonly T[]): T[] =>
  visits.map((v) => ({ ...v, tasks: v.tasks.filter((t) => known.has(t)) })).filter((v) => v.tasks.length > 0);
const problem: PlanProblem = { ...board.problem, pinned: still(task.pins) };
const standing = still(task.standing);
const moveCost = task.fresh ? 0 : board.moveCost;
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
