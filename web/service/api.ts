import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of service: every route by its name in the contract. */
export const serviceApi = api.injectEndpoints({
  endpoints: (b) => ({
    dueList: reads(b, 'dueList', ['Due']),
    outlook: reads(b, 'outlook', ['Due', 'Jobs']),
    listEntries: reads(b, 'listEntries', ['Due', 'Records']),
    readBreakIn: reads(b, 'readBreakIn', ['Due', 'Hours']),
    addBreakIn: writes(b, 'addBreakIn', ['Due', 'Records']),
    putOff: writes(b, 'putOff', ['Due', 'Plan', 'Records']),
    endDeferral: writes(b, 'endDeferral', ['Due', 'Plan', 'Records']),
    addEntries: writes(b, 'addEntries', ['Due', 'Records']),
    cancelEntry: writes(b, 'cancelEntry', ['Due', 'Records']),
  }),
});
