import { api, reads, writes, writesKept, HIRED } from '../app/api.ts';

/** What the rooms read and write of hires: every route by its name in the contract. */
export const hiresApi = api.injectEndpoints({
  endpoints: (b) => ({
    listHires: reads(b, 'listHires', ['Hires']),
    addHire: writes(b, 'addHire', HIRED),
    editHire: writes(b, 'editHire', HIRED),
    cancelHire: writes(b, 'cancelHire', HIRED),
    previewCalendar: writes(b, 'previewCalendar', []),
    importCalendar: writes(b, 'importCalendar', HIRED),
    listFeeds: reads(b, 'listFeeds', ['Hires']),
    addFeed: writes(b, 'addFeed', ['Hires', 'Records']),
    editFeed: writes(b, 'editFeed', ['Hires', 'Records']),
    readFeed: writes(b, 'readFeed', HIRED),
    giveHire: writes(b, 'giveHire', [...HIRED, 'Plan', 'Notices']),
    letGo: writesKept(b, 'letGo', ['Hires', 'Plan', 'Records']),
    comeBack: writesKept(b, 'comeBack', ['Hires', 'Records']),
  }),
});
