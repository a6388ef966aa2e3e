import type { ServiceRule } from './due.ts';
import { taskApplies, type Stroke } from './tasks.ts';

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
