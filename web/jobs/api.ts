import { withKept } from '../app/offline.ts';
import { withShelf, withWorks } from './older-card.ts';
import { ANSWER_MS, api, reads, writes, WORKED } from '../app/api.ts';

/** What the rooms read and write of jobs: every route by its name in the contract. */
export const jobsApi = api.injectEndpoints({
  endpoints: (b) => ({
    listJobs: reads(b, 'listJobs', ['Jobs', 'Progress'], {
      whole: (page) => ({ ...page, rows: page.rows.map(withWorks) }),
    }),
    readJob: reads(b, 'readJob', (_reply, _error, id) => ['Jobs', 'Stores', { type: 'Card', id }], {
      merge: withKept,
      whole: (card) => withShelf(withWorks(card)),
    }),
    previewJob: reads(b, 'previewJob', ['Stores']),
    addJob: writes(b, 'addJob', ['Jobs', 'Due', 'Records', 'Changes']),
    lookAtSeveral: reads(b, 'lookAtSeveral', ['Jobs', 'Stores', 'Work', 'Hires']),
    decideSeveral: writes(b, 'decideSeveral', ['Jobs', 'Due', 'Records', 'Changes']),
    editJob: writes(b, 'editJob', ['Jobs', 'Due', 'Records', 'Changes']),
    cancelJob: writes(b, 'cancelJob', ['Jobs', 'Due', 'Records', 'Changes']),
    addCardTasks: writes(b, 'addCardTasks', ['Jobs', 'Due', 'Records']),
    finishJob: writes(b, 'finishJob', WORKED, { limitMs: ANSWER_MS }),
    undoJob: writes(b, 'undoJob', WORKED),
  }),
});
