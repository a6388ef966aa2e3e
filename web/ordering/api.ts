import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of ordering: every route by its name in the contract. */
export const orderingApi = api.injectEndpoints({
  endpoints: (b) => ({
    listSuppliers: reads(b, 'listSuppliers', ['Stores']),
    addSupplier: writes(b, 'addSupplier', ['Stores', 'Records']),
    editSupplier: writes(b, 'editSupplier', ['Stores', 'Records']),
    retireSupplier: writes(b, 'retireSupplier', ['Stores', 'Records']),
    readCover: reads(b, 'readCover', ['Stores', 'Due', 'Jobs']),
    readOrderBook: reads(b, 'readOrderBook', ['Stores', 'Due', 'Jobs']),
    listPurchases: reads(b, 'listPurchases', ['Stores']),
    askSupplier: writes(b, 'askSupplier', ['Stores', 'Plan', 'Records']),
    placeOrder: writes(b, 'placeOrder', ['Stores', 'Plan', 'Wanted', 'Mail', 'Records']),
  }),
});
