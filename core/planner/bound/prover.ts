import { Bound, type Guide } from './bound.ts';
import { planNearPrices, settle } from './exact.ts';
import { Draft, type DraftVisit } from '../search/draft.ts';
import type { FullModel } from '../problem/model.ts';
import type { SolveMip } from './mip.ts';
import { PROVEN, type PlannedVisit } from '../problem/problem.ts';

/** Rounds of prices between two looks at what the search has found; the first look comes after one. */
const STRIDE = 10;
/** The bound has settled when this many rounds raised it by less than a share of the gap. */
const SETTLED_ROUNDS = 80;
const SETTLED_SHARE = 0.01;
const NEAR_SECONDS = 6;
/**
 * Tasks of a boat that are planned at once: while prices are far off, of problems with more tasks than LARGE, and where
 * it has to be exact.
 */
const FIRST_GROUP = 11;
const LARGE = 800;
const LARGE_GROUP = 13;
const WHOLE_GROUP = 17;

export interface ProverNews {
  bound: number;
  /** A cheaper plan, found on the way. */
  visits?: PlannedVisit[];
}

/**
 * Proves how good a plan is, beside the search and in a thread of its own: raises the bound by prices; once
 * that settles, asks the exact solver about the visits a cheaper plan could hold. The caller steps it, tells
 * it the cost of the best plan known, and passes its news on.
 */
export class Prover {
  private bound: Bound;
  private readonly draft: Draft;
  private readonly solve: SolveMip | null;
  private readonly clock: () => number;
  private proven = -Infinity;
  private history: number[] = [];
  private askedAt = Infinity;
  private settled = false;
  /** For a better plan from the visits near the prices, before anything is proven. */
  private nearSeconds = NEAR_SECONDS;
  /** Nothing more can be done. */
  done = false;

  constructor(model: FullModel, solve: SolveMip | null, clock: () => number) {
    this.bound = new Bound(model, model.tasks.length > LARGE ? LARGE_GROUP : FIRST_GROUP);
    this.draft = new Draft(model);
    this.solve = solve;
    this.clock = clock;
  }

  get best(): number {
    return this.proven;
  }

  /**
   * One stride, or one question to the solver.
   *
   * @param goal cost of the best plan known
   * @param seconds what the solver may take
   */
  step(goal: number, seconds: number): ProverNews | null {
    if (this.done) return null;
    if (this.isProven(goal)) {
      this.done = true;
      return null;
    }
    if (!this.settled) {
      // However slow the machine or short the time: some bound is better than none.
      const stride = this.history.length === 0 ? 1 : STRIDE;
      for (let k = 0; k < stride && !this.isProven(goal); k++) {
        this.bound.iterate(goal);
        this.proven = Math.max(this.proven, Math.min(goal, this.bound.best));
      }
      this.history.push(this.proven);
      const before = this.history[this.history.length - 1 - SETTLED_ROUNDS / STRIDE];
      this.settled = before !== undefined && this.proven - before < SETTLED_SHARE * (goal - this.proven);
      if (this.settled && !this.bound.whole && this.draft.model.tasks.length <= LARGE) this.takeWholeBoats();
      return { bound: this.proven };
    }
    if (this.solve === null || !this.bound.whole || goal >= this.askedAt - 1e-9) {
      this.done = this.solve === null || !this.bound.whole;
      return null;
    }
    this.askedAt = goal;
    if (this.nearSeconds > 0) {
      // First a better plan: the nearer the goal, the fewer visits are left to prove anything about.
      const visits = planNearPrices(this.bound, this.draft, goal, this.solve, {
        seconds: Math.min(seconds / 3, this.nearSeconds),
        clock: this.clock,
      });
      this.nearSeconds = 0;
      if (visits) return this.found(visits);
    }
    const answer = settle(this.bound, this.draft, goal, this.solve, { seconds, gap: PROVEN / 2, clock: this.clock });
    this.proven = Math.max(this.proven, Math.min(goal, answer.bound));
    if (answer.visits === null) {
      // Asked without an answer: another goal may leave fewer visits.
      if (answer.columns > 0) this.done = this.isProven(goal);
      return { bound: this.proven };
    }
    return this.found(answer.visits);
  }

  /** From here on boats are planned as a whole, from the prices found so far. */
  private takeWholeBoats(): void {
    const whole = new Bound(this.draft.model, WHOLE_GROUP);
    whole.beginAt(this.bound);
    // Too many tasks on one boat even so: what is proven stays.
    if (!whole.whole) return;
    this.bound = whole;
    this.settled = false;
    this.history = [];
  }

  private found(found: readonly DraftVisit[]): ProverNews {
    for (const v of found) this.draft.add(v);
    const visits = this.draft.planned();
    for (const v of found) this.draft.remove(v);
    return { bound: this.proven, visits };
  }

  /** The prices so far, for the search. */
  guide(): Guide {
    return this.bound.guide();
  }

  isProven(goal: number): boolean {
    return goal - this.proven <= PROVEN * Math.max(1e-9, Math.abs(goal));
  }
}
