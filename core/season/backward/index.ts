export * from './problem.ts';
export { planBackwards, type BackwardPlan } from './plan.ts';
