import { api, reads, writes, writesKept } from '../app/api.ts';

/** What the rooms read and write of usage: every route by its name in the contract. */
export const usageApi = api.injectEndpoints({
  endpoints: (b) => ({
    hoursSheet: reads(b, 'hoursSheet', ['Hours']),
    typeHours: writesKept(b, 'typeHours', ['Hours', 'Due', 'Fleet', 'Records']),
    listReadings: reads(b, 'listReadings', ['Hours']),
    usageCurve: reads(b, 'usageCurve', ['Hours', 'Due', 'Hires']),
    withdrawReading: writes(b, 'withdrawReading', ['Hours', 'Due', 'Fleet', 'Records']),
  }),
});
