import type pg from 'pg';

declare module 'pg' {
  interface Pool {
    /** A statement took long: its text without any value, and how long (ms). */
    on(event: 'slow', listener: (statement: string, milliseconds: number) => void): this;
  }
}

/** Longer than this a statement is told of (ms). */
export const SLOW_MS = 250;
const MOST_TEXT = 400;

/** A statement as it may be told: no value, not even one that was written into its text, and in one line. */
export const bareStatement = (text: string): string =>
  text
    .replace(/'(?:[^']|'')*'/g, '?')
    .replace(/\b\d+(\.\d+)?\b/g, '?')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, MOST_TEXT);

/** Lets the pool say `slow` of what takes long on each connection that it makes from now on. */
export function watchStatements(pool: pg.Pool): void {
  const done = (asked: unknown, began: number) => {
    const took = performance.now() - began;
    if (took < SLOW_MS) return;
    const text = typeof asked === 'string' ? asked : ((asked as { text?: string } | null)?.text ?? '');
    pool.emit('slow', bareStatement(text), Math.round(took));
  };
  pool.on('connect', (client) => {
    const query = client.query.bind(client) as (...args: unknown[]) => unknown;
    (client as { query: unknown }).query = (...args: unknown[]) => {
      const began = performance.now();
      const last = args.at(-1);
      if (typeof last === 'function') {
        args[args.length - 1] = (...answer: unknown[]) => {
          done(args[0], began);
          (last as (...a: unknown[]) => void)(...answer);
        };
        return query(...args);
      }
      const asked = query(...args);
      if (asked instanceof Promise) {
        const over = () => {
          done(args[0], began);
        };
        asked.then(over, over);
      }
      return asked;
    };
  });
}
