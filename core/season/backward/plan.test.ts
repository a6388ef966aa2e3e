import { beforeAll, describe, expect, test } from '@jest/globals';
import loadHighs from 'highs';
import { solveWith, type Mip, type SolveMip } from '../../planner/index.ts';
import { seeded, type Random } from '../../random/index.ts';
import { costOn, judge, planBackwards, type BackwardProblem, type SeasonWork } from './index.ts';

/** A small campaign: some boats home early, some late, some with findings; invented. */
function campaign(random: Random, boats: number, days: number, people: number): BackwardProblem {
  return {
    work: Array.from({ length: boats }, (_, i): SeasonWork => {
      const from = random.whole(0, Math.floor(days / 2));
      return {
        id: `w${i}`,
        minutes: random.whole(4, 20) * 10,
        lift: random.chance(0.4),
        from,
        until: days - 1,
        by: Math.min(days - 1, from + random.whole(0, 4)),
        lateADay: 4 + random.whole(0, 10),
        frostADay: random.chance(0.7) ? 40 : 0,
        waitADay: random.chance(0.2) ? 3 : 0,
        undone: 600,
      };
    }),
    days: Array.from({ length: days }, (_, d) => ({
      minutes: d % 7 > 4 ? 0 : people * 420,
      longest: d % 7 > 4 ? 0 : 420,
      lifts: d % 7 > 4 ? 0 : 2,
    })),
    frost: Math.floor(days * 0.6),
    overtime: { share: 0.2, aMinute: 0.9 },
  };
}

let solve: SolveMip;
beforeAll(async () => {
  solve = solveWith(await loadHighs());
});

/** The same problem stated as a mixed integer program, to a general-purpose solver (HiGHS). */
function optimum(problem: BackwardProblem): number {
  const { work, days, overtime } = problem;
  const mip: Mip = { cost: [], lower: [], upper: [], whole: [], rows: [] };
  const column = (cost: number, upper: number, whole: boolean) => {
    mip.lower.push(0);
    mip.upper.push(upper);
    mip.whole.push(whole);
    return mip.cost.push(cost) - 1;
  };
  const row = (lower: number, upper: number, terms: [number, number][]) =>
    mip.rows.push({ lower, upper, columns: terms.map(([c]) => c), values: terms.map(([, v]) => v) });
  const rows = days.map((d) => ({
    minutes: [[column(overtime.aMinute, d.minutes * overtime.share, false), -1]] as [number, number][],
    lifts: [] as [number, number][],
  }));
  for (const w of work) {
    const one: [number, number][] = [[column(w.undone, 1, true), 1]];
    for (let d = w.from; d <= w.until; d++) {
      const cost = costOn(w, d, problem);
      if (cost === Infinity) continue;
      const at = column(cost, 1, true);
      one.push([at, 1]);
      rows[d]!.minutes.push([at, w.minutes]);
      if (w.lift) rows[d]!.lifts.push([at, 1]);
    }
    row(1, 1, one);
  }
  for (const [d, { minutes, lifts }] of rows.entries()) {
    row(-Infinity, days[d]!.minutes, minutes);
    if (lifts.length > 0) row(-Infinity, days[d]!.lifts, lifts);
  }
  const answer = solve(mip, { seconds: 20, gap: 0 });
  if (answer.value === null || answer.value - answer.bound > 1e-6) throw new Error('the solver found no optimum');
  return answer.value;
}

describe('a campaign planned backwards', () => {
  test.each([1, 2, 3, 4, 5, 6])('%p: can be worked, costs no less than the optimum, and its bound no more', (seed) => {
    const problem = campaign(seeded(seed), 9, 8, 1);
    const plan = planBackwards(problem);
    const judged = judge(problem, plan.places);
    expect(judged.faults).toEqual([]);
    expect(plan.cost).toBeCloseTo(judged.cost, 6);
    const best = optimum(problem);
    expect(plan.bound).toBeLessThanOrEqual(best + 1e-6);
    expect(plan.cost).toBeGreaterThanOrEqual(best - 1e-6);
    expect(plan.cost).toBeLessThanOrEqual(best * 1.1 + 8);
  });
  test('where there is room for all of it, nothing is lost and nothing of the bound is missing', () => {
    const problem = { ...campaign(seeded(7), 12, 14, 6), frost: null };
    const plan = planBackwards({ ...problem, work: problem.work.map((w) => ({ ...w, by: w.until, waitADay: 0 })) });
    expect(plan).toMatchObject({ cost: 0, bound: 0, gap: 0, overtime: 0, undone: 0 });
  });
  test('what waits for a repair comes before what can wait; what fits nowhere is said to be left', () => {
    const [finding, other] = campaign(seeded(8), 2, 2, 1).work as [SeasonWork, SeasonWork];
    const day = { minutes: 200, longest: 200, lifts: 1 };
    const plain = { from: 0, until: 1, by: 1, minutes: 180, lift: false, lateADay: 5, frostADay: 0, undone: 900 };
    const plan = planBackwards({
      work: [
        { ...other, ...plain, waitADay: 0 },
        { ...finding, ...plain, waitADay: 3 },
        { ...other, ...plain, id: 'too long', minutes: 300, waitADay: 0 },
      ],
      days: [day, day],
      frost: null,
      overtime: { share: 0.2, aMinute: 1 },
    });
    expect(plan.places).toEqual([1, 0, null]);
    expect(plan).toMatchObject({ undone: 1, cost: 900, gap: 0 });
  });
  test('overtime is bought where it is cheaper than frost, and not where it is dearer', () => {
    const w = { id: 'a', minutes: 60, lift: false, from: 0, until: 1, by: 1, lateADay: 0, waitADay: 0, undone: 900 };
    const problem = (frostADay: number): BackwardProblem => ({
      work: [
        { ...w, frostADay },
        { ...w, id: 'b', frostADay },
      ],
      days: [
        { minutes: 100, longest: 100, lifts: 0 },
        { minutes: 100, longest: 100, lifts: 0 },
      ],
      frost: 1,
      overtime: { share: 0.2, aMinute: 1 },
    });
    expect(planBackwards(problem(50))).toMatchObject({ overtime: 20, cost: 20 });
    expect(planBackwards(problem(10))).toMatchObject({ overtime: 0, cost: 10 });
  });
});
