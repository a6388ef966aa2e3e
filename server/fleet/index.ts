import type { FleetCache } from '../service/index.ts';
import { baseHandlers } from './bases.ts';
import { boatHandlers } from './boats.ts';
import { engineHandlers } from './engines.ts';
import { modelHandlers } from './models.ts';
import { searchHandlers } from './search.ts';

export { insertModel, listModels, printedVolume, finePrint, programmeBasis } from './models.ts';

export const fleetHandlers = (fleet: FleetCache) => ({
  ...baseHandlers(),
  ...modelHandlers,
  ...boatHandlers(fleet),
  ...engineHandlers(fleet),
  ...searchHandlers(fleet),
});
