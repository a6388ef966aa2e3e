import type { JobCard } from '@diurna/contract/jobs';
import { lifeHours, questionReading, type Question } from '@diurna/core/usage';
import { parseCount } from '../usage/index.ts';

/** What was typed as an engine's hours on a card: the count, and the question it raises. */
export function judgeHours(
  engine: JobCard['engines'][number],
  typed: { count: string; reason: string } | undefined,
  today: string,
): { count: number | null; bad: boolean; question: Question | null } {
  if (!engine.meter || !typed || typed.count.trim() === '') return { count: null, bad: false, question: null };
  const count = parseCount(typed.count);
  if (count === null) return { count: null, bad: true, question: null };
  return {
    count,
    bad: false,
    question: questionReading(engine.recent, { day: today, hours: lifeHours(engine.meter.offset, count) }),
  };
}
