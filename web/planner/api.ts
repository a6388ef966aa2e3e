import { SHIFTED, api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of planner: every route by its name in the contract. */
export const plannerApi = api.injectEndpoints({
  endpoints: (b) => ({
    editPlanSettings: writes(b, 'editPlanSettings', [...SHIFTED, 'People']),
    readBoard: reads(b, 'readBoard', ['Plan']),
    lookAtPlan: reads(b, 'lookAtPlan', ['Plan', 'Jobs']),
    acceptPlan: writes(b, 'acceptPlan', (reply) =>
      reply ? ['Plan', 'Jobs', 'Due', 'Records', 'Notices', 'Changes'] : [],
    ),
  }),
});
