import type { Logger } from 'pino';
import { Worker } from 'node:worker_threads';
import { fromSources, threadFile } from './apart.ts';
import { HttpProblem } from './http/problem.ts';
import { sharedText } from './http/shared.ts';
import { LONG, type Asked, type Think, type ThoughtName } from './think.ts';

/** What the thread answers: the text of a reply, or what went wrong. */
export type Answer =
  | { id: number; text: string }
  | { id: number; problem: ReturnType<HttpProblem['body']> & { again: number | undefined } }
  | { id: number; error: { name: string; message: string; code: string | undefined } }
  | { slow: [statement: string, milliseconds: number] };

interface Waiting {
  done: (text: string) => void;
  failed: (error: unknown) => void;
}

/** Two threads beside the loop: one for what people wait for all day, one, made when it is needed, for the rest. */
export function besides(
  databaseUrl: string,
  logger: Logger,
  slow: (statement: string, milliseconds: number) => void,
): { think: Think; stop: () => Promise<void> } {
  const [daily, rest] = [true, false].map((hurries) => new Beside(databaseUrl, logger, slow, hurries)) as [
    Beside,
    Beside,
  ];
  return {
    think: (name, asked) => (LONG.includes(name) ? rest : daily).think(name, asked),
    stop: async () => {
      await Promise.all([daily.stop(), rest.stop()]);
    },
  };
}

/**
 * A thread that lives beside the loop with a cache of the fleet of its own. What takes long to work out is worked out
 * there, and comes back as text that is sent as it is: nobody who asks for something else waits for it.
 */
export class Beside {
  readonly #databaseUrl: string;
  readonly #logger: Logger;
  readonly #slow: (statement: string, milliseconds: number) => void;
  readonly #waiting = new Map<number, Waiting>();
  #thread: Worker | null = null;
  #last = 0;
  #stopped = false;

  readonly #hurries: boolean;

  /**
   * @param slow hears of statements of the thread that took long
   * @param hurries people wait for it; else it gives way to those who answer people
   */
  constructor(
    databaseUrl: string,
    logger: Logger,
    slow: (statement: string, milliseconds: number) => void,
    hurries = true,
  ) {
    this.#hurries = hurries;
    this.#databaseUrl = databaseUrl;
    this.#logger = logger;
    this.#slow = slow;
  }

  readonly think: Think = async <N extends ThoughtName>(name: N, asked: Asked<N>) => {
    const text = await new Promise<string>((done, failed) => {
      const id = ++this.#last;
      this.#waiting.set(id, { done, failed });
      this.#open().postMessage({ id, name, asked });
    });
    return sharedText(text);
  };

  #open(): Worker {
    if (this.#thread) return this.#thread;
    if (this.#stopped) throw new HttpProblem(503, 'The app is being ended. Try again in a moment.');
    const file = threadFile('beside-thread', import.meta.url);
    const workerData = { databaseUrl: this.#databaseUrl, hurries: this.#hurries };
    const thread = file.pathname.endsWith('.ts')
      ? new Worker(fromSources(file), { workerData, eval: true })
      : new Worker(file, { workerData });
    thread.on('message', (answer: Answer) => {
      this.#hear(answer);
    });
    thread.once('error', (error) => {
      this.#logger.error({ err: error }, 'the thread beside the loop failed; it is started again');
    });
    thread.once('exit', () => {
      if (this.#thread === thread) this.#thread = null;
      for (const { failed } of this.#waiting.values())
        failed(new HttpProblem(503, 'This broke off while it was worked out. Try again in a moment.'));
      this.#waiting.clear();
    });
    this.#thread = thread;
    return thread;
  }

  #hear(answer: Answer): void {
    if ('slow' in answer) {
      this.#slow(...answer.slow);
      return;
    }
    const waiting = this.#waiting.get(answer.id);
    this.#waiting.delete(answer.id);
    if ('text' in answer) waiting?.done(answer.text);
    else if ('problem' in answer) {
      const { status, detail, faults, type, again } = answer.problem;
      waiting?.failed(new HttpProblem(status, detail, faults, type as HttpProblem['type'], again));
    } else {
      const { name, message, code } = answer.error;
      waiting?.failed(Object.assign(new Error(message), { name, ...(code !== undefined && { code }) }));
    }
  }

  /** Ends the thread; who asks next gets another. */
  async end(): Promise<void> {
    await this.#thread?.terminate();
  }

  /** Ends it for good. */
  async stop(): Promise<void> {
    this.#stopped = true;
    await this.end();
  }
}
