import { parentPort, workerData } from 'node:worker_threads';
import type { Answer } from './beside.ts';
import { makeDb, makePool } from './db/index.ts';
import { giveWay } from './give-way.ts';
import { HttpProblem } from './http/problem.ts';
import { FleetCache } from './service/index.ts';
import type { Asked, ThoughtName } from './think.ts';
import { thinkHere } from './thoughts.ts';

/** Few: one thing is worked out at a time, and it reads several tables at once. */
const CONNECTIONS = 4;

const { databaseUrl, hurries } = workerData as { databaseUrl: string; hurries: boolean };
if (!hurries) giveWay();
const pool = makePool(databaseUrl, { max: CONNECTIONS });
// Whoever asks hears of it by the statement that fails.
pool.on('error', () => undefined);
const say = (answer: Answer) => {
  parentPort!.postMessage(answer);
};
pool.on('slow', (statement, milliseconds) => {
  say({ slow: [statement, milliseconds] });
});
const db = makeDb(pool);
const think = thinkHere({ db, fleet: new FleetCache(db) });

/** The first code on the way down: what happened to the database is told by it. */
function codeOf(error: unknown): string | undefined {
  for (let e = error, deep = 0; typeof e === 'object' && e !== null && deep < 5; deep++) {
    if ('code' in e && typeof e.code === 'string') return e.code;
    e = 'cause' in e ? e.cause : null;
  }
  return undefined;
}
const innermost = (error: unknown): string =>
  error instanceof Error ? (error.cause instanceof Error ? innermost(error.cause) : error.message) : String(error);

async function work<N extends ThoughtName>(id: number, name: N, asked: Asked<N>): Promise<void> {
  try {
    say({ id, text: JSON.stringify(await think(name, asked)) });
  } catch (error) {
    if (error instanceof HttpProblem) say({ id, problem: { ...error.body(), again: error.again } });
    else
      say({
        id,
        error: { name: error instanceof Error ? error.name : 'Error', message: innermost(error), code: codeOf(error) },
      });
  }
}

parentPort!.on('message', ({ id, name, asked }: { id: number; name: ThoughtName; asked: never }) => {
  void work(id, name, asked);
});
