import { api, reads, writes, WORKED } from '../app/api.ts';

/** What the rooms read and write of fleet: every route by its name in the contract. */
export const fleetApi = api.injectEndpoints({
  endpoints: (b) => ({
    listBases: reads(b, 'listBases', ['Fleet']),
    addBase: writes(b, 'addBase', ['Fleet', 'Due']),
    editBase: writes(b, 'editBase', ['Fleet', 'Due']),
    listModels: reads(b, 'listModels', ['Fleet']),
    addModel: writes(b, 'addModel', ['Fleet', 'Due', 'Stores']),
    editModel: writes(b, 'editModel', ['Fleet', 'Due', 'Stores', 'Records']),
    listBoats: reads(b, 'listBoats', ['Fleet']),
    readBoat: reads(b, 'readBoat', ['Fleet']),
    addBoat: writes(b, 'addBoat', ['Fleet', 'Records']),
    editBoat: writes(b, 'editBoat', ['Fleet', 'Due', 'Records']),
    retireBoat: writes(b, 'retireBoat', WORKED),
    readEngine: reads(b, 'readEngine', ['Fleet', 'Hours']),
    addEngine: writes(b, 'addEngine', WORKED),
    editEngine: writes(b, 'editEngine', WORKED),
    retireEngine: writes(b, 'retireEngine', WORKED),
    changeMeter: writes(b, 'changeMeter', WORKED),
    search: reads(b, 'search', [], { keepUnusedDataFor: 5 }),
  }),
});
