import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of findings: every route by its name in the contract. */
export const findingsApi = api.injectEndpoints({
  endpoints: (b) => ({
    engineCondition: reads(b, 'engineCondition', ['Condition']),
    listHolds: reads(b, 'listHolds', ['Condition']),
    putHold: writes(b, 'putHold', ['Condition', 'Hires', 'Card', 'Plan', 'Records']),
    releaseHold: writes(b, 'releaseHold', ['Condition', 'Hires', 'Card', 'Plan', 'Records']),
    callOffFollowUp: writes(b, 'callOffFollowUp', ['Condition', 'Due', 'Card', 'Records']),
    snagCauses: reads(b, 'snagCauses', ['Snags', 'Condition', 'Due']),
    listWaste: reads(b, 'listWaste', ['Waste']),
    takeWasteAway: writes(b, 'takeWasteAway', ['Waste', 'Records']),
  }),
});
