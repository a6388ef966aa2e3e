export * from './problem.ts';
export { planBackwards } from './plan.ts';
export { campaignProblem, type WantedVisit } from './build.ts';
