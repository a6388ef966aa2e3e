import { readOrderProblem } from '@diurna/contract/ordering';
import { computeOrders } from '@diurna/core/ordering';
import { solveWith } from '@diurna/core/planner';
import {
  readProblemFile,
  readWishes,
  runCommand,
  sayFaults,
  secondsSpent,
  tellProgress,
  Wrong,
} from '../problem-file.ts';

/**
 * `npm run --silent order -- PROBLEM.json`: see the README. The plan goes to standard output, all else to standard
 * error.
 */
const USAGE =
  'Usage: npm run --silent order -- PROBLEM.json [--seconds N | --iterations N] [--exact] [--seed N]\n       PROBLEM.json may be - for standard input; --book [--days N] instead plans the orders of the book in the database, and with --problem writes its problem.';
const DEFAULT_SECONDS = 10;
const BOOK_DAYS = 42;

await runCommand(async () => {
  const { file, days, seconds, iterations, seed, exact, problem: wanted } = readWishes(USAGE);
  if (wanted && file !== null) throw new Wrong(USAGE);
  const { problem, faults } =
    file === null
      ? { problem: await (await import('./book-orders.ts')).bookOrders(days ?? BOOK_DAYS), faults: null }
      : readOrderProblem(readProblemFile(file));
  if (faults) sayFaults(faults);
  if (wanted) return problem;
  const spent = secondsSpent();
  const limit = seconds ?? (exact ? Infinity : DEFAULT_SECONDS);
  const began = performance.now();
  return computeOrders(problem, {
    seconds: Math.max(0, limit - spent - 0.03),
    elapsed: () => (performance.now() - began) / 1000,
    rounds: iterations,
    ...(exact && { exact: solveWith(await (await import('highs')).default()) }),
    seed,
    progress: (now) => {
      tellProgress({ ...now, seconds: now.seconds + spent });
    },
  });
});
