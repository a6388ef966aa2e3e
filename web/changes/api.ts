import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of decisions about cards: every route by its name in the contract. */
export const changesApi = api.injectEndpoints({
  endpoints: (b) => ({
    listChanges: reads(b, 'listChanges', ['Changes']),
    readChange: reads(b, 'readChange', ['Changes']),
    undoChange: writes(b, 'undoChange', ['Changes', 'Plan', 'Jobs', 'Card', 'Due', 'Records', 'Notices']),
  }),
});
