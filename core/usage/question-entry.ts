import type { Day } from '../calendar/index.ts';
import { questionReading, type Question } from './question.ts';
import type { LifeReading } from './reading.ts';

/**
 * Questions the hours of a service written down after the fact: no meter could have shown them beside what was read and
 * written down before that day and after it. Arithmetic; the limits are those of readings.
 *
 * @param known what is known of the engine's life hours by readings and other services, in any order
 */
export function questionEntry(known: readonly LifeReading[], entry: { day: Day; hours: number }): Question | null {
  const before = known.filter((r) => r.day <= entry.day).sort((a, b) => a.hours - b.hours);
  const after = known.filter((r) => r.day > entry.day).sort((a, b) => a.hours - b.hours);
  return questionReading(before.slice(-1), entry, after[0] ?? null);
}
