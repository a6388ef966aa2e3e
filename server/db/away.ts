/** How long whoever was told so waits before the next try (s). */
export const AGAIN_SECONDS = 2;

/** Codes of Node.js and of PostgreSQL (appendix A of its manual) that say: the database is not there just now. */
const AWAY = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOTFOUND',
  'EAI_AGAIN',
  'EHOSTUNREACH',
  'ENETUNREACH',
  // Ended by an administrator, by a crash, or not yet open.
  '57P01',
  '57P02',
  '57P03',
  // A failed-over database that takes no writes yet.
  '25006',
  '08000',
  '08001',
  '08003',
  '08004',
  '08006',
]);
/** It is there and cannot do more: too many connections, a lock or a statement that took too long. */
const BUSY = new Set(['53300', '53400', '55P03', '57014', '25P03']);
/** What the driver says itself, without a code. */
const SAID_AWAY =
  /^(Connection terminated|Client has encountered a connection error|Client was closed|Cannot use a pool after calling end)/;
const SAID_BUSY = /^(timeout exceeded when trying to connect|Query read timeout)/;

/** An error and what caused it, outermost first. */
function* causesOf(error: unknown): Generator<{ code?: unknown; message?: unknown }> {
  for (let e = error, deep = 0; typeof e === 'object' && e !== null && deep < 5; deep++) {
    yield e;
    e = (e as { cause?: unknown }).cause;
  }
}

/** Whether an error means that the database is away or too busy; null when it means something else. */
export function databaseTrouble(error: unknown): 'away' | 'busy' | null {
  for (const { code, message } of causesOf(error)) {
    const said = typeof message === 'string' ? message : '';
    if ((typeof code === 'string' && AWAY.has(code)) || SAID_AWAY.test(said)) return 'away';
    if ((typeof code === 'string' && BUSY.has(code)) || SAID_BUSY.test(said)) return 'busy';
  }
  return null;
}
