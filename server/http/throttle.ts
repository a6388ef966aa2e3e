import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type pg from 'pg';
import { HttpProblem } from './problem.ts';

/** Tries of one kind: whose, how many are free, and how long one waits at most after more (s). */
export interface Tries {
  key: string;
  free: number;
  mostWait: number;
}

/** Tries are forgotten a day after the last one. */
const REMEMBERED_S = 86_400;

/** Two seconds after the first try too many, twice as long after each further one. */
export const waitAfter = (tries: number, { free, mostWait }: Tries): number =>
  tries <= free ? 0 : Math.min(mostWait, 2 ** Math.min(30, tries - free));

const inWords = (ms: number): string => {
  const seconds = Math.max(1, Math.ceil(ms / 1000));
  return seconds < 90 ? `${seconds} s` : `${Math.ceil(seconds / 60)} min`;
};

/**
 * Slows guessing down, across all app processes: each try counts before it is looked at, and one too many opens a
 * wait in which none passes, longer every time. Nobody is locked out for good. The machine's clock counts, as for
 * sessions.
 */
export class Throttle {
  readonly #tries: RateLimiterPostgres;
  readonly #waits: RateLimiterPostgres;

  constructor(pool: pg.Pool) {
    const common = { storeClient: pool, tableName: 'sign_in_throttle', tableCreated: true };
    this.#tries = new RateLimiterPostgres({ ...common, keyPrefix: 'tries', points: 1e9, duration: REMEMBERED_S });
    this.#waits = new RateLimiterPostgres({ ...common, keyPrefix: 'wait', points: 1, duration: 1 });
  }

  /** @throws 429 with how long to wait, when one of these has had too many tries */
  async attempt(kinds: Tries[]): Promise<void> {
    for (const { key } of kinds) {
      const waiting = await this.#waits.get(key);
      if (waiting !== null && waiting.consumedPoints > 0 && waiting.msBeforeNext > 0) throw tooMany(waiting);
    }
    for (const kind of kinds) {
      const { consumedPoints } = await this.#tries.penalty(kind.key);
      const wait = waitAfter(consumedPoints, kind);
      if (wait === 0) continue;
      try {
        // Of many at once only the first opens the wait; the rest are in it.
        await this.#waits.consume(kind.key, 1, { customDuration: wait });
      } catch (error) {
        throw error instanceof RateLimiterRes ? tooMany(error) : error;
      }
    }
  }

  /** What was right does not count: forgotten where it was one's own, taken back where others share it. */
  async right(own: Tries[], common: Tries[] = []): Promise<void> {
    for (const { key } of own) {
      await this.#tries.delete(key);
      await this.#waits.delete(key);
    }
    for (const { key } of common) await this.#tries.reward(key);
  }
}

const tooMany = (by: RateLimiterRes) =>
  new HttpProblem(
    429,
    `Too many tries. Wait ${inWords(by.msBeforeNext)} and try again, or ask an administrator.`,
    undefined,
    'about:blank',
    Math.max(1, Math.ceil(by.msBeforeNext / 1000)),
  );
