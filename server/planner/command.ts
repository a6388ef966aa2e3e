import { readProblem } from '@diurna/contract/planner';
import { PinsRefused } from '@diurna/core/planner';
import {
  readProblemFile,
  readWishes,
  runCommand,
  sayFaults,
  secondsSpent,
  tellProgress,
  Wrong,
} from '../problem-file.ts';
import { computePlan } from './compute.ts';

/**
 * `npm run --silent plan -- PROBLEM.json`: see the README. The plan goes to standard output, all else to standard
 * error.
 */
const USAGE =
  'Usage: npm run --silent plan -- PROBLEM.json [--seconds N | --iterations N] [--exact] [--seed N]\n       PROBLEM.json may be - for standard input; --book [--days N] instead plans the fleet in the database.';
const DEFAULT_SECONDS = 10;
const BOOK_DAYS = 42;

await runCommand(
  async () => {
    const { file, days, seconds, iterations, seed, exact, problem: wanted } = readWishes(USAGE);
    if (wanted) throw new Wrong(USAGE);
    const { problem, faults } =
      file === null
        ? { problem: await (await import('./book-problem.ts')).bookProblem(days ?? BOOK_DAYS), faults: null }
        : readProblem(readProblemFile(file));
    if (faults) sayFaults(faults);
    const spent = secondsSpent();
    const limit = seconds ?? (exact ? Infinity : DEFAULT_SECONDS);
    return computePlan(problem, {
      seconds: Math.max(0, limit - spent - 0.03),
      rounds: iterations,
      exact,
      seed,
      threadFile: new URL('./prover.js', import.meta.url),
      progress: (now) => {
        tellProgress({ ...now, seconds: now.seconds + spent });
      },
    });
  },
  (error) => error instanceof PinsRefused,
);
