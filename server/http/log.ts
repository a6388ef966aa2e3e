import { pino, type DestinationStream, type Logger } from 'pino';

interface Failed {
  type: string;
  message: string;
  code?: string;
  at?: string[];
}

const CODE = /^[0-9A-Z]{5}$/;
const isStatement = (error: object) => 'query' in error && 'params' in error;

/** Where in the code it failed; the lines above hold the message. */
const placesOf = (error: Error): string[] =>
  (error.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12)
    .map((line) => line.trim());

/**
 * An error as it may stand in a log: what failed and where, never what somebody typed. A statement's values, and what
 * the database says of them, are left out; so is the message of an error that was caused by one.
 */
export function loggedError(error: unknown): Failed {
  if (!(error instanceof Error)) return { type: typeof error, message: 'something that is no error was thrown' };
  const cause = error.cause instanceof Error ? error.cause : null;
  const database = [error, cause].find(
    (e): e is Error & { code: string; routine?: string; table?: string; constraint?: string } =>
      e !== null && 'code' in e && typeof e.code === 'string' && CODE.test(e.code) && 'severity' in e,
  );
  if (database) {
    const { code, routine, table, constraint } = database;
    const where = [routine, table && `table ${table}`, constraint && `constraint ${constraint}`].filter(Boolean);
    return { type: 'database', code, message: `refused with ${code} (${where.join(', ')})`, at: placesOf(error) };
  }
  const code = [error, cause].map((e) => (e && 'code' in e ? e.code : undefined)).find((c) => typeof c === 'string');
  return {
    type: error.name,
    message: isStatement(error) ? `a statement failed: ${cause?.message ?? 'no cause is known'}` : error.message,
    ...(code !== undefined && { code }),
    at: placesOf(error),
  };
}

/** Parts of an address that say where, not what: words of ours, ids. */
const PLAIN = /^(?:[a-z][a-z-]{0,24}|\d{1,12}|[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}|openapi\.json|index\.html)?$/;

/** An address as it may stand in a log: without its question, and without what may be a key or somebody's words. */
export const loggedPath = (url: string): string =>
  url
    .split('?')[0]!
    .split('/')
    .map((part) => (PLAIN.test(part) ? part : '...'))
    .join('/');

/** Logs carry ids and paths, never bodies, cookies, tokens, passwords or values of statements. */
export function makeLogger(level: string, to?: DestinationStream): Logger {
  const options = { level, serializers: { err: loggedError }, redact: ['req.headers', 'res.headers["set-cookie"]'] };
  return to ? pino(options, to) : pino(options);
}
