import { api, reads } from '../app/api.ts';

/** What the rooms read and write of day: every route by its name in the contract. */
export const dayApi = api.injectEndpoints({
  endpoints: (b) => ({
    readDay: reads(b, 'readDay', ['Jobs', 'Due', 'Plan', 'Hires', 'Stores', 'Work', 'Condition']),
    ribbon: reads(b, 'ribbon', ['Jobs', 'Due']),
  }),
});
