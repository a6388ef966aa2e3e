import type pg from 'pg';

/**
 * Lets each connection that the pool makes from now on take one statement after the other, as they were asked. Readers
 * of one transaction ask several at once; the driver queued them itself and will refuse to from its version 9 on.
 */
export function takeInTurn(pool: pg.Pool): void {
  pool.on('connect', (client) => {
    const query = client.query.bind(client) as (...args: unknown[]) => unknown;
    let before: Promise<unknown> = Promise.resolve();
    (client as { query: unknown }).query = (...args: unknown[]) => {
      // What answers by itself, a callback or a cursor, is asked by the pool and its tools, one at a time.
      const byItself =
        typeof args.at(-1) === 'function' ||
        typeof (args[0] as Partial<pg.Submittable> | undefined)?.submit === 'function';
      if (byItself) return query(...args);
      const answer = before.then(() => query(...args));
      // A statement that failed is told to who asked it; the next is asked all the same.
      before = answer.catch(() => undefined);
      return answer;
    };
  });
}
