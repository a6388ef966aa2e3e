import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of snags: every route by its name in the contract. */
export const snagsApi = api.injectEndpoints({
  endpoints: (b) => ({
    listSnags: reads(b, 'listSnags', ['Snags']),
    addSnag: writes(b, 'addSnag', ['Snags', 'Records']),
    closeSnag: writes(b, 'closeSnag', ['Snags', 'Records']),
  }),
});
