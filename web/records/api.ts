import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of records: every route by its name in the contract. */
export const recordsApi = api.injectEndpoints({
  endpoints: (b) => ({
    audit: reads(b, 'audit', ['Records']),
    listBackground: reads(b, 'listBackground', ['Background']),
    stopBackground: writes(b, 'stopBackground', ['Background', 'Records']),
    repeatBackground: writes(b, 'repeatBackground', ['Background', 'Records']),
    lastDay: reads(b, 'lastDay', [], { keepUnusedDataFor: 0 }),
  }),
});
