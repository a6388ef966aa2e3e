import { Worker } from 'node:worker_threads';

/** Threads at once; more would take the processors from those who wait for an answer. */
const MOST_AT_ONCE = 2;
const waiting: (() => void)[] = [];
let running = 0;

/** Tests run the sources as they stand: the thread learns to read them first. */
export const fromSources = (file: URL) =>
  `import('tsx/esm/api').then((tsx) => { tsx.register(); return import(${JSON.stringify(file.href)}); });`;

/** The thread was not done when its time was over. */
export class TookTooLong extends Error {}

/** Where a thread's file lies: beside the bundled server, or in the sources. */
export const threadFile = (name: string, from: string): URL =>
  new URL(from.endsWith('.ts') ? `./${name}.ts` : `./${name}.js`, from);

/**
 * Does work of unknown length in a thread of its own, so that nobody waits for it: a thread that takes too long, or
 * more memory than it is given, is ended. It gives back the one message it sends.
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
      timer = setTimeout(() => {
        reject(new TookTooLong(`not done in ${milliseconds} ms`));
      }, milliseconds);
      thread.once('message', resolve);
      thread.once('error', reject);
      thread.once('exit', () => {
        reject(new Error('the thread ended without a word'));
      });
    });
  } finally {
    clearTimeout(timer);
    await thread.terminate();
    running--;
    waiting.shift()?.();
  }
}
