import type { Bound } from './bound.ts';
import { DayPlan } from '../search/day.ts';
import type { Draft, DraftVisit } from '../search/draft.ts';
import type { Mip, SolveMip } from './mip.ts';
import { countOf } from '../search/slices.ts';

/** One visit that a plan cheaper than the best known could hold. */
interface Column {
  group: number;
  set: number;
  place: number;
  visit: DraftVisit;
}

export interface Settled {
  /** No plan is cheaper. */
  bound: number;
  /** A plan cheaper than the one given, where one was found. */
  visits: DraftVisit[] | null;
  columns: number;
}

/** More columns than this are not handed to the solver: it would not come back. */
const MOST_COLUMNS = 60_000;

/**
 * Every visit that a plan cheaper than `goal` could hold: at the best prices, the cheapest plan of its boat
 * with that visit lies no further above the boat's cheapest than goal and bound lie apart (reduced cost
 * fixing). Null = too many, or boats were cut into groups.
 */
export function columnsBelow(bound: Bound, draft: Draft, goal: number): Column[] | null {
  return columnsWithin(bound, draft, Math.max(0, goal - bound.best) + 1e-6 * Math.max(1, goal));
}

/**
 * Every visit whose boat's cheapest plan with it lies no further than `slack` above the boat's cheapest. Null = too
 * many.
 */
function columnsWithin(bound: Bound, draft: Draft, slack: number): Column[] | null {
  if (!bound.whole) return null;
  bound.toBest();
  const columns: Column[] = [];
  const found = { many: false };
  bound.evaluate(({ group, terms, solver }) => {
    if (found.many) return;
    const { boat, sets, places } = bound.groups[group]!;
    solver.within(sets, places, terms, slack, (set, place) => {
      if (columns.length > MOST_COLUMNS) {
        found.many = true;
        return;
      }
      const p = places[place]!;
      columns.push({
        group,
        set,
        place,
        visit: draft.visit(
          boat,
          p.day,
          p.tech,
          p.window,
          sets.tasks.filter((_, bit) => set & (1 << bit)),
        ),
      });
    });
  });
  return found.many ? null : columns;
}

/**
 * Plans from these visits only, as a mixed integer program: each task at most once, one visit a boat and day,
 * hours of every stretch of a technician's day with its overtime, lifts, parts; the slices of the bound as
 * further cuts. Order within a day is relaxed; who gets a plan back must look whether its days can be put in order.
 */
export function programOf(bound: Bound, columns: readonly Column[]): { mip: Mip; offset: number } {
  const { model } = bound;
  const { days } = model;
  const mip: Mip = { cost: [], lower: [], upper: [], whole: [], rows: [] };
  const add = (cost: number, upper: number, whole: boolean) => {
    mip.lower.push(0);
    mip.upper.push(upper);
    mip.whole.push(whole);
    return mip.cost.push(cost) - 1;
  };
  const skipOf = (i: number) => {
    const { skip } = model.tasks[i]!;
    return skip === Infinity ? 0 : skip;
  };
  const offset = model.tasks.reduce((sum, _, i) => sum + skipOf(i), 0);
  const rows = new Map<string, Mip['rows'][number]>();
  const put = (key: string, upper: number, column: number, value: number, lower = -Infinity) => {
    let row = rows.get(key);
    if (!row) rows.set(key, (row = { lower, upper, columns: [], values: [] }));
    row.columns.push(column);
    row.values.push(value);
  };
  model.tasks.forEach((t, i) => {
    if (t.skip === Infinity) rows.set(`task ${i}`, { lower: 1, upper: 1, columns: [], values: [] });
  });
  columns.forEach(({ group, place, visit: v }) => {
    const column = add(v.cost - v.tasks.reduce((sum, i) => sum + skipOf(i), 0), 1, true);
    for (const i of v.tasks) put(`task ${i}`, 1, column, 1, model.tasks[i]!.skip === Infinity ? 1 : -Infinity);
    put(`boat ${v.boat} ${v.day}`, 1, column, 1);
    const { within, slices } = bound.groups[group]!;
    const hours = v.minutes / 60;
    for (const k of within[place]!) put(`interval ${k}`, bound.intervals[k]!.hours, column, hours);
    for (const k of slices[place]!) {
      const count = countOf(bound.slices[k]!, v.minutes);
      if (count > 0) put(`slice ${k}`, 1, column, count);
    }
    const { base } = model.boats[v.boat]!;
    if (v.needsLift) put(`lift ${base} ${v.day}`, model.lifts[base * days + v.day]!, column, 1);
    const used = new Map<number, number>();
    for (const i of v.tasks)
      for (const { part, quantity } of model.tasks[i]!.parts) used.set(part, (used.get(part) ?? 0) + quantity);
    for (const [part, quantity] of used) {
      for (const k of bound.limitsOf[part]!) {
        const limit = bound.limits[k]!;
        if (limit.day < v.day) continue;
        put(`part ${k}`, limit.supply, column, quantity);
        for (let s = limit.slices; s < limit.slices + bound.slicesOfLimit(k); s++) {
          const count = countOf(bound.partSlices[s]!, quantity);
          if (count > 0) put(`part slice ${s}`, 1, column, count);
        }
      }
    }
  });
  // Overtime makes every stretch that is open to the end of the day longer, at its price.
  for (const { extra, overtime, intervals } of bound.openOf) {
    const used = intervals.filter((k) => rows.has(`interval ${k}`));
    if (overtime <= 0 || used.length === 0) continue;
    const column = add(extra, overtime, false);
    for (const k of used) put(`interval ${k}`, 0, column, -1);
  }
  mip.rows = [...rows.values()];
  return { mip, offset };
}

/** Of the visits nearest to the prices, so many are handed to the solver when it is only to find a better plan. */
const FEW_COLUMNS = 4000;

/**
 * A plan from the visits that lie nearest to the prices: no proof, but often far better than a search comes by,
 * because all boats give way to each other at once.
 *
 * @returns null when there is none cheaper than `goal`
 */
export function planNearPrices(
  bound: Bound,
  draft: Draft,
  goal: number,
  solve: SolveMip,
  { seconds, clock }: { seconds: number; clock: () => number },
): DraftVisit[] | null {
  let slack = Math.max(0, goal - bound.best);
  let columns = columnsWithin(bound, draft, slack);
  for (let tries = 0; (columns === null || columns.length > FEW_COLUMNS) && tries < 12; tries++) {
    slack *= 0.6;
    columns = columnsWithin(bound, draft, slack);
  }
  if (columns === null || columns.length === 0) return null;
  return solveColumns(bound, columns, goal, solve, { seconds, gap: 1e-3, clock }).visits;
}

/**
 * Looks for the cheapest plan of all, or a higher bound, with an exact solver over the visits that a cheaper
 * plan could hold. A plan whose days cannot be put in order is forbidden and the solver asked again.
 *
 * @param goal cost of the best plan known
 * @param seconds for the solver; what it has proven by then counts
 */
export function settle(
  bound: Bound,
  draft: Draft,
  goal: number,
  solve: SolveMip,
  { seconds, gap, clock }: { seconds: number; gap: number; clock: () => number },
): Settled {
  const columns = columnsBelow(bound, draft, goal);
  if (columns === null) return { bound: bound.best, visits: null, columns: 0 };
  if (columns.length === 0) return { bound: goal, visits: null, columns: 0 };
  return solveColumns(bound, columns, goal, solve, { seconds, gap, clock });
}

function solveColumns(
  bound: Bound,
  columns: readonly Column[],
  goal: number,
  solve: SolveMip,
  { seconds, gap, clock }: { seconds: number; gap: number; clock: () => number },
): Settled {
  const began = clock();
  const { model } = bound;
  const { mip, offset } = programOf(bound, columns);
  let proven = bound.best;
  for (;;) {
    const left = seconds - (clock() - began) / 1000;
    if (left <= 0.05) return { bound: proven, visits: null, columns: columns.length };
    const answer = solve(mip, { seconds: left, gap });
    // Plans that hold another visit cost more than the goal.
    if (answer.infeasible) return { bound: goal, visits: null, columns: columns.length };
    proven = Math.max(proven, Math.min(goal, answer.bound + offset));
    if (!answer.x || answer.value! + offset >= goal - 1e-6)
      return { bound: proven, visits: null, columns: columns.length };
    const chosen = columns.flatMap((c, k) => (answer.x![k]! > 0.5 ? [{ column: k, visit: c.visit }] : []));
    const byDay = new Map<string, typeof chosen>();
    for (const c of chosen)
      byDay.set(`${c.visit.tech} ${c.visit.day}`, [...(byDay.get(`${c.visit.tech} ${c.visit.day}`) ?? []), c]);
    let broken = 0;
    for (const list of byDay.values()) {
      const { tech, day } = list[0]!.visit;
      const t = model.techs[tech]!;
      const slots = list.map(({ visit: v }) => ({
        release: model.boats[v.boat]!.free[day]![v.window]!.from,
        deadline: model.boats[v.boat]!.free[day]![v.window]!.to,
        minutes: v.minutes,
      }));
      if (new DayPlan(slots, t.from[day]!, t.hard[day]!, t.rest[day] ?? null).end < Infinity) continue;
      broken++;
      mip.rows.push({
        lower: -Infinity,
        upper: list.length - 1,
        columns: list.map((c) => c.column),
        values: list.map(() => 1),
      });
    }
    if (broken === 0) return { bound: proven, visits: chosen.map((c) => c.visit), columns: columns.length };
  }
}
