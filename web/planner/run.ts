import { planLine } from '@diurna/contract/planner';
import { TOKEN_HEADER } from '@diurna/contract/route';
import type { PlannedVisit, PlanPin, PlanProblem } from '@diurna/core/planner';
import type { FromProver, ToProver } from './prover.worker.ts';
import type { FromSearch, ToSearch } from './search.ts';

export interface RunNews {
  visits: PlannedVisit[];
  cost: number;
  bound: number | null;
  /** From 0 to 1. */
  share: number;
  over: boolean;
  /** Pins that cannot be kept: there is no plan. */
  faults: string[] | null;
  /** Why nothing more comes, when it ended by itself; the best plan so far holds. */
  broken: string | null;
}

/** Nothing heard yet: no plan has been found. */
export const SILENCE: RunNews = {
  visits: [],
  cost: Infinity,
  bound: null,
  share: 0,
  over: false,
  faults: null,
  broken: null,
};

export interface RunWish {
  problem: PlanProblem;
  standing: PlannedVisit[];
  pins: PlanPin[];
  moveCost: number;
  seconds: number;
  seed?: number;
  /** Prove it beside; without, only a plan is looked for. */
  prove?: boolean;
}

/** A plan being worked out in threads of its own; `tell` hears of every better plan. */
export class PlanRun {
  private readonly search = new Worker(new URL('./search.worker.ts', import.meta.url), { type: 'module' });
  private readonly prover: Worker | null = null;
  private news = SILENCE;

  constructor(
    { problem, standing, pins, moveCost, seconds, seed = 1, prove = true }: RunWish,
    tell: (news: RunNews) => void,
  ) {
    const pinned: PlanProblem = { ...problem, pinned: pins };
    const update = (change: Partial<RunNews>) => {
      this.news = { ...this.news, ...change };
      tell(this.news);
    };
    this.search.addEventListener('message', ({ data }: MessageEvent<FromSearch>) => {
      if (data.say === 'pins') {
        update({ faults: data.faults, over: true });
        this.end();
        return;
      }
      this.toProver({ say: 'goal', goal: data.cost });
      update({
        visits: data.visits,
        cost: data.cost,
        share: data.say === 'over' ? 1 : data.share,
        over: data.say === 'over',
      });
      if (data.say === 'over') this.end();
    });
    this.search.addEventListener('error', () => {
      update({ broken: 'This browser broke off while planning. Try again, with fewer days if it stays.', over: true });
      this.end();
    });
    this.toSearch({ say: 'plan', problem: pinned, standing, moveCost, seed, seconds });
    if (!prove) return;
    this.prover = new Worker(new URL('./prover.worker.ts', import.meta.url), { type: 'module' });
    this.prover.addEventListener('message', ({ data }: MessageEvent<FromProver>) => {
      if (data.visits) this.toSearch({ say: 'adopt', visits: data.visits });
      if (data.guide) this.toSearch({ say: 'guide', guide: data.guide });
      if (data.bound > -Infinity && data.bound > (this.news.bound ?? -Infinity)) update({ bound: data.bound });
    });
    this.toProver({ say: 'prove', problem: pinned, goal: 1e12, exact: moveCost === 0 });
  }

  private toSearch(m: ToSearch) {
    this.search.postMessage(m);
  }
  private toProver(m: ToProver) {
    this.prover?.postMessage(m);
  }

  /** The best plan so far is the plan. */
  stop(): void {
    this.toSearch({ say: 'stop' });
  }

  end(): void {
    this.search.terminate();
    this.prover?.terminate();
  }
}

const UNANSWERED = 'The server does not answer any more. Try again when the line is back.';

/** Problems of more tasks are planned on the server. */
export const ON_SERVER = 800;

/** The same, worked out on the server: for fleets that are too large for a reader's own machine. */
export class ServerRun {
  private readonly ended = new AbortController();

  constructor(body: object, csrfToken: string, seconds: number, tell: (news: RunNews) => void) {
    let news = SILENCE;
    const update = (change: Partial<RunNews>) => {
      tell((news = { ...news, ...change }));
    };
    void (async () => {
      try {
        const reply = await fetch('/api/plan/compute', {
          method: 'POST',
          signal: this.ended.signal,
          headers: { 'content-type': 'application/json', [TOKEN_HEADER]: csrfToken },
          body: JSON.stringify({ ...body, seconds }),
        });
        if (!reply.ok || !reply.body) {
          update({ broken: ((await reply.json()) as { detail?: string }).detail ?? UNANSWERED, over: true });
          return;
        }
        let text = '';
        for await (const piece of readerOf(reply.body)) {
          text += piece;
          const lines = text.split('\n');
          text = lines.pop() ?? '';
          for (const line of lines) {
            const m = planLine.parse(JSON.parse(line));
            if (m.say === 'pins') update({ faults: m.faults });
            else if (m.say === 'broken') update({ broken: m.text });
            else if (m.say === 'plan')
              update({ visits: m.visits, cost: m.cost, ...(m.bound !== null && { bound: m.bound }) });
            // The cost of progress may be ahead of the plan that was sent last: a cost is taken with its plan only.
            else update({ share: Math.min(1, m.seconds / seconds), ...(m.bound !== null && { bound: m.bound }) });
          }
        }
        update({ over: true, share: 1 });
      } catch {
        // Called off: the best plan so far is the plan.
        update({ over: true, ...(!this.ended.signal.aborted && { broken: UNANSWERED }) });
      }
    })();
  }

  stop(): void {
    this.ended.abort();
  }

  end(): void {
    this.ended.abort();
  }
}

async function* readerOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body
    .pipeThrough(new TextDecoderStream() as unknown as ReadableWritablePair<string, Uint8Array>)
    .getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}

/** Seconds a plan of so many tasks is given; it can be planned on again. */
export const secondsFor = (tasks: number): number =>
  tasks <= 120 ? 3 : tasks <= 400 ? 6 : tasks <= ON_SERVER ? 15 : 60;

/** One plan, waited for. */
export function planOnce(wish: RunWish): Promise<RunNews> {
  return new Promise((resolve) => {
    new PlanRun(wish, (news) => {
      if (news.over) resolve(news);
    });
  });
}
