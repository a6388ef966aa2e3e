import { api, reads, writes, RULED } from '../app/api.ts';

/** What the rooms read and write of rules: every route by its name in the contract. */
export const rulesApi = api.injectEndpoints({
  endpoints: (b) => ({
    listSchools: reads(b, 'listSchools', ['Rules']),
    answerSchool: writes(b, 'answerSchool', RULED),
    readLife: reads(b, 'readLife', ['Rules', 'Records', 'Hours']),
    listOverrides: reads(b, 'listOverrides', ['Rules']),
    addOverride: writes(b, 'addOverride', RULED),
    endOverride: writes(b, 'endOverride', RULED),
    previewRules: reads(b, 'previewRules', ['Rules', 'Due', 'Hours'], { keepUnusedDataFor: 20 }),
    compareSchool: reads(b, 'compareSchool', ['Rules', 'Due']),
  }),
});
