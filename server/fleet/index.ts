import type { FleetMemory } from '../service/index.ts';
import { baseHandlers } from './bases.ts';
import { boatHandlers } from './boats.ts';
import { engineHandlers } from './engines.ts';
import { modelHandlers } from './models.ts';
import { searchHandlers } from './search.ts';

export { insertModel, listModels, printedVolume, finePrint, programmeBasis } from './models.ts';

export const fleetHandlers = (memory: FleetMemory) => ({
  ...baseHandlers(),
  ...modelHandlers,
  ...boatHandlers(memory),
  ...engineHandlers(memory),
  ...searchHandlers(memory),
});
