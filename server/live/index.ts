import pg from 'pg';
import type { Response } from 'express';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';

/** Proxies and browsers give a silent stream up. */
const BEAT_MS = 20_000;
const RETRY_MS = 2_000;
const MOST = 2_000;

/**
 * Tells screens what changes, as server-sent events. Each process listens to the database on one connection of
 * its own, so that changes made through any process reach the screens of all.
 */
export class Live {
  readonly #url: string | undefined;
  readonly #screens = new Set<Response>();
  readonly #beat: NodeJS.Timeout;
  #client: pg.Client | null = null;
  #stopped = false;
  #retry: NodeJS.Timeout | undefined;

  constructor(connectionString: string | undefined) {
    this.#url = connectionString;
    this.#beat = setInterval(() => {
      this.#write(': still here\n\n');
    }, BEAT_MS);
    this.#beat.unref();
  }

  handlers(): Handlers<'live'> {
    return {
      live: async ({ res, req }) => {
        if (this.#screens.size >= MOST)
          throw new HttpProblem(
            503,
            'Too many screens listen to this book. They are brought up to date when they ask.',
          );
        await this.#listen();
        res
          .status(200)
          .set({
            'content-type': 'text/event-stream; charset=utf-8',
            'cache-control': 'no-store',
            'x-accel-buffering': 'no',
            connection: 'keep-alive',
          });
        res.flushHeaders();
        res.write('retry: 2000\n\ndata: hello\n\n');
        this.#screens.add(res);
        req.on('close', () => {
          this.#screens.delete(res);
        });
        return null;
      },
    };
  }

  stop(): void {
    this.#stopped = true;
    clearInterval(this.#beat);
    clearTimeout(this.#retry);
    for (const res of this.#screens) res.end();
    this.#screens.clear();
    void this.#client?.end().catch(() => undefined);
  }

  #write(text: string): void {
    for (const res of this.#screens) res.write(text);
  }

  /** The first screen makes the connection; when it is lost it is made again, and screens are told to look anew. */
  async #listen(): Promise<void> {
    if (this.#client || this.#stopped || !this.#url) return;
    const client = new pg.Client({ connectionString: this.#url });
    this.#client = client;
    client.on('notification', ({ payload }) => {
      this.#write(`data: ${payload ?? ''}\n\n`);
    });
    const lost = () => {
      if (this.#client !== client) return;
      this.#client = null;
      if (this.#stopped || this.#screens.size === 0) return;
      this.#retry = setTimeout(() => {
        this.#listen()
          .then(() => {
            this.#write('data: all\n\n');
          })
          .catch(() => undefined);
      }, RETRY_MS);
    };
    client.on('error', lost);
    client.on('end', lost);
    try {
      await client.connect();
      await client.query('listen diurna');
    } catch (error) {
      this.#client = null;
      throw error;
    }
  }
}
