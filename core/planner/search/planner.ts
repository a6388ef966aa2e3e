import type { Guide } from '../bound/bound.ts';
import { Draft, type DraftVisit } from './draft.ts';
import type { FullModel } from '../problem/model.ts';
import { modelOf } from '../problem/model.ts';
import { pinnedVisits } from './pins.ts';
import { asPlan, pricePlan } from '../problem/price.ts';
import type { ProblemFault } from '../../problem/index.ts';
import type { Plan, PlannedVisit, PlanProblem } from '../problem/problem.ts';
import { unplannedReasons } from '../explain/reasons.ts';
import { Search } from './search.ts';
import { indicesOf, standAll } from './stand.ts';

/** Pins that cannot be kept, each with what stands in its way. */
export class PinsRefused extends Error {
  readonly faults: ProblemFault[];
  constructor(faults: ProblemFault[]) {
    super(faults.map((f) => `${f.path}: ${f.text}`).join('\n'));
    this.faults = faults;
  }
}

export interface PlannerOptions {
  seed?: number;
  /** The plan that stands: the search begins there. */
  standing?: readonly PlannedVisit[] | undefined;
  /**
   * What moving a task of the standing plan to another day, or leaving it, costs; money. The price told of a plan is
   * without it.
   */
  moveCost?: number | undefined;
}

/** Hottest and coldest temperature of the search, as shares of what a boat costs. */
const HOT = 0.02;
const COLD = 0.0003;

/**
 * Plans a problem, better and better: `start`, then `improve` as long as one likes; the best plan so far is
 * there at any moment. The same problem, seed and calls give the same plan.
 *
 * @throws PinsRefused when pins cannot be kept. The problem is taken as checked by `problemFaults`.
 */
export class Planner {
  readonly problem: PlanProblem;
  readonly model: FullModel;
  private readonly search: Search;
  private readonly pinned: DraftVisit[];
  private readonly standing: readonly PlannedVisit[];
  private readonly leaning: boolean;
  private hot = 0;

  constructor(problem: PlanProblem, { seed = 1, standing = [], moveCost = 0 }: PlannerOptions = {}) {
    this.problem = problem;
    this.model = modelOf(problem);
    const { visits, faults } = pinnedVisits(this.model);
    if (faults.length > 0) throw new PinsRefused(faults);
    this.pinned = visits;
    this.standing = standing;
    this.leaning = moveCost > 0 && standing.length > 0;
    this.search = new Search(this.leaning ? leaningOn(this.model, standing, moveCost) : this.model, seed);
  }

  /** The first plan: what is pinned, what stands, and the rest as it comes. */
  start(): void {
    const { search } = this;
    if (this.standing.length > 0) {
      for (const v of this.pinned) search.draft.add(v);
      standAll(
        search.draft,
        this.standing.filter((v) => !this.problem.pinned.some((p) => p.boat === v.boat && p.day === v.day)),
      );
      search.start([]);
    } else search.start(this.pinned);
    this.hot = (HOT * Math.max(0, search.bestCost)) / Math.max(1, this.model.boats.length);
  }

  /**
   * One round.
   *
   * @param heat from 1 (hot: worse plans are kept now and then) down to 0
   * @returns true when the best plan became better
   */
  improve(heat: number): boolean {
    return this.search.round(this.hot * (COLD / HOT) ** (1 - heat));
  }

  /** Goes on from the best plan: at the beginning of another cooling. */
  again(): void {
    this.search.toBest();
  }

  /** Takes a cheaper plan found elsewhere. False when it is not cheaper, or cannot stand. */
  adopt(visits: readonly PlannedVisit[]): boolean {
    const draft = new Draft(this.search.model);
    if (standAll(draft, visits).length > 0 || draft.cost >= this.search.bestCost - 1e-9) return false;
    this.search.take(draft.visits);
    return true;
  }

  /** Prices found by the prover, for boats to make room for each other. */
  follow(guide: Guide): void {
    this.search.guide = guide;
  }

  get rounds(): number {
    return this.search.rounds;
  }

  /** Visits of the best plan so far. */
  visits(): PlannedVisit[] {
    return this.bestDraft().planned();
  }

  private bestDraft(): Draft {
    const draft = new Draft(this.model);
    for (const list of this.search.best)
      for (const v of list) draft.add(this.leaning ? draft.visit(v.boat, v.day, v.tech, v.window, v.tasks) : v);
    return draft;
  }

  /** Total of the best plan so far; moves do not count. */
  get cost(): number {
    return this.leaning ? pricePlan(this.problem, { visits: this.visits() }).cost.total : this.search.bestCost;
  }

  /** The best plan so far, with reasons for what is left out. */
  plan(bound: number | null = null): Plan {
    const draft = this.bestDraft();
    return asPlan(this.problem, draft.planned(), unplannedReasons(draft), bound);
  }
}

/** The model with a price on every task that would leave its day of the standing plan. */
function leaningOn(model: FullModel, standing: readonly PlannedVisit[], moveCost: number): FullModel {
  const { tasks: indices } = indicesOf(model.problem);
  const dayOf = new Map<number, number>();
  for (const v of standing) for (const id of v.tasks) if (indices.has(id)) dayOf.set(indices.get(id)!, v.day);
  return {
    ...model,
    tasks: model.tasks.map((t, i) => {
      const day = dayOf.get(i);
      if (day === undefined) return t;
      return { ...t, cost: t.cost.map((c, d) => (d === day ? c : c + moveCost)), skip: t.skip + moveCost };
    }),
  };
}
