import type { PlanSaid, PlanTask } from './plan-thread.ts';
import type { Response } from 'express';
import { Worker } from 'node:worker_threads';
import { HttpProblem } from '../http/problem.ts';

/** Plans take two threads each; more at once would starve those who only read. */
const MOST_AT_ONCE = 2;
let running = 0;

/**
 * Works a plan out on threads of its own and writes what becomes of it to the reply, a JSON text a line.
 * Whoever goes away calls it off.
 */
export async function streamPlan(res: Response, task: PlanTask): Promise<void> {
  if (running >= MOST_AT_ONCE) throw new HttpProblem(503, 'Two plans are being worked out just now. Try again in a minute.');
  running++;
  // Beside the bundled server.
  const thread = new Worker(new URL('./plan-thread.js', import.meta.url), { workerData: task });
  try {
    res.type('application/x-ndjson').set('x-accel-buffering', 'no');
    res.flushHeaders();
    await new Promise<void>((resolve, reject) => {
      res.once('close', resolve);
      thread.on('message', (m: PlanSaid) => {
        res.write(`${JSON.stringify(m)}\n`);
        // Compression holds small lines back otherwise.
        if ('flush' in res) (res as Response & { flush: () => void }).flush();
      });
      thread.once('error', reject);
      thread.once('exit', () => { resolve(); });
    });
  } finally {
    running--;
    await thread.terminate();
    res.end();
  }
}
