export * from './problem.ts';
export { asPlan, elapsedMinutes, pricePlan } from './price.ts';
export { modelOf } from './model.ts';
export { Planner, PinsRefused, type PlannerOptions } from './planner.ts';
export { Prover, type ProverNews } from './prover.ts';
export { Bound } from './bound.ts';
export { Draft } from './draft.ts';
export { solveWith, type Mip, type MipAnswer, type MipWish, type SolveMip } from './mip.ts';
