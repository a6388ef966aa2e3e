import { TASKS } from '../../service/index.ts';
import { planTaskOf } from '../problem/build.ts';

/**
 * The names a plan has for tasks and parts, in words; skills are words already.
 *
 * @param parts by the plan's names for them
 */
export const wordsIn =
  (parts: Readonly<Record<string, { name: string }>>) =>
  (at: string): string => {
    const { task } = planTaskOf(at);
    return parts[at]?.name ?? (task in TASKS ? TASKS[task].word.toLowerCase() : at);
  };
