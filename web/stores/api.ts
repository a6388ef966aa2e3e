import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of stores: every route by its name in the contract. */
export const storesApi = api.injectEndpoints({
  endpoints: (b) => ({
    listArrivals: reads(b, 'listArrivals', ['Stores']),
    addArrival: writes(b, 'addArrival', ['Stores', 'Plan', 'Records']),
    closeArrival: writes(b, 'closeArrival', ['Stores', 'Plan', 'Records']),
    putPlace: writes(b, 'putPlace', ['Stores', 'Jobs', 'Records']),
    listWanted: reads(b, 'listWanted', ['Wanted', 'Stores']),
    closeWanted: writes(b, 'closeWanted', ['Wanted', 'Stores', 'Plan', 'Records']),
    listParts: reads(b, 'listParts', ['Stores']),
    readPart: reads(b, 'readPart', ['Stores']),
    addPart: writes(b, 'addPart', ['Stores', 'Jobs', 'Records']),
    editPart: writes(b, 'editPart', ['Stores', 'Jobs', 'Records']),
    whichParts: reads(b, 'whichParts', ['Stores', 'Fleet']),
    checkKit: reads(b, 'checkKit', ['Stores', 'Fleet']),
    countSheet: reads(b, 'countSheet', ['Stores']),
    countShelf: writes(b, 'countShelf', ['Stores', 'Jobs', 'Records']),
    readWorth: reads(b, 'readWorth', ['Stores']),
    ledger: reads(b, 'ledger', ['Stores']),
    modelShelves: reads(b, 'modelShelves', ['Stores', 'Due']),
    moveStock: writes(b, 'moveStock', ['Stores', 'Jobs', 'Records']),
  }),
});
