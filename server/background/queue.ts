import { BACKGROUND_KINDS, type BackgroundKind } from '@diurna/contract/background';
import { setTimeout as sleep } from 'node:timers/promises';
import type pg from 'pg';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { executor, type Tx } from '../db/index.ts';

/** The schema of the queue's tables; they are its own and made by it. */
export const SCHEMA = 'background';

/** What a piece of work is told. Only what may stand in a table: ids and names, no addresses, no secrets. */
export interface Work {
  kind: BackgroundKind;
  /** What it is about, for people. */
  title: string | null;
  /** The id of what it is about. */
  subjectId: number | null;
  /** Who asked for it, and in which request; nobody did for what the book does by itself. */
  personId: number | null;
  requestId: string | null;
}

/** Does a piece of work and says in a sentence what came of it; `signal` tells that it is stopped. */
export type Doer = (work: Work, told: { signal: AbortSignal; log: Logger }) => Promise<string>;

/** Work that did not succeed, with the reason for people. */
export class WorkFailed extends Error {}
const BROKE_OFF = 'It broke off; the log says why, under the number of this work.';

/** How each kind is tried again, and how long it may take (s). */
const HOW: Record<BackgroundKind, { retryLimit: number; retryDelay: number; retryBackoff: boolean; longest: number }> =
  {
    feed: { retryLimit: 2, retryDelay: 30, retryBackoff: true, longest: 180 },
    // Each mail has its own tries.
    mail: { retryLimit: 0, retryDelay: 0, retryBackoff: false, longest: 600 },
    morning: { retryLimit: 2, retryDelay: 60, retryBackoff: true, longest: 300 },
    // A supplier who takes an order answers when somebody has looked.
    order: { retryLimit: 8, retryDelay: 20, retryBackoff: true, longest: 120 },
    tidy: { retryLimit: 3, retryDelay: 60, retryBackoff: true, longest: 300 },
  };

/** Pieces a process has in hand at once. */
const AT_ONCE = 2;
const LOOK_MS = 1_000;
/** How often a worker asks whether the work in its hands was stopped. */
const ASK_MS = 1_000;
const START_AGAIN_MS = 2_000;
const DAY_S = 86_400;

/**
 * The queue of what nobody waits for, in the database: any number of processes work at it, each piece is done by one
 * of them, and one that dies leaves its piece to the others.
 */
export class Queue {
  readonly #pool: pg.Pool;
  #boss: PgBoss;
  readonly #logger: Logger;
  readonly #doers: Record<BackgroundKind, Doer>;
  #stopped = false;
  #up = false;
  /** The rounds of this process, each with one piece in hand at a time. */
  #rounds: Promise<void>[] = [];
  readonly #ending = new AbortController();

  constructor(pool: pg.Pool, doers: Record<BackgroundKind, Doer>, logger: Logger) {
    this.#doers = doers;
    this.#logger = logger;
    this.#pool = pool;
    this.#boss = this.#make();
  }

  #make(): PgBoss {
    const boss = new PgBoss({
      // Through our connections: bounded in number and time, and made anew when the database was away.
      db: { executeSql: (text, values) => this.#pool.query(text, values as unknown[]) },
      schema: SCHEMA,
      // What is due is asked of the book's clock, by `followBook`.
      schedule: false,
      maintenanceIntervalSeconds: 60,
      archiveCompletedAfterSeconds: DAY_S,
      archiveFailedAfterSeconds: DAY_S,
      deleteAfterDays: 7,
    });
    boss.on('error', (error) => {
      if (!this.#stopped) this.#logger.warn({ err: error }, 'the queue could not go on just now');
    });
    return boss;
  }

  /**
   * Makes the queue's tables where they are missing; with `works`, takes work from it. While the database is away it is
   * tried again, so this never throws.
   */
  async start(works: boolean): Promise<void> {
    while (!this.#stopped)
      try {
        await this.#boss.start();
        for (const [name, { longest, ...how }] of Object.entries(HOW))
          await this.#boss.createQueue(name, { name, ...how, expireInSeconds: longest, retentionDays: 7 });
        // What was in the hands of a process that died goes back at once, not only in a minute.
        await (this.#boss as PgBoss & { maintain: () => Promise<unknown> }).maintain();
        this.#up = true;
        break;
      } catch (error) {
        this.#logger.warn({ err: error }, 'the queue is not open yet');
        // One that failed on its way holds itself for starting for good, and makes nothing any more.
        this.#boss = this.#make();
        await this.#pause(START_AGAIN_MS);
      }
    if (works) this.#rounds = Array.from({ length: AT_ONCE }, () => this.#round());
  }

  /** Waits, or less when the queue ends. */
  #pause(milliseconds: number): Promise<unknown> {
    return sleep(milliseconds, undefined, { signal: this.#ending.signal, ref: false }).catch(() => undefined);
  }

  /** Takes one piece after the other, and looks again after a while when there is none. */
  async #round(): Promise<void> {
    while (!this.#stopped) {
      let found = false;
      for (const kind of BACKGROUND_KINDS) {
        found = (await this.#take(kind)) || found;
      }
      if (!found) await this.#pause(LOOK_MS);
    }
  }

  /** One piece of a kind, if one waits. What the database cannot note is left to expire, and is done again then. */
  async #take(kind: BackgroundKind): Promise<boolean> {
    if (this.#stopped) return false;
    try {
      const [job] = await this.#boss.fetch<Work>(kind, { batchSize: 1 });
      if (!job) return false;
      try {
        await this.#boss.complete(kind, job.id, { outcome: await this.#do(job.id, job.data) });
      } catch (error) {
        // What is written down of a failure is its sentence: no stack, no statement.
        await this.#boss.fail(kind, job.id, { outcome: error instanceof WorkFailed ? error.message : BROKE_OFF });
      }
      return true;
    } catch (error) {
      this.#logger.warn({ err: error }, 'the queue could not go on just now');
      await this.#pause(START_AGAIN_MS);
      return false;
    }
  }

  /** Whether its tables are there. */
  get open(): boolean {
    return this.#up;
  }

  /**
   * @param once the same is sent once within so many seconds, by whichever process
   * @param tx stands or falls with that
   * @returns null when the same was sent, or the queue is not open
   */
  async send(
    work: Work,
    { once, tx }: { once?: { key: string; seconds: number }; tx?: Tx } = {},
  ): Promise<string | null> {
    if (!this.#up) return null;
    return this.#boss.send(work.kind, work, {
      ...(once && { singletonKey: once.key, singletonSeconds: once.seconds }),
      ...(tx && { db: executor(tx) }),
    });
  }

  /** Stops a piece that waits or is under way; whoever has it in hand lets it go within a second or two. */
  async cancel(tx: Tx, kind: BackgroundKind, id: string): Promise<void> {
    await this.#boss.cancel(kind, id, { db: executor(tx) });
  }

  async #do(id: string, work: Work): Promise<string> {
    const ending = new AbortController();
    const log = this.#logger.child({ work: id, kind: work.kind, ...(work.requestId && { request: work.requestId }) });
    const asking = setInterval(() => {
      this.#boss.getJobById(work.kind, id).then(
        (job) => {
          if (job?.state === 'cancelled') ending.abort(new WorkFailed('stopped by an administrator'));
        },
        () => undefined,
      );
    }, ASK_MS);
    asking.unref();
    const stopped = new Promise<never>((_resolve, reject) => {
      ending.signal.addEventListener('abort', () => {
        reject(ending.signal.reason as Error);
      });
    });
    try {
      const outcome = await Promise.race([this.#doers[work.kind](work, { signal: ending.signal, log }), stopped]);
      log.info('done');
      return outcome;
    } catch (error) {
      if (error instanceof WorkFailed) log.warn({ why: error.message }, 'not done');
      else log.error({ err: error }, 'not done');
      throw error;
    } finally {
      clearInterval(asking);
    }
  }

  /** Lets what is in hand come to its end, for so long; what does not is done again by others when it has expired. */
  async stop(milliseconds = 5_000): Promise<void> {
    this.#stopped = true;
    this.#ending.abort();
    await Promise.race([Promise.all(this.#rounds), sleep(milliseconds, undefined, { ref: false })]);
    if (this.#up) await this.#boss.stop({ graceful: false }).catch(() => undefined);
  }
}
