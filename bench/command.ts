import { spawn } from 'node:child_process';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');

interface Step {
  seconds: number;
  cost: number;
  bound: number | null;
}

/** What a command that plans a problem gave, and how it got there. */
export interface CommandRan<T> {
  plan: T;
  steps: Step[];
  seconds: number;
  megabytes: number;
}

/** The command as a person runs it; times count from its start. */
export async function runProblem<T>(command: 'plan' | 'order', file: string, args: string[]): Promise<CommandRan<T>> {
  const began = performance.now();
  const child = spawn(process.execPath, [join(root, `scripts/${command}.mjs`), file, ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let out = '';
  let err = '';
  child.stdout.on('data', (chunk) => {
    out += String(chunk);
  });
  child.stderr.on('data', (chunk) => {
    err += String(chunk);
  });
  const status = await new Promise((resolve) => {
    child.once('close', resolve);
  });
  if (status !== 0) throw new Error(`${command} ended with ${String(status)}: ${err.slice(-2000)}`);
  const steps = [...err.matchAll(/^([\d.]+) s {2}cost ([\d.]+) {2}(?:bound ([\d.]+))?/gm)].map((m) => ({
    seconds: Number(m[1]),
    cost: Number(m[2]),
    bound: m[3] === undefined ? null : Number(m[3]),
  }));
  return {
    plan: JSON.parse(out) as T,
    steps,
    seconds: (performance.now() - began) / 1000,
    megabytes: Number(/peak (\d+) MB/.exec(err)?.[1]),
  };
}
