import type { Slow } from '@diurna/contract/system';
import type { Clock } from '@diurna/core/calendar';
import { randomUUID } from 'node:crypto';
import { lt } from 'drizzle-orm';
import type { RequestHandler } from 'express';
import type { Logger } from 'pino';
import { Counter, Histogram, Registry, collectDefaultMetrics } from 'prom-client';
import { tables, type Db } from '../db/index.ts';
import { BOUNDS, countIn, emptyBuckets, type Buckets } from './buckets.ts';
import { watchLoop, type LoopDelay } from './loop.ts';

const { watchedHour } = tables;

/** What one process tells of itself for one hour. */
export interface Told {
  requests: number;
  failed: number;
  busy: number;
  took: Buckets;
  loopP99: number;
  memory: number;
  slowRequests: Slow[];
  slowStatements: Slow[];
}

const HOUR_MS = 3_600_000;
const WRITE_MS = 60_000;
const KEPT_MS = 8 * 24 * HOUR_MS;
/** Of what took longest, so many are kept an hour. */
const LONGEST = 8;
/** An answer that takes longer stands among the slow ones (ms). */
const SLOW_REQUEST_MS = 500;
/** Streams last as long as somebody listens: how long says nothing. */
const STREAMS = new Set(['live', 'computePlan']);

const emptyTold = (): Told => ({
  requests: 0,
  failed: 0,
  busy: 0,
  took: emptyBuckets(),
  loopP99: 0,
  memory: 0,
  slowRequests: [],
  slowStatements: [],
});

/** Keeps what took longest, one line for each thing. */
function keep(slow: Slow[], one: Slow): Slow[] {
  const before = slow.find((s) => s.what === one.what);
  if (before && before.took >= one.took) return slow;
  return [...slow.filter((s) => s.what !== one.what), one].sort((a, b) => b.took - a.took).slice(0, LONGEST);
}

/**
 * Watches this process: counts its answers for `/metrics`, and tells the book each minute what the hour was like, so
 * that an administrator sees the last day of all processes.
 */
export class Watch {
  readonly registry = new Registry();
  /** This process, among all that ever told. */
  readonly #process = randomUUID();
  readonly #db: Db;
  readonly #clock: Clock;
  readonly #logger: Logger;
  readonly #loop = watchLoop();
  readonly #seconds: Histogram<'method' | 'route' | 'status'>;
  readonly #slow: Counter;
  readonly #timer: NodeJS.Timeout;
  #hour = 0;
  #told = emptyTold();
  /** Whether there is more to tell than was told last. */
  #more = false;

  constructor(db: Db, clock: Clock, logger: Logger) {
    this.#db = db;
    this.#clock = clock;
    this.#logger = logger;
    collectDefaultMetrics({ register: this.registry });
    this.#seconds = new Histogram({
      name: 'http_request_duration_seconds',
      help: 'How long answers took, by route and status; streams are left out.',
      labelNames: ['method', 'route', 'status'],
      buckets: BOUNDS.map((ms) => ms / 1000),
      registers: [this.registry],
    });
    this.#slow = new Counter({
      name: 'database_slow_statements_total',
      help: 'Statements that took longer than a quarter of a second.',
      registers: [this.registry],
    });
    this.#timer = setInterval(() => void this.write(), WRITE_MS);
    this.#timer.unref();
  }

  delay(): LoopDelay {
    return this.#loop.delay();
  }

  /** Counts what goes through; the route is known once it was answered. */
  middleware(): RequestHandler {
    return (req, res, next) => {
      const began = performance.now();
      res.once('finish', () => {
        // What is no route of ours is no name either: whoever asks could invent as many as they like.
        const route = (res.locals as { route?: string }).route ?? 'other';
        if (STREAMS.has(route)) return;
        const took = performance.now() - began;
        this.#seconds.observe({ method: req.method, route, status: res.statusCode }, took / 1000);
        const told = this.#now();
        told.requests++;
        if (res.statusCode === 503) told.busy++;
        else if (res.statusCode >= 500) told.failed++;
        countIn(told.took, took);
        if (took >= SLOW_REQUEST_MS)
          told.slowRequests = keep(told.slowRequests, {
            what: route,
            took: Math.round(took),
            at: this.#clock().toISOString(),
          });
      });
      next();
    };
  }

  /** Hears of a statement that took long. */
  slowStatement(statement: string, milliseconds: number): void {
    this.#slow.inc();
    this.#logger.warn({ statement, ms: milliseconds }, 'slow statement');
    const told = this.#now();
    told.slowStatements = keep(told.slowStatements, {
      what: statement,
      took: milliseconds,
      at: this.#clock().toISOString(),
    });
  }

  /** What is told of the hour that the book's clock shows; a new hour begins anew. */
  #now(): Told {
    const hour = Math.floor(this.#clock().getTime() / HOUR_MS);
    if (hour !== this.#hour) {
      if (this.#hour !== 0) void this.write();
      this.#hour = hour;
      this.#told = emptyTold();
    }
    this.#more = true;
    return this.#told;
  }

  /** Tells the book; while the database is away the next minute does. */
  async write(): Promise<void> {
    const told = this.#told;
    if (!this.#more) return;
    told.loopP99 = Math.max(told.loopP99, this.#loop.delay().p99);
    told.memory = Math.max(told.memory, Math.round(process.memoryUsage.rss() / 1e6));
    this.#more = false;
    const hour = new Date(this.#hour * HOUR_MS);
    const at = this.#clock();
    try {
      await this.#db
        .insert(watchedHour)
        .values({ hour, process: this.#process, at, told })
        .onConflictDoUpdate({ target: [watchedHour.hour, watchedHour.process], set: { told, at } });
    } catch (error) {
      this.#more = true;
      this.#logger.warn({ err: error }, 'the hour could not be told');
    }
  }

  stop(): void {
    clearInterval(this.#timer);
    this.#loop.stop();
    this.registry.clear();
  }
}

/** Forgets hours nobody asks for any more. @returns how many */
export async function forgetHours(db: Db, now: Date): Promise<number> {
  const { rowCount } = await db.delete(watchedHour).where(lt(watchedHour.hour, new Date(now.getTime() - KEPT_MS)));
  return rowCount ?? 0;
}
