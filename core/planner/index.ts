export * from './problem.ts';
export { asPlan, elapsedMinutes, pricePlan } from './price.ts';
export { modelOf } from './model.ts';
export { Planner, PinsRefused, type PlannerOptions } from './planner.ts';
export { Prover, type ProverNews } from './prover.ts';
export { Bound, type Guide } from './bound.ts';
export { Draft } from './draft.ts';
export { solveWith, type Mip, type MipAnswer, type MipWish, type SolveMip } from './mip.ts';
export {
  Board,
  pinsOf,
  planChanges,
  type Offer,
  type PickedUp,
  type PlanChange,
  type TaskReasons,
  type VisitReasons,
} from './board.ts';
export { type CostChange, type PlanWords, type Relief } from './reasons.ts';
export { hindranceText } from './pins.ts';
export { type Hindrance, type Obstacle } from './stand.ts';
export { planByHand } from './by-hand.ts';
export {
  chancePast,
  fromNow,
  planPartId,
  planTaskId,
  planTaskOf,
  problemOf,
  workOn,
  type PersonException,
  type YardBase,
  type YardBoat,
  type YardFacts,
  type YardPart,
  type YardPerson,
  type YardTask,
} from './build.ts';
export { mergePlans, type PlanConflict } from './merge.ts';
export { whatIf, type WhatIf } from './what-if.ts';
export { dayLine, type DayLine, type LineVisit } from './day-line.ts';
export { slipped, type Slip } from './slips.ts';
export { seeded, type Random } from './random.ts';
