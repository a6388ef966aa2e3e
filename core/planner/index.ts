export * from './problem/problem.ts';
export { breakOn, freePause, pausesOf } from './problem/pauses.ts';
export { asPlan, elapsedMinutes, pricePlan } from './problem/price.ts';
export { modelOf } from './problem/model.ts';
export { Planner, PinsRefused, type PlannerOptions } from './search/planner.ts';
export { Prover, type ProverNews } from './bound/prover.ts';
export { Bound, type Guide } from './bound/bound.ts';
export { Draft } from './search/draft.ts';
export { solveWith, type Mip, type MipAnswer, type MipWish, type SolveMip } from './bound/mip.ts';
export {
  Board,
  pinsOf,
  planChanges,
  type Offer,
  type PickedUp,
  type PlanChange,
  type TaskReasons,
  type VisitReasons,
} from './explain/board.ts';
export { type CostChange, type PlanWords, type Relief } from './explain/reasons.ts';
export { hindrancesText } from './search/pins.ts';
export { type Hindrance, type Obstacle } from './search/stand.ts';
export { planByHand } from './search/by-hand.ts';
export {
  chancePast,
  fromNow,
  planPartId,
  planTaskId,
  planTaskOf,
  factsOfBoats,
  problemOf,
  restOn,
  workOn,
  type PersonException,
  type YardBase,
  type YardBoat,
  type YardFacts,
  type YardPart,
  type YardPerson,
  type YardTask,
} from './problem/build.ts';
export { wordsIn } from './explain/words.ts';
export { mergePlans, type PlanConflict } from './explain/merge.ts';
export { whatIf, type WhatIf } from './explain/what-if.ts';
export { dayLine, type DayLine, type LineVisit } from './explain/day-line.ts';
export { plainVisit, slipped, type Slip } from './explain/slips.ts';
export { coupled, keysOf } from './problem/coupled.ts';
