import type { PlannedVisit, PlanPin, PlanProblem } from '@diurna/core/planner';
import type { FromProver, ToProver } from './prover.worker.ts';
import type { FromSearch, ToSearch } from './search.worker.ts';

export interface RunNews {
  visits: PlannedVisit[];
  cost: number;
  bound: number | null;
  /** From 0 to 1. */
  share: number;
  over: boolean;
  /** Pins that cannot be kept. */
  faults: string[] | null;
}

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
  private news: RunNews = { visits: [], cost: Infinity, bound: null, share: 0, over: false, faults: null };

  constructor({ problem, standing, pins, moveCost, seconds, seed = 1, prove = true }: RunWish, tell: (news: RunNews) => void) {
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
      update({ visits: data.visits, cost: data.cost, share: data.say === 'over' ? 1 : data.share, over: data.say === 'over' });
      if (data.say === 'over') this.end();
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

  private toSearch(m: ToSearch) { this.search.postMessage(m); }
  private toProver(m: ToProver) { this.prover?.postMessage(m); }

  /** The best plan so far is the plan. */
  stop(): void {
    this.toSearch({ say: 'stop' });
  }

  end(): void {
    this.search.terminate();
    this.prover?.terminate();
  }
}

/** Seconds a plan of so many tasks is given; it can be planned on again. */
export const secondsFor = (tasks: number): number => (tasks <= 120 ? 3 : tasks <= 400 ? 6 : 15);

/** One plan, waited for. */
export function planOnce(wish: RunWish): Promise<RunNews> {
  return new Promise((resolve) => {
    new PlanRun(wish, (news) => { if (news.over) resolve(news); });
  });
}
