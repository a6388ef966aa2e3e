import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';

/** What the person has to mend: said in words, exit status 2. */
export class Wrong extends Error {}

const OPTIONS = {
  seconds: { type: 'string' },
  iterations: { type: 'string' },
  seed: { type: 'string' },
  days: { type: 'string' },
  book: { type: 'boolean' },
  exact: { type: 'boolean' },
  problem: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

export interface ProblemWishes {
  /** null = the book's own problem. */
  file: string | null;
  seconds: number | undefined;
  iterations: number | undefined;
  seed: number;
  days: number | undefined;
  exact: boolean;
  /** Writes the problem instead of planning it. */
  problem: boolean;
}

/** Reads the arguments of a command that plans a problem. @throws Wrong with the usage */
export function readWishes(usage: string): ProblemWishes {
  let parsed;
  try {
    parsed = parseArgs({ args: process.argv.slice(2), allowPositionals: true, options: OPTIONS });
  } catch (error) {
    throw new Wrong(`${(error as Error).message}\n${usage}`);
  }
  const { values, positionals } = parsed;
  if (values.help || positionals.length !== (values.book ? 0 : 1)) throw new Wrong(usage);
  const number = (name: 'seconds' | 'iterations' | 'seed' | 'days', whole: boolean) => {
    const text = values[name];
    if (text === undefined) return undefined;
    const n = Number(text);
    if (text.trim() === '' || !Number.isFinite(n) || n < 0 || (whole && !Number.isInteger(n)))
      throw new Wrong(`--${name} is "${text}"; give a ${whole ? 'whole ' : ''}number of 0 or more.\n${usage}`);
    return n;
  };
  return {
    file: positionals[0] ?? null,
    days: number('days', true),
    seconds: number('seconds', false),
    iterations: number('iterations', true),
    seed: number('seed', true) ?? 1,
    exact: values.exact ?? false,
    problem: values.problem ?? false,
  };
}

/** @param file "-" = standard input @throws Wrong when it cannot be read, or is no JSON */
export function readProblemFile(file: string): unknown {
  const name = file === '-' ? 'Standard input' : file;
  let text;
  try {
    text = readFileSync(file === '-' ? 0 : file, 'utf8');
  } catch (error) {
    throw new Wrong(`${name} cannot be read: ${(error as Error).message}`);
  }
  try {
    return JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new Wrong(`${name} is no JSON: ${(error as Error).message}`);
  }
}

/** @throws Wrong with the path of each fault */
export function sayFaults(faults: readonly { path: string; text: string }[]): never {
  throw new Wrong(
    faults
      .slice(0, 200)
      .map((f) => `${f.path}: ${f.text}`)
      .join('\n') + (faults.length > 200 ? `\nand ${faults.length - 200} more` : ''),
  );
}

/** A line of progress on standard error. */
export function tellProgress(now: { cost: number; bound: number | null; rounds: number; seconds: number }): void {
  const { cost, bound, rounds, seconds } = now;
  const apart =
    bound === null
      ? 'no bound yet'
      : `bound ${bound.toFixed(2)}, ${(((cost - bound) / Math.max(1e-9, Math.abs(cost))) * 100).toFixed(2)} % apart`;
  process.stderr.write(`${seconds.toFixed(2)} s  cost ${cost.toFixed(2)}  ${apart}  ${rounds} rounds\n`);
}

/** Runs a command: its answer alone goes to standard output; what a person has to mend ends it with status 2. */
export async function runCommand(
  answer: () => Promise<unknown>,
  wrong: (error: unknown) => boolean = () => false,
): Promise<void> {
  try {
    const said = await answer();
    process.stderr.write(`peak ${Math.round(process.resourceUsage().maxRSS / 1024)} MB of memory\n`);
    process.stdout.write(`${JSON.stringify(said)}\n`);
  } catch (error) {
    if (!(error instanceof Wrong) && !wrong(error)) throw error;
    process.stderr.write(`${(error as Error).message}\n`);
    process.exitCode = 2;
  }
}

/** Seconds of this process so far, without what installing and building took. */
export const secondsSpent = (): number => (performance.now() - Number(process.env.DIURNA_PLAN_SETUP_MS ?? 0)) / 1000;
