import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import { shared } from '../http/shared.ts';
import type { Think } from '../think.ts';
import { countHandlers } from './counts.ts';
import { modelHandlers } from './models.ts';
import { moveHandlers } from './moves.ts';
import { partHandlers } from './parts.ts';
import { whichHandlers } from './which.ts';

export { fitmentsOf, lockShelves, onHandByPart, refuseHalves, takeParts } from './store.ts';
export { arrivalHandlers } from './arrivals.ts';
export { pourBack } from './containers.ts';
export { readWorth } from './ledger.ts';
export { linkFault, linksOf, withOlder, writeLinks, type LinkRow } from './links.ts';
export { wantedHandlers } from './wanted.ts';
export { keptByCards } from './kept-back.ts';
export { partsOfAll, servedBy, partsOfTasks } from './parts-of-tasks.ts';
export { keepPlace, placeHandlers, placesAt } from './places.ts';

const HOUR_MS = 3_600_000;

/** Parts, what they fit and stand for, and what is done at a shelf. */
export const storesHandlers = (
  fleet: FleetCache,
  think: Think,
): Handlers<
  | 'listParts'
  | 'readPart'
  | 'addPart'
  | 'editPart'
  | 'ledger'
  | 'modelShelves'
  | 'moveStock'
  | 'whichParts'
  | 'checkKit'
  | 'readWorth'
  | 'countSheet'
  | 'countShelf'
> => ({
  ...partHandlers,
  ...modelHandlers(fleet),
  ...moveHandlers,
  ...whichHandlers,
  ...countHandlers,
  readWorth: ({ db, query, now }) =>
    whileUnchanged(db, `worth ${query.baseId ?? 'all'} ${Math.floor(now.getTime() / HOUR_MS)}`, async () =>
      shared(await think('worth', { now: now.getTime(), baseId: query.baseId ?? null })),
    ),
});
