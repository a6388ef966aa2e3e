import { api, PICTURE_MS, reads, writes, writesKept } from '../app/api.ts';

/** What the rooms read and write of snags: every route by its name in the contract. */
export const snagsApi = api.injectEndpoints({
  endpoints: (b) => ({
    listSnags: reads(b, 'listSnags', ['Snags']),
    addSnag: writesKept(b, 'addSnag', ['Snags', 'Records'], PICTURE_MS),
    closeSnag: writes(b, 'closeSnag', ['Snags', 'Records']),
  }),
});
