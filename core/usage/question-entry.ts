import type { Day } from '../calendar/index.ts';
import { questionReading, type Question } from './question.ts';
import type { LifeReading } from './reading.ts';

/** Whole hours are written down where a meter shows tenths. */
const WHOLE_HOURS = 1;

/**
 * Questions the hours of a service written down after the fact: no meter could have shown them beside what was read and
 * written down before that day and after it. Arithmetic; the limits are those of readings.
 *
 * @param known what is known of the engine's life hours by readings and other services, in any order
 */
export function questionEntry(known: readonly LifeReading[], entry: { day: Day; hours: number }): Question | null {
  const before = known.filter((r) => r.day <= entry.day).sort((a, b) => a.hours - b.hours);
  const after = known.filter((r) => r.day > entry.day).sort((a, b) => a.hours - b.hours);
  const last = before.at(-1);
  const next = after[0] ?? null;
  const near = (r: LifeReading) => Math.abs(r.hours - entry.hours) <= WHOLE_HOURS;
  return questionReading(last && !near(last) ? [last] : [], entry, next && !near(next) ? next : null);
}
