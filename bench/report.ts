export const percentile = (values: number[], share: number): number => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.ceil(values.length * share) - 1)]!;
export const median = (values: number[]): number => percentile(values, 0.5);

/** One measure: what it is, what was reached, what is asked, and the reference of the same run. */
export function row(what: string, reached: string, asked: string, ok: boolean, reference: string): void {
  console.log(`${ok ? 'reached' : 'MISSED '}  ${what.padEnd(52)} ${reached.padStart(12)}   asked: ${asked.padEnd(14)} reference: ${reference}`);
}
