import type { TaskKind } from '../../service/index.ts';

/** What many makers' 300 h list holds. Common practice, no source. */
export const BIG_VISIT: readonly TaskKind[] = [
  'engine-oil',
  'oil-filter',
  'fuel-filter',
  'separator',
  'gear-lube',
  'spark-plugs',
  'impeller',
  'thermostat',
  'anodes',
  'grease',
  'prop-shaft',
  'look-over',
];
