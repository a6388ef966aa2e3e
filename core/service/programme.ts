import type { ServiceRule } from './due.ts';
import { taskApplies, type Stroke, type TaskKind } from './tasks.ts';

/**
 * The programme a model starts with until someone enters the maker's own: the usual intervals,
 * and for the impeller the cautious school for hire boats. Common practice, no source.
 */
const USUAL: readonly ServiceRule[] = [
  { task: 'engine-oil', everyHours: 100, everyMonths: 12 },
  { task: 'oil-filter', everyHours: 100, everyMonths: 12 },
  { task: 'gear-lube', everyHours: 100, everyMonths: 12 },
  { task: 'spark-plugs', everyHours: 100, everyMonths: 12 },
  { task: 'impeller', everyHours: 200, everyMonths: 12 },
];

/** The usual rules for an engine of that stroke; two-strokes have no engine oil to change. */
export function usualProgramme(stroke: Stroke): ServiceRule[] {
  return USUAL.filter((rule) => taskApplies(rule.task, stroke)).map((rule) => ({ ...rule }));
}

/**
 * Limits a task usually has where a programme names it at all: beyond the five everybody has. Common practice, no
 * source.
 */
const MORE: Partial<Record<TaskKind, { everyHours: number | null; everyMonths: number | null }>> = {
  thermostat: { everyHours: 300, everyMonths: null },
  anodes: { everyHours: null, everyMonths: 6 },
  'look-over': { everyHours: 50, everyMonths: null },
};

/** The usual limits of a task, for a programme it is added to. */
export function usualLimits(task: TaskKind): { everyHours: number | null; everyMonths: number | null } {
  const known = USUAL.find((r) => r.task === task) ?? MORE[task];
  return known
    ? { everyHours: known.everyHours, everyMonths: known.everyMonths }
    : { everyHours: 100, everyMonths: 12 };
}
