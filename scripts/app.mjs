// The app's own process: `npm start` watches over it and starts it again when it dies.
// @ts-check
import { join } from 'node:path';

/** @type {{ stop: () => Promise<void> } | null} */
let running = null;
let stopping = false;

async function stop() {
  if (stopping) return;
  stopping = true;
  await running?.stop().catch((/** @type {unknown} */ error) => {
    console.error(String(error));
  });
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
// Ctrl-C goes to all of a terminal's processes: the one that watches decides.
process.on('SIGINT', () => undefined);
// Whoever watched is gone: an app nobody can stop is not left behind.
process.on('disconnect', () => void stop());

/** @type {Map<number, { done: (text: string) => void, failed: (error: Error) => void }>} */
const asked = new Map();
let last = 0;
/** The metrics of all processes: whoever watches over them gathers them. @returns {Promise<string>} */
const allMetrics = () =>
  new Promise((done, failed) => {
    const id = ++last;
    asked.set(id, { done, failed });
    process.send?.({ gatherFor: id });
  });
process.on('message', (/** @type {any} */ said) => {
  if (said.gathered === undefined) return;
  const waiting = asked.get(said.gathered);
  asked.delete(said.gathered);
  if (said.text === undefined) waiting?.failed(new Error('the metrics of the processes could not be gathered'));
  else waiting?.done(said.text);
});

process.once('message', (/** @type {any} */ { options }) => {
  void (async () => {
    const [server, { AggregatorRegistry }] = await Promise.all([
      import(join(import.meta.dirname, '../dist/server.js')),
      import('prom-client'),
    ]);
    try {
      const started = await server.start({ ...options, clock: server.processClock(), allMetrics });
      running = started;
      // Made, it answers whoever gathers.
      new AggregatorRegistry();
      AggregatorRegistry.setRegistries(started.metrics);
      process.send?.({ port: /** @type {any} */ (running).port });
    } catch (error) {
      const { code, message, cause } = /** @type {any} */ (error);
      const said = { code, message, cause: cause && { code: cause.code, message: cause.message } };
      process.send?.({ failed: said, newer: error instanceof server.NewerDatabase }, () => process.exit(1));
    }
  })();
});
// What is said to a process of a cluster before it listens is lost.
process.send?.({ listens: true });
