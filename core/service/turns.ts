import { answerTo, type SchoolChoices } from './schools.ts';
import type { TaskKind } from './tasks.ts';

/** How often each task was done on an engine, as far as the log goes; null = nothing is known of its past. */
export type TimesDone = Partial<Record<TaskKind, number>> | null;

/** Every other time: the second of two, as the log counts them. Of an engine nobody knows it is never the second. */
const second = (task: TaskKind, times: TimesDone) => times !== null && (times[task] ?? 0) % 2 === 1;

/** How much of the pump is renewed this time. */
export const PUMP_TURNS = ['impeller', 'marked', 'kit'] as const;
export type PumpTurn = (typeof PUMP_TURNS)[number];

/**
 * How much of the pump is renewed this time, by the yard's answer and by how often it was done before: the whole kit at
 * every second change, and on an engine nobody knows. Common practice, no source.
 */
export function pumpTurn(choices: SchoolChoices, times: TimesDone): PumpTurn {
  const { key } = answerTo('pump parts', choices);
  if (key !== 'second') return key === 'marked' ? 'marked' : 'impeller';
  return times === null || second('impeller', times) ? 'kit' : 'impeller';
}

/**
 * Whether washers and gaskets of this task go on a second time: where the yard lets composite ones do so, and they were
 * new the last time.
 */
export function sealsAgain(task: 'engine-oil' | 'gear-lube', choices: SchoolChoices, times: TimesDone): boolean {
  return answerTo('washers', choices).key === 'second' && second(task, times);
}
