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

process.once('message', (/** @type {any} */ { options }) => {
  void (async () => {
    const server = await import(join(import.meta.dirname, '../dist/server.js'));
    try {
      running = await server.start({ ...options, clock: server.processClock() });
      process.send?.({ port: /** @type {any} */ (running).port });
    } catch (error) {
      const { code, message, cause } = /** @type {any} */ (error);
      const said = { code, message, cause: cause && { code: cause.code, message: cause.message } };
      process.send?.({ failed: said, newer: error instanceof server.NewerDatabase }, () => process.exit(1));
    }
  })();
});
