import type { SolveMip } from '../planner/index.ts';
import { OrderBound } from './bound.ts';
import { solveOrders } from './mip.ts';
import type { OrderPlan, OrderProblem } from './problem.ts';
import { heatAt, OrderSearch, searchRounds } from './search.ts';

export interface OrderWish {
  /** Wall time from now; Infinity = until proven. */
  seconds: number;
  /** Rounds instead of time: the same plan on any machine. */
  rounds?: number | undefined;
  /** Seconds since it was asked: the clock belongs to who calls. */
  elapsed: () => number;
  /** Goes on until it is proven, by this exact solver where the search alone does not get there. */
  exact?: SolveMip | undefined;
  seed?: number;
  progress?: ((now: OrderProgress) => void) | undefined;
  /** Hears of each better plan. */
  better?: ((plan: OrderPlan) => void) | undefined;
}

export interface OrderProgress {
  cost: number;
  bound: number | null;
  rounds: number;
  seconds: number;
}

/** A plan within this share of its bound is the best there is. */
const PROVEN = 1e-4;
/** The first cooling; each later one takes as long as all before. */
const FIRST_COOLING_SECONDS = 0.4;
/** Of each cooling's time, what the bound takes after it. */
const BOUND_SHARE = 0.35;
/** Rounds of the bound for each thousand of the search when both are counted. */
const BOUNDS_PER_THOUSAND = 20;
/** The bound keeps every part's every day: of larger problems none is worked out. */
const MOST_CHANCES = 1_500_000;
/** Coolings after which the exact solver is asked. */
const COOLINGS_FIRST = 3;

const apart = (cost: number, bound: number) => (cost - bound) / Math.max(1e-9, Math.abs(cost));

/** Plans orders until time is up or the plan is proven: search and bound in turns. */
export function computeOrders(problem: OrderProblem, wish: OrderWish): OrderPlan {
  const { elapsed } = wish;
  const search = new OrderSearch(problem, wish.seed ?? 1);
  let bound: OrderBound | null = null;
  const proven = () => bound !== null && apart(search.cost, bound.value) <= PROVEN;
  const value = () => (bound !== null && bound.value > -Infinity ? Math.min(bound.value, search.cost) : null);
  let told = Infinity;
  const tell = () => {
    wish.progress?.({ cost: search.cost, bound: value(), rounds: search.rounds, seconds: elapsed() });
    if (!wish.better || search.cost >= told - 1e-9) return;
    told = search.cost;
    wish.better(search.plan(value()));
  };
  tell();
  if (wish.rounds !== undefined) {
    search.start();
    searchRounds(search, wish.rounds);
    if (chancesOf(problem) <= MOST_CHANCES) {
      bound = new OrderBound(problem);
      for (let k = 0; k < (wish.rounds * BOUNDS_PER_THOUSAND) / 1000; k++) bound.round(search.cost);
    }
    tell();
    return search.plan(value());
  }
  const out = () => elapsed() >= wish.seconds;
  search.start(out);
  tell();
  search.vary(out);
  if (chancesOf(problem) <= MOST_CHANCES && !out()) bound = new OrderBound(problem);
  let cooling = FIRST_COOLING_SECONDS;
  const { warm } = search;
  for (let turn = 1; !out() && !proven(); turn++) {
    const from = elapsed();
    const until = Math.min(from + cooling, wish.seconds);
    for (let now = elapsed(); now < until; now = elapsed()) search.round(heatAt(warm, (now - from) / (until - from)));
    search.again();
    tell();
    const stop = Math.min(elapsed() + cooling * BOUND_SHARE, wish.seconds);
    while (bound && elapsed() < stop && !proven()) bound.round(search.cost);
    tell();
    cooling *= 2;
    if (wish.exact && turn === COOLINGS_FIRST && !proven()) {
      const left = wish.seconds - elapsed();
      const exact = solveOrders(problem, wish.exact, Math.max(0.1, Number.isFinite(left) ? left : 36_000), PROVEN);
      if (exact.orders) search.offer(exact.orders);
      // Two sums of one plan may differ in the last figure: no bound is told above its cost.
      const best = Math.max(exact.bound, value() ?? -Infinity);
      return search.plan(best > -Infinity ? Math.min(best, search.cost) : null);
    }
  }
  return search.plan(value());
}

const chancesOf = ({ offers, days }: OrderProblem) => offers.length * days;
