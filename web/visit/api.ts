import { ANSWER_MS, api, PICTURE_MS, reads, writes } from '../app/api.ts';

/** What the rooms read and write of visit: every route by its name in the contract. */
export const visitApi = api.injectEndpoints({
  endpoints: (b) => ({
    sendPicture: writes(b, 'sendPicture', [], { limitMs: PICTURE_MS }),
    keepEntries: writes(
      b,
      'keepEntries',
      (reply, _error, { id, entries }) =>
        reply &&
        entries.some(
          (e) =>
            e.act.kind === 'read' ||
            e.act.kind === 'decide' ||
            e.act.kind === 'undecide' ||
            e.act.kind === 'settle' ||
            e.act.kind === 'task',
        )
          ? [{ type: 'Card', id }]
          : [],
      { limitMs: ANSWER_MS },
    ),
    handOver: writes(b, 'handOver', ['Jobs', 'Card', 'Progress', 'Due', 'Records', 'Notices']),
    listTemplates: reads(b, 'listTemplates', ['Templates']),
    templateVersions: reads(b, 'templateVersions', ['Templates']),
    editTemplate: writes(b, 'editTemplate', ['Templates', 'Records']),
    listStepPictures: reads(b, 'listStepPictures', ['Templates']),
    addStepPicture: writes(b, 'addStepPicture', ['Templates', 'Records'], { limitMs: PICTURE_MS }),
    dropStepPicture: writes(b, 'dropStepPicture', ['Templates', 'Records']),
    minutes: reads(b, 'minutes', ['Jobs', 'Work']),
  }),
});
