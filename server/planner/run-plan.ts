import type { PlanLine } from '@diurna/contract/planner';
import type { PlanTask } from './plan-thread.ts';
import type { Response } from 'express';
import type pg from 'pg';
import type { Logger } from 'pino';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import { parsed } from '../db/index.ts';
import { HttpProblem } from '../http/problem.ts';

/** Plans take two threads each; more at once would starve those who only read. */
const MOST_AT_ONCE = 2;
/** Of the lock that counts them, for all processes on one database. */
const PLANNING = 4154;

/**
 * Takes one of the places for plans, of which there are so many for all app processes together: a lock of the
 * database, which falls with the connection when the process dies.
 * @returns what gives it back; null when all are taken
 */
export async function takePlace(pool: pg.Pool): Promise<(() => Promise<void>) | null> {
  const client = await pool.connect();
  try {
    for (let place = 0; place < MOST_AT_ONCE; place++) {
      const { rows } = await client.query('select pg_try_advisory_lock($1, $2) as mine', [PLANNING, place]);
      if (parsed(z.object({ mine: z.boolean() }), rows)[0]!.mine)
        return async () => {
          await client.query('select pg_advisory_unlock($1, $2)', [PLANNING, place]).then(
            () => {
              client.release();
            },
            () => {
              client.release(true);
            },
          );
        };
    }
  } catch (error) {
    client.release(true);
    throw error;
  }
  client.release();
  return null;
}

/**
 * Works a plan out on threads of its own and writes what becomes of it to the reply, a JSON text a line.
 * Whoever goes away calls it off.
 * @throws 503 when as many are under way as may be
 */
export async function streamPlan(res: Response, task: PlanTask, pool: pg.Pool, log: Logger): Promise<void> {
  const giveBack = await takePlace(pool);
  if (!giveBack) throw new HttpProblem(503, 'Two plans are being worked out just now. Try again in a minute.');
  // Beside the bundled server.
  const thread = new Worker(new URL('./plan-thread.js', import.meta.url), { workerData: task });
  try {
    res.type('application/x-ndjson').set('x-accel-buffering', 'no');
    res.flushHeaders();
    const say = (m: PlanLine) => {
      res.write(`${JSON.stringify(m)}\n`);
      // Compression holds small lines back otherwise.
      if ('flush' in res) (res as Response & { flush: () => void }).flush();
    };
    await new Promise<void>((resolve) => {
      res.once('close', resolve);
      thread.on('message', say);
      thread.once('error', (error) => {
        // The reply has begun: it cannot become an error any more, but it can say so.
        log.error({ err: error }, 'plan broke off');
        say({
          say: 'broken',
          text: 'The server broke off while planning. Try again; if it stays, tell the administrator.',
        });
        resolve();
      });
      thread.once('exit', () => {
        resolve();
      });
    });
  } finally {
    await thread.terminate();
    res.end();
    await giveBack();
  }
}
