import { api, reads } from '../app/api.ts';

/** What the rooms read of a book that begins: every route by its name in the contract. */
export const firstDayApi = api.injectEndpoints({
  endpoints: (b) => ({ firstDay: reads(b, 'firstDay', ['Fleet', 'People', 'Hours', 'Hires', 'Stores', 'Work']) }),
});
