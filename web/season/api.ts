import { api, reads, writes, writesKept } from '../app/api.ts';

/** What the room reads and writes of seasons: every route by its name in the contract. */
export const seasonApi = api.injectEndpoints({
  endpoints: (b) => ({
    readSeason: reads(b, 'readSeason', ['Season', 'Jobs', 'Due', 'Stores', 'Hires']),
    batteryRound: reads(b, 'batteryRound', ['Season', 'Jobs', 'Due']),
    planSeason: reads(b, 'planSeason', ['Season']),
    editBaseSeason: writes(b, 'editBaseSeason', ['Season', 'Records']),
    editBoatSeason: writes(b, 'editBoatSeason', ['Season', 'Records']),
    changeSeason: writes(b, 'changeSeason', ['Season', 'Records']),
    addStoragePlace: writes(b, 'addStoragePlace', ['Season', 'Records']),
    editStoragePlace: writes(b, 'editStoragePlace', ['Season', 'Records']),
    addBatteryLook: writesKept(b, 'addBatteryLook', ['Season', 'Records']),
  }),
});
