import type { Handlers } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import { batteryHandlers } from './batteries.ts';
import { boatHandlers } from './boats.ts';
import { storageHandlers } from './places.ts';
import { readSeason } from './read-season.ts';
import { yearHandlers } from './year.ts';
import { shared } from '../http/shared.ts';
import type { Think } from '../think.ts';

export { readSeasonPlan } from './backward.ts';

type Names =
  | 'planSeason'
  | 'readSeason'
  | 'editBaseSeason'
  | 'editBoatSeason'
  | 'changeSeason'
  | 'addStoragePlace'
  | 'editStoragePlace'
  | 'addBatteryLook';

/** The season of a base: when it closes, what its boats get, where they stand, and their batteries. */
export const seasonHandlers = (fleet: FleetCache, think: Think): Handlers<Names> => ({
  planSeason: async ({ query, now }) => shared(await think('campaign', { now: now.getTime(), ...query })),
  readSeason: ({ db, query, now }) => readSeason(db, fleet, query.baseId, now),
  ...yearHandlers,
  ...boatHandlers,
  ...storageHandlers,
  ...batteryHandlers,
});
