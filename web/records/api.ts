import { api, reads } from '../app/api.ts';

/** What the rooms read and write of records: every route by its name in the contract. */
export const recordsApi = api.injectEndpoints({ endpoints: (b) => ({ audit: reads(b, 'audit', ['Records']) }) });
