import type { PlanLine } from '@diurna/contract/planner';
import type { PlanTask } from './plan-thread.ts';
import type { Response } from 'express';
import type { Logger } from 'pino';
import { Worker } from 'node:worker_threads';
import { HttpProblem } from '../http/problem.ts';

/** Plans take two threads each; more at once would starve those who only read. */
const MOST_AT_ONCE = 2;
let running = 0;

/**
 * Works a plan out on threads of its own and writes what becomes of it to the reply, a JSON text a line.
 * Whoever goes away calls it off.
 */
export async function streamPlan(res: Response, task: PlanTask, log: Logger): Promise<void> {
  if (running >= MOST_AT_ONCE)
    throw new HttpProblem(503, 'Two plans are being worked out just now. Try again in a minute.');
  running++;
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
    running--;
    await thread.terminate();
    res.end();
  }
}
