import { readProblem } from '@diurna/contract/planner';
import { PinsRefused } from '@diurna/core/planner';
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { computePlan } from './compute.ts';

/**
 * `npm run --silent plan -- PROBLEM.json`: see the README. The plan goes to standard output, all else to standard
 * error.
 */
const USAGE =
  'Usage: npm run --silent plan -- PROBLEM.json [--seconds N | --iterations N] [--exact] [--seed N]\n       PROBLEM.json may be - for standard input; --book [--days N] instead plans the fleet in the database.';
const DEFAULT_SECONDS = 10;
const BOOK_DAYS = 42;

class Wrong extends Error {}

function wishes() {
  let parsed;
  try {
    parsed = parseArgs({
      args: process.argv.slice(2),
      allowPositionals: true,
      options: {
        seconds: { type: 'string' },
        iterations: { type: 'string' },
        seed: { type: 'string' },
        days: { type: 'string' },
        book: { type: 'boolean' },
        exact: { type: 'boolean' },
        help: { type: 'boolean' },
      },
    });
  } catch (error) {
    throw new Wrong(`${(error as Error).message}\n${USAGE}`);
  }
  const { values, positionals } = parsed;
  if (values.help || positionals.length !== (values.book ? 0 : 1)) throw new Wrong(USAGE);
  const number = (name: 'seconds' | 'iterations' | 'seed' | 'days', whole: boolean) => {
    const text = values[name];
    if (text === undefined) return undefined;
    const n = Number(text);
    if (text.trim() === '' || !Number.isFinite(n) || n < 0 || (whole && !Number.isInteger(n)))
      throw new Wrong(`--${name} is "${text}"; give a ${whole ? 'whole ' : ''}number of 0 or more.\n${USAGE}`);
    return n;
  };
  return {
    file: positionals[0] ?? null,
    days: number('days', true) ?? BOOK_DAYS,
    seconds: number('seconds', false),
    iterations: number('iterations', true),
    seed: number('seed', true) ?? 1,
    exact: values.exact ?? false,
  };
}

function readFile(file: string): unknown {
  let text;
  try {
    text = readFileSync(file === '-' ? 0 : file, 'utf8');
  } catch (error) {
    throw new Wrong(`${file === '-' ? 'Standard input' : file} cannot be read: ${(error as Error).message}`);
  }
  try {
    return JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new Wrong(`${file === '-' ? 'Standard input' : file} is no JSON: ${(error as Error).message}`);
  }
}

try {
  // Counted from the start of the process, without what installing and building took.
  const setUp = Number(process.env.DIURNA_PLAN_SETUP_MS ?? 0);
  const { file, days, seconds, iterations, seed, exact } = wishes();
  const { problem, faults } =
    file === null
      ? { problem: await (await import('./book-problem.ts')).bookProblem(days), faults: null }
      : readProblem(readFile(file));
  if (faults)
    throw new Wrong(
      faults
        .slice(0, 200)
        .map((f) => `${f.path}: ${f.text}`)
        .join('\n') + (faults.length > 200 ? `\nand ${faults.length - 200} more` : ''),
    );
  const spent = (performance.now() - setUp) / 1000;
  const limit = seconds ?? (exact ? Infinity : DEFAULT_SECONDS);
  const plan = await computePlan(problem, {
    seconds: Math.max(0, limit - spent - 0.03),
    rounds: iterations,
    exact,
    seed,
    threadFile: new URL('./prover.js', import.meta.url),
    progress: ({ cost, bound, rounds, seconds: at }) => {
      process.stderr.write(
        `${(at + spent).toFixed(2)} s  cost ${cost.toFixed(2)}  ${bound === null ? 'no bound yet' : `bound ${bound.toFixed(2)}, ${(((cost - bound) / Math.max(1e-9, cost)) * 100).toFixed(2)} % apart`}  ${rounds} rounds\n`,
      );
    },
  });
  process.stderr.write(`peak ${Math.round(process.resourceUsage().maxRSS / 1024)} MB of memory\n`);
  process.stdout.write(`${JSON.stringify(plan)}\n`);
} catch (error) {
  if (error instanceof PinsRefused || error instanceof Wrong) {
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 2;
  } else throw error;
}
