import { traitsOf, type BuiltEngine } from '../fleet/index.ts';
import type { ServiceRule } from './due.ts';
import { taskApplies, type TaskKind } from './tasks.ts';

interface UsualRule {
  task: TaskKind;
  everyHours: number | null;
  everyMonths: number | null;
  /** Engines that have it; left out = all of its stroke. */
  on?: (engine: BuiltEngine) => boolean;
}

/** Below this an engine hangs on a portable tank that has no separator of the boat's. */
const SEPARATOR_FROM_HP = 25;
/** The smallest have none. */
const THERMOSTAT_FROM_HP = 8;

/**
 * The programme a model starts with until someone enters the maker's own: everything that is usually done, by stroke,
 * induction and size, and for the impeller the cautious school for hire boats. Common practice, no source.
 */
const USUAL: readonly UsualRule[] = [
  { task: 'engine-oil', everyHours: 100, everyMonths: 12 },
  { task: 'oil-filter', everyHours: 100, everyMonths: 12 },
  { task: 'fuel-filter', everyHours: 100, everyMonths: 12 },
  { task: 'separator', everyHours: 100, everyMonths: 12, on: (e) => e.powerHp >= SEPARATOR_FROM_HP },
  { task: 'gear-lube', everyHours: 100, everyMonths: 12 },
  { task: 'spark-plugs', everyHours: 100, everyMonths: 12 },
  { task: 'impeller', everyHours: 200, everyMonths: 12 },
  { task: 'thermostat', everyHours: 300, everyMonths: null, on: (e) => e.powerHp >= THERMOSTAT_FROM_HP },
  { task: 'anodes', everyHours: 100, everyMonths: 6 },
  { task: 'grease', everyHours: 100, everyMonths: 12 },
  // Line is picked up in a season, not in a year.
  { task: 'prop-shaft', everyHours: 100, everyMonths: 6 },
  // A worn two-stroke cylinder shows here first; a four-stroke is measured on suspicion.
  { task: 'compression', everyHours: 100, everyMonths: 12, on: (e) => e.stroke === 2 },
  { task: 'look-over', everyHours: 100, everyMonths: 12 },
  // Halfway to the next change, which reads it too.
  { task: 'oil-level', everyHours: 50, everyMonths: null },
  { task: 'battery-check', everyHours: null, everyMonths: 12, on: (e) => !traitsOf(e).recoil },
];

/** The usual rules for an engine so built; two-strokes have no engine oil to change. */
export function usualProgramme(engine: BuiltEngine): ServiceRule[] {
  return USUAL.filter(({ task, on }) => taskApplies(task, engine.stroke) && (on?.(engine) ?? true)).map(
    ({ task, everyHours, everyMonths }) => ({ task, everyHours, everyMonths }),
  );
}

/** The usual limits of a task, for a programme it is added to. */
export function usualLimits(task: TaskKind): { everyHours: number | null; everyMonths: number | null } {
  const known = USUAL.find((r) => r.task === task);
  return known
    ? { everyHours: known.everyHours, everyMonths: known.everyMonths }
    : { everyHours: 100, everyMonths: 12 };
}
