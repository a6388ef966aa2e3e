// Starts the app's processes, starts one again when it dies, and renews them one after the other.
// @ts-check
import cluster from 'node:cluster';
import { parseArgs } from 'node:util';
import { join } from 'node:path';
import { freePort } from './cluster.mjs';
import { Trouble } from './trouble.mjs';

/**
 * What whoever starts does for whoever watches: words for an error, and an end when nothing helps.
 * @typedef {{ sentence: (error: unknown) => string, giveUp: () => void }} Watcher
 */

/** @type {unknown} */
let gatherer;

/** So often in a row a process may fail to open before the start is given up; it waits longer each time. */
const MOST_FAILURES = 8;
const STEADY_MS = 60_000;
const MOST_PROCESSES = 64;

/**
 * A number of processes, where one is given.
 * @param {string} option @param {string | undefined} text @param {number} least @param {number | null} usual
 */
function readCount(option, text, least, usual) {
  if (text === undefined) return usual;
  const count = Number(text);
  if (text.trim() === '' || !Number.isInteger(count) || count < least || count > MOST_PROCESSES)
    throw new Trouble(
      `"${text}" is no number of processes. Use ${least} to ${MOST_PROCESSES}, as many as there are processors: npm start -- ${option} 4`,
    );
  return count;
}

/**
 * How many processes answer people, and how many do what nobody waits for. Without a word of the latter, those that
 * answer do it too; 0 leaves it to workers elsewhere. `npm start -- --processes 4`, or by the environment.
 */
export function readProcesses(args = process.argv.slice(2), env = process.env) {
  const given = readOptions(args);
  const workers = readCount('--workers', given.workers ?? env.DIURNA_WORKERS, 0, null);
  const serving = readCount('--processes', given.processes ?? env.DIURNA_PROCESSES, workers ? 0 : 1, 1) ?? 1;
  return { serving, workers };
}

/** Another word than these two is a slip, and is not passed over: who mistyped one would run one process unawares. */
function readOptions(/** @type {string[]} */ args) {
  try {
    return parseArgs({ args, options: { processes: { type: 'string' }, workers: { type: 'string' } } }).values;
  } catch (error) {
    throw new Trouble(
      `${/** @type {Error} */ (error).message.split('. ')[0]}. npm start takes --processes N and --workers N; all else is set by the environment: docs/operating.md.`,
    );
  }
}

/** @typedef {import('node:cluster').Worker} Child */

/** A process that does not end by itself within so long is ended. */
const MOST_ENDING_MS = 20_000;

/** Ends a process and waits until it is gone. @param {Child} child */
const endChild = (child) =>
  new Promise((done) => {
    const gone = () => {
      done(undefined);
    };
    if (child.process.exitCode !== null || child.process.signalCode !== null) gone();
    else {
      const kill = setTimeout(() => child.process.kill('SIGKILL'), MOST_ENDING_MS);
      child.process.once('exit', () => {
        clearTimeout(kill);
        gone();
      });
      child.process.kill('SIGTERM');
    }
  });

/**
 * A connection handed to a process that dies before it says it has it would stay open in nobody's hands, and whoever
 * asked would wait for ever (Node's cluster keeps no list of them): it is cut, so that they ask again.
 * @param {Child} child
 */
function cutWhatIsLost(child) {
  /** @type {Map<number, { close: () => void }>} */
  const given = new Map();
  const { process: at } = child;
  const send = /** @type {(...all: any[]) => boolean} */ (at.send.bind(at));
  at.send = (/** @type {any[]} */ ...all) => {
    const [message, handle] = all;
    if (handle && message?.act === 'newconn') given.set(message.seq, handle);
    return send(...all);
  };
  at.on(/** @type {any} */ ('internalMessage'), (/** @type {any} */ said) => {
    if (said?.ack !== undefined) given.delete(said.ack);
  });
  at.once('exit', () => {
    for (const handle of given.values()) handle.close();
  });
}

/**
 * @param {Child} child @param {object} options what the app is started with
 * @returns {Promise<number>} its port, once it is open
 * @throws what kept it from opening
 */
const opened = (child, options) =>
  new Promise((done, failed) => {
    child.on('message', (/** @type {any} */ said) => {
      if (said.listens) child.send({ options });
      else if (said.port !== undefined) done(said.port);
      else if (said.failed !== undefined)
        failed(/** @type {Error} */ (Object.assign(said.newer ? new Trouble() : new Error(), said.failed)));
    });
    child.process.once('exit', (code, signal) => {
      failed(new Trouble(`The app ended before it was open (${signal ?? `status ${code}`}).`));
    });
  });

/**
 * One process of the app; when it dies it is started again, and that is said.
 * @param {() => object} options @param {() => Record<string, string>} sameClock what a process is given to
 * show the time this one does @param {string} name in what is said
 * @param {Watcher} watcher
 */
function watchOne(options, sameClock, name, watcher) {
  /** Deaths one soon after the other, and openings that failed, in a row. */
  let deaths = 0;
  let failures = 0;
  let ending = false;
  /** @type {Child | undefined} */
  let app;
  /** @type {Set<Child>} */
  const children = new Set();
  const open = async () => {
    // A book that has a clock of its own goes on where it stands.
    const child = cluster.fork(sameClock());
    const began = performance.now();
    children.add(child);
    cutWhatIsLost(child);
    child.process.once('exit', () => {
      children.delete(child);
    });
    // While another is in its place it may fail without harm.
    const port = await opened(child, options());
    app = child;
    child.process.once('exit', (code, signal) => {
      if (ending || app !== child) return;
      deaths = performance.now() - began > STEADY_MS ? 1 : deaths + 1;
      console.error(`${name} ended unexpectedly (${signal ?? `status ${code}`}); it is started again.`);
      again();
    });
    return port;
  };
  /** One is opened at a time: renewed while it is started again, there would be two. @type {Promise<unknown>} */
  let turn = Promise.resolve();
  const inTurn = (/** @type {() => Promise<unknown>} */ work) => {
    const mine = turn.then(work);
    turn = mine.catch(() => undefined);
    return mine;
  };
  const runs = () => app !== undefined && app.process.exitCode === null && app.process.signalCode === null;
  const again = () =>
    setTimeout(
      () => {
        inTurn(async () => {
          if (!ending && !runs()) await open();
          failures = 0;
        }).catch((error) => {
          failures++;
          console.error(watcher.sentence(error));
          if (failures < MOST_FAILURES) again();
          else watcher.giveUp();
        });
      },
      Math.min(5000, 200 * 2 ** (failures + Math.min(deaths, 2))),
    );
  return {
    open,
    /** Puts another process in its place, and ends it once that is open. */
    renew: () =>
      inTurn(async () => {
        const old = app;
        await open();
        if (old) await endChild(old);
      }),
    stop: async () => {
      ending = true;
      await Promise.all([...children].map(endChild));
    },
  };
}

/** Gathers what all processes count, for the one that was asked. @param {Child} child @param {number} id */
async function gather(child, id) {
  const { AggregatorRegistry } = await import('prom-client');
  gatherer ??= new AggregatorRegistry();
  const text = await /** @type {import('prom-client').AggregatorRegistry<any>} */ (gatherer)
    .clusterMetrics()
    .catch(() => undefined);
  if (child.isConnected()) child.send({ gathered: id, text });
}

/**
 * The app in processes of its own; those that answer people share one port.
 * @param {{ port: number, [key: string]: unknown }} options @param {() => Record<string, string>} sameClock
 * @param {{ serving: number, workers: number | null }} counts @param {Watcher} watcher
 * @returns {Promise<{ port: number, renew: () => Promise<void>, stop: () => Promise<void> }>} once all are open
 */
export async function watchOver(options, sameClock, { serving, workers }, watcher) {
  cluster.setupPrimary({ exec: join(import.meta.dirname, 'app.mjs'), args: [] });
  cluster.on('message', (child, /** @type {any} */ said) => {
    if (said.gatherFor !== undefined) void gather(child, said.gatherFor);
  });
  const works = workers === null;
  const all = [
    ...Array.from({ length: serving }, (_, i) =>
      watchOne(
        () => ({ ...options, works }),
        sameClock,
        serving === 1 ? 'The app' : `Process ${i + 1} of the app`,
        watcher,
      ),
    ),
    ...Array.from({ length: workers ?? 0 }, (_, i) =>
      watchOne(() => ({ ...options, serves: false }), sameClock, `Worker ${i + 1}`, watcher),
    ),
  ];
  // "Any" would be another one for each process, and another again for one that is started anew.
  if (options.port === 0) options = { ...options, port: await freePort() };
  // The first brings the tables up to date.
  await all[0].open();
  await Promise.all(all.slice(1).map((one) => one.open()));
  return {
    port: options.port,
    renew: async () => {
      for (const one of all) await one.renew();
    },
    stop: async () => {
      await Promise.all(all.map((one) => one.stop()));
    },
  };
}
