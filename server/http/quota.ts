import { QUOTAS, type Quota } from '@diurna/contract';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type pg from 'pg';
import { HttpProblem } from './problem.ts';

const HOUR_S = 3600;
/** People at one address together may do so many times what one may. */
const SHARED = 8;

/** Limits what one person, and one address, may ask an hour of what costs much; across all app processes. */
export class Quotas {
  readonly #limiters: Map<Quota, { person: RateLimiterPostgres; address: RateLimiterPostgres }>;

  constructor(pool: pg.Pool) {
    const make = (keyPrefix: string, points: number) =>
      new RateLimiterPostgres({
        storeClient: pool,
        tableName: 'sign_in_throttle',
        tableCreated: true,
        keyPrefix,
        points,
        duration: HOUR_S,
      });
    this.#limiters = new Map(
      (Object.entries(QUOTAS) as [Quota, (typeof QUOTAS)[Quota]][]).map(([name, { anHour }]) => [
        name,
        { person: make(`quota-${name}`, anHour), address: make(`quota-${name}-from`, anHour * SHARED) },
      ]),
    );
  }

  /** @throws 429 with what is used up and when there is more */
  async use(quota: Quota, personId: number, address: string): Promise<void> {
    const { person, address: from } = this.#limiters.get(quota)!;
    try {
      await person.consume(personId);
      await from.consume(address);
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const seconds = Math.max(1, Math.ceil(error.msBeforeNext / 1000));
      throw new HttpProblem(
        429,
        `That was ${QUOTAS[quota].anHour} ${QUOTAS[quota].words} within an hour, more than one person may. There is more in ${Math.ceil(seconds / 60)} min.`,
        undefined,
        'about:blank',
        seconds,
      );
    }
  }
}
