import type { Mip, MipAnswer, PlanProblem, SolveMip } from '@diurna/core/planner';
/**
 * The plan problem as one mixed integer program, straight from its statement and apart from the planner:
 * a binary for task x technician x day x window, one for the visit, opened access and elapsed minutes
 * continuous, the clock order relaxed to interval capacities. Its optimum is never above the cheapest plan's
 * cost, and nearly always equal to it.
 */
export declare function referenceMip(problem: PlanProblem): Mip;
/** The exact solver on the whole problem at once. */
export declare const solveReference: (
  problem: PlanProblem,
  solve: SolveMip,
  seconds: number,
  gap?: number,
) => MipAnswer;
