export * from './problem.ts';
export { planBackwards } from './plan.ts';
export { campaignProblem, USUAL_COSTS, type CampaignCosts, type WantedVisit } from './build.ts';
