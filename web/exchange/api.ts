import { api, writes, WORKED } from '../app/api.ts';

/** What the rooms read and write of exchange: every route by its name in the contract. */
export const exchangeApi = api.injectEndpoints({
  endpoints: (b) => ({ previewImport: writes(b, 'previewImport', []), importFile: writes(b, 'importFile', WORKED) }),
});
