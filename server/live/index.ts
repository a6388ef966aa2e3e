import pg from 'pg';
import type { Response } from 'express';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { aliveSessions } from '../http/session.ts';

/** Proxies and browsers give a silent stream up. */
const BEAT_MS = 10_000;
/** Lost, the connection is made again after so long, while it fails again and again. */
const RETRY_MS = 500;
/** A connection that says nothing to a question for so long is given up. */
const ANSWER_MS = 2_000;
const MOST = 2_000;

/**
 * Tells screens what changes, as server-sent events. Each process listens to the database on one connection of
 * its own, so that changes made through any process reach the screens of all.
 */
export class Live {
  readonly #url: string | undefined;
  /** Open screens, each with its session: it ends with that. */
  readonly #screens = new Map<Response, string>();
  readonly #pool: pg.Pool;
  readonly #beat: NodeJS.Timeout;
  readonly #ask: NodeJS.Timeout;
  #client: pg.Client | null = null;
  #listening: Promise<void> | null = null;
  #stopped = false;
  #retry: NodeJS.Timeout | undefined;

  constructor(pool: pg.Pool) {
    this.#pool = pool;
    this.#url = pool.options.connectionString;
    this.#beat = setInterval(() => {
      this.#write(': still here\n\n');
      void this.#endWithSessions().catch(() => undefined);
    }, BEAT_MS);
    // A network that went away says nothing of it: the connection is asked.
    this.#ask = setInterval(() => {
      const client = this.#client;
      client?.query('select 1').catch(() => {
        this.#lost(client);
      });
    }, ANSWER_MS);
    this.#ask.unref();
    this.#beat.unref();
  }

  handlers(): Handlers<'live'> {
    return {
      live: ({ res, req }) => {
        if (this.#screens.size >= MOST)
          throw new HttpProblem(
            503,
            'Too many screens listen to this book. They are brought up to date when they ask.',
          );
        res
          .status(200)
          .set({
            'content-type': 'text/event-stream; charset=utf-8',
            'cache-control': 'no-store',
            'x-accel-buffering': 'no',
            connection: 'keep-alive',
          });
        res.flushHeaders();
        res.write('retry: 2000\n\n');
        this.#screens.set(res, req.sessionID);
        // Greeted when nothing can be missed any more; while the database is away the screen waits with us.
        this.#listen().then(
          () => res.write('data: hello\n\n'),
          () => {
            this.#again();
          },
        );
        req.on('close', () => {
          this.#screens.delete(res);
        });
        return Promise.resolve(null);
      },
    };
  }

  stop(): void {
    this.#stopped = true;
    clearInterval(this.#beat);
    clearInterval(this.#ask);
    clearTimeout(this.#retry);
    for (const res of this.#screens.keys()) res.end();
    this.#screens.clear();
    void this.#client?.end().catch(() => undefined);
  }

  /** Whoever was signed out, here or elsewhere, hears nothing more. */
  async #endWithSessions(): Promise<void> {
    if (this.#screens.size === 0) return;
    const alive = await aliveSessions(this.#pool, [...new Set(this.#screens.values())]);
    for (const [res, sid] of this.#screens) if (!alive.has(sid)) res.end();
  }

  #write(text: string): void {
    for (const res of this.#screens.keys()) res.write(text);
  }

  /** The first screen makes the connection, all wait for the same one. */
  #listen(): Promise<void> {
    if (this.#stopped || !this.#url) return Promise.resolve();
    this.#listening ??= this.#connect(this.#url).catch((error: unknown) => {
      this.#listening = null;
      throw error;
    });
    return this.#listening;
  }

  async #connect(url: string): Promise<void> {
    const client = new pg.Client({
      connectionString: url,
      connectionTimeoutMillis: ANSWER_MS,
      query_timeout: ANSWER_MS,
      keepAlive: true,
    });
    client.on('notification', ({ payload }) => {
      this.#write(`data: ${payload ?? ''}\n\n`);
    });
    const lost = () => {
      this.#lost(client);
    };
    client.on('error', lost);
    client.on('end', lost);
    try {
      await client.connect();
      await client.query('listen diurna');
      this.#client = client;
      if (this.#stopped) void client.end().catch(() => undefined);
    } catch (error) {
      void client.end().catch(() => undefined);
      throw error;
    }
  }

  #lost(client: pg.Client): void {
    if (this.#client !== client) return;
    this.#client = null;
    this.#listening = null;
    void client.end().catch(() => undefined);
    this.#again();
  }

  /** Listens again as long as screens are open; they look anew then, for what they missed. */
  #again(): void {
    clearTimeout(this.#retry);
    if (this.#stopped || this.#screens.size === 0) return;
    this.#retry = setTimeout(() => {
      this.#listen().then(
        () => {
          this.#write('data: all\n\n');
        },
        () => {
          this.#again();
        },
      );
    }, RETRY_MS);
  }
}
