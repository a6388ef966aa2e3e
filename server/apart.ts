import { Worker } from 'node:worker_threads';

/** Threads at once; more would take the processors from those who wait for an answer. */
const MOST_AT_ONCE = 2;
const waiting: (() => void)[] = [];
let running = 0;

/** Tests run the sources as they stand: the thread learns to read them first. */
export const fromSources = (file: URL) =>
  `import('tsx/esm/api').then((tsx) => { tsx.register(); return import(${JSON.stringify(file.href)}); });`;

/** What a thread says first, once it is loaded: its time counts from then. */
export const BEGUN = 'begun';
/** How often it is looked whether its time is over (ms). */
const LOOK_MS = 50;
/** Where the machine gives the process no processor, a thread has at most so many times its time. */
const MOST_STARVED = 8;

/**
 * The time (ms) since the last asking in which the process had a processor. On a machine that is held down a thread
 * would be ended, and blamed, for time nobody gave it.
 */
function processorTime(): () => number {
  let at = performance.now();
  let used = process.cpuUsage();
  return () => {
    const now = performance.now();
    const { user, system } = process.cpuUsage(used);
    const spent = Math.min(now - at, (user + system) / 1000);
    at = now;
    used = process.cpuUsage();
    return spent;
  };
}

/** The thread was not done when its time was over. */
export class TookTooLong extends Error {}

/** Where a thread's file lies: beside the bundled server, or in the sources. */
export const threadFile = (name: string, from: string): URL =>
  new URL(from.endsWith('.ts') ? `./${name}.ts` : `./${name}.js`, from);

/**
 * Does work of unknown length in a thread of its own, so that nobody waits for it: a thread that takes too long, or
 * more memory than it is given, is ended. It says `BEGUN` once it is loaded, and then the one message that is given back.
 *
 * @param file the thread's file, see `threadFile`
 * @throws TookTooLong when the time is over; what the thread threw, when it failed
 */
export async function apart<T>(
  file: URL,
  workerData: unknown,
  { milliseconds, megabytes = 256 }: { milliseconds: number; megabytes?: number },
): Promise<T> {
  if (running >= MOST_AT_ONCE)
    await new Promise<void>((resolve) => {
      waiting.push(resolve);
    });
  running++;
  const options = { workerData, resourceLimits: { maxOldGenerationSizeMb: megabytes } };
  const thread = file.pathname.endsWith('.ts')
    ? new Worker(fromSources(file), { ...options, eval: true })
    : new Worker(file, options);
  let timer: NodeJS.Timeout | undefined;
  try {
    return await new Promise<T>((resolve, reject) => {
      const given = processorTime();
      const over = () => {
        reject(new TookTooLong(`not done in ${milliseconds} ms`));
      };
      let left = milliseconds;
      let begun = false;
      let looks = (milliseconds * MOST_STARVED) / LOOK_MS;
      timer = setInterval(() => {
        const spent = given();
        if (begun) left -= spent;
        looks -= 1;
        if (left <= 0 || looks <= 0) over();
      }, LOOK_MS);
      thread.on('message', (message: T | typeof BEGUN) => {
        if (message === BEGUN) begun = true;
        else resolve(message);
      });
      thread.once('error', reject);
      thread.once('exit', () => {
        reject(new Error('the thread ended without a word'));
      });
    });
  } finally {
    clearInterval(timer);
    await thread.terminate();
    running--;
    waiting.shift()?.();
  }
}
