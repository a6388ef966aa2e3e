import { boundOf, costTable, type CostTable, type Prices, type Shares } from './bound.ts';
import { judge, type BackwardProblem, type Place } from './problem.ts';

/** A campaign laid over its days. */
export interface BackwardPlan {
  places: Place[];
  cost: number;
  /** No plan is cheaper than that. */
  bound: number;
  /** (cost - bound) / cost; 0 where nothing costs anything. */
  gap: number;
  /** Minutes of overtime, and work that found no day. */
  overtime: number;
  undone: number;
}

/** The days as they are filled: minutes left, and turns of the lift. */
class Board {
  readonly #problem: BackwardProblem;
  readonly #costs: CostTable;
  readonly left: Float64Array;
  readonly lifts: number[];
  readonly places: Place[];
  /** What stands on each day. */
  readonly on: Set<number>[];

  constructor(problem: BackwardProblem, costs: CostTable) {
    this.#problem = problem;
    this.#costs = costs;
    this.left = Float64Array.from(problem.days, (d) => d.minutes);
    this.lifts = problem.days.map((d) => d.lifts);
    this.places = problem.work.map(() => null);
    this.on = problem.days.map(() => new Set());
  }

  /** What a piece of work costs on a day, with the overtime it causes; Infinity where it does not fit. */
  cost(i: number, day: number): number {
    const { work, days, overtime } = this.#problem;
    const w = work[i]!;
    const own = this.#costs[i]![day - w.from]!;
    const left = this.left[day]!;
    if (own === Infinity || (w.lift && this.lifts[day]! <= 0)) return Infinity;
    if (left - w.minutes < -days[day]!.minutes * overtime.share - 1e-9) return Infinity;
    return own + Math.max(0, w.minutes - Math.max(0, left)) * overtime.aMinute;
  }

  put(i: number, day: Place): void {
    const w = this.#problem.work[i]!;
    const was = this.places[i] ?? null;
    if (was !== null) {
      this.left[was]! += w.minutes;
      if (w.lift) this.lifts[was]!++;
      this.on[was]!.delete(i);
    }
    if (day !== null) {
      this.left[day]! -= w.minutes;
      if (w.lift) this.lifts[day]!--;
      this.on[day]!.add(i);
    }
    this.places[i] = day;
  }

  /** Takes it away. @returns what it cost, with the overtime that goes with it */
  lift(i: number): number {
    const day = this.places[i] ?? null;
    if (day === null) return this.#problem.work[i]!.undone;
    this.put(i, null);
    return this.cost(i, day);
  }

  /** The cheapest day for a piece of work by these prices, and what it really costs there. */
  best(i: number, prices: Prices | null): { cost: number; day: Place } {
    const w = this.#problem.work[i]!;
    const own = this.#costs[i]!;
    let found: { cost: number; day: Place } = { cost: w.undone, day: null };
    let least = w.undone;
    for (let d = w.from; d <= w.until; d++) {
      const asked = prices === null ? 0 : prices.minute[d]! * w.minutes + (w.lift ? prices.lift[d]! : 0);
      if (!(own[d - w.from]! + asked < least)) continue;
      const cost = this.cost(i, d);
      if (cost + asked < least) {
        least = cost + asked;
        found = { cost, day: d };
      }
    }
    return found;
  }
}

/** Lays everything out along shares: each piece on the day most of it lay on, then what is left by prices. */
function layShares(problem: BackwardProblem, costs: CostTable, prices: Prices, shares: Shares): Board {
  const board = new Board(problem, costs);
  const order = problem.work
    .map((w, i) => {
      const own = shares[i]!;
      let most = 0;
      for (let k = 1; k < own.length; k++) if (own[k]! > own[most]!) most = k;
      return { i, day: w.from + most, share: own[most] ?? 0, long: w.minutes };
    })
    .sort((a, b) => b.share - a.share || b.long - a.long);
  const later: number[] = [];
  for (const { i, day, share } of order) {
    const cost = share > 0.3 ? board.cost(i, day) : Infinity;
    if (cost <= costs[i]![day - problem.work[i]!.from]! + 1e-9 && cost < Infinity) board.put(i, day);
    else later.push(i);
  }
  for (const i of later) board.put(i, board.best(i, prices).day);
  return board;
}

/** Lays everything out along prices: what has least choice first, of equals the longest. */
function layOut(problem: BackwardProblem, costs: CostTable, prices: Prices | null): Board {
  const board = new Board(problem, costs);
  const { work } = problem;
  const order = work
    .map((w, i) => ({
      i,
      room: Math.max(0, w.by - w.from),
      weight: w.lateADay + w.frostADay + w.waitADay,
      long: w.minutes,
    }))
    .sort((a, b) => b.weight - a.weight || a.room - b.room || b.long - a.long);
  for (const { i } of order) board.put(i, board.best(i, prices).day);
  return board;
}

/**
 * Moves one piece at a time to where it costs less, until nothing does.
 *
 * @param changing where no move helps, two that change places may: takes far longer, and is for the end
 */
function improve(problem: BackwardProblem, costs: CostTable, board: Board, rounds: number, changing: boolean): void {
  const { work } = problem;
  for (let round = 0; round < rounds; round++) {
    let gained = 0;
    for (let i = 0; i < work.length; i++) {
      const was = board.places[i] ?? null;
      const before = board.lift(i);
      const { cost, day } = before > 1e-9 ? board.best(i, null) : { cost: Infinity, day: null };
      if (cost < before - 1e-9) {
        board.put(i, day);
        gained += before - cost;
      } else {
        board.put(i, was);
        if (changing && before > 1e-9) gained += changePlaces(problem, costs, board, i, before);
      }
    }
    if (gained < 1e-6) return;
  }
}

/** Lets a piece that can wait make room for one that costs more to wait. @returns what it saved */
function changePlaces(problem: BackwardProblem, costs: CostTable, board: Board, i: number, before: number): number {
  const w = problem.work[i]!;
  const was = board.places[i] ?? null;
  for (let d = w.from; d <= w.until; d++) {
    if (d === was || !(costs[i]![d - w.from]! < before - 1e-9)) continue;
    const room = w.minutes - Math.max(0, board.left[d]!) - 1e-9;
    const wantsTurn = w.lift && board.lifts[d]! <= 0;
    // Gathered first: what is tried is taken off the day and put back.
    const others: number[] = [];
    for (const j of board.on[d]!) {
      const o = problem.work[j]!;
      if (o.minutes >= room && (o.lift || !wantsTurn)) others.push(j);
    }
    for (const j of others) {
      const own = board.lift(i);
      const other = board.lift(j);
      const here = board.cost(i, d);
      if (here < own + other) {
        board.put(i, d);
        const next = board.best(j, null);
        if (here + next.cost < own + other - 1e-9) {
          board.put(j, next.day);
          return own + other - here - next.cost;
        }
        board.put(i, null);
      }
      board.put(j, d);
      board.put(i, was);
    }
  }
  return 0;
}

/**
 * Plans a campaign backwards from its days: each visit to a day and a person, at least cost, beside a bound that says
 * how far from the best possible it is.
 *
 * @param rounds steps of the bound; more take longer and come closer
 */
export function planBackwards(problem: BackwardProblem, rounds = 1600): BackwardPlan {
  const costs = costTable(problem);
  let best = layOut(problem, costs, null);
  let cost = judge(problem, best.places).cost;
  const take = (board: Board) => {
    const now = judge(problem, board.places).cost;
    if (now < cost) [best, cost] = [board, now];
    return now;
  };
  const bound = Math.max(
    0,
    boundOf(problem, costs, cost, rounds, (prices, shares) => {
      take(layOut(problem, costs, prices));
      const board = layShares(problem, costs, prices, shares);
      improve(problem, costs, board, 2, false);
      take(board);
      return cost;
    }),
  );
  improve(problem, costs, best, 6, true);
  const { overtime, undone, cost: end } = judge(problem, best.places);
  return { places: best.places, cost: end, bound, gap: end <= 1e-9 ? 0 : (end - bound) / end, overtime, undone };
}
