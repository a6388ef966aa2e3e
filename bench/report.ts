import { readFileSync } from 'node:fs';

export const percentile = (values: number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.ceil(values.length * share) - 1)]!;
export const median = (values: number[]): number => percentile(values, 0.5);

/** One measure: what it is, what was reached, what is asked, and the reference of the same run. */
export function row(what: string, reached: string, asked: string, ok: boolean, reference: string): void {
  console.log(
    `${ok ? 'reached' : 'MISSED '}  ${what.padEnd(52)} ${reached.padStart(12)}   asked: ${asked.padEnd(14)} reference: ${reference}`,
  );
}

/**
 * Ticks of all processors since start, and those the machine's host gave to others (proc(5)); shows how far a slow run
 * is ours.
 */
export function processorTicks(): { all: number; stolen: number } {
  const ticks = readFileSync('/proc/stat', 'utf8').split('\n')[0]!.trim().split(/\s+/).slice(1, 9).map(Number);
  return { all: ticks.reduce((a, b) => a + b, 0), stolen: ticks[7]! };
}
