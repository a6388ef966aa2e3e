import { describe, expect, test } from '@jest/globals';
import jStat from 'jstat';
import {
  FIRST_LOG,
  learnMinutes,
  seizedAllowance,
  minutesBasis,
  SIGMA,
  TAU_FIRST,
  TAU_PERSON,
  TAU_WORK,
  type TimesTaken,
} from './index.ts';

const times = (
  task: TimesTaken['task'],
  modelId: number,
  personId: number,
  ratios: number[],
  first = false,
): TimesTaken => ({
  task,
  modelId,
  personId,
  first,
  n: ratios.length,
  sumLog: ratios.reduce((sum, r) => sum + Math.log(r), 0),
});

/**
 * The same prediction by solving Henderson's mixed model equations directly: (Z'Z / s2 + G^-1) u = Z'(y - first) / s2.
 */
function solved(list: readonly TimesTaken[]): {
  work: Map<string, number>;
  person: Map<number, number>;
  first: number;
} {
  const works = [...new Set(list.map((t) => `${t.task} ${t.modelId}`))];
  const people = [...new Set(list.map((t) => t.personId))];
  const size = works.length + people.length + 1;
  const a = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  const b = new Array<number>(size).fill(0);
  for (const t of list) {
    const at = [
      works.indexOf(`${t.task} ${t.modelId}`),
      works.length + people.indexOf(t.personId),
      ...(t.first ? [size - 1] : []),
    ];
    for (const i of at) {
      for (const j of at) a[i]![j]! += t.n / SIGMA ** 2;
      b[i]! += t.sumLog / SIGMA ** 2;
    }
  }
  works.forEach((_, i) => {
    a[i]![i]! += 1 / TAU_WORK ** 2;
  });
  people.forEach((_, i) => {
    a[works.length + i]![works.length + i]! += 1 / TAU_PERSON ** 2;
  });
  a[size - 1]![size - 1]! += 1 / TAU_FIRST ** 2;
  b[size - 1]! += FIRST_LOG / TAU_FIRST ** 2;
  const u = jStat
    .multiply(
      jStat.inv(a),
      b.map((x) => [x]),
    )
    .map((row) => row[0]!);
  return {
    work: new Map(works.map((w, i) => [w, u[i]!])),
    person: new Map(people.map((p, i) => [p, u[works.length + i]!])),
    first: u[size - 1]!,
  };
}

describe('minutes learned', () => {
  test('nothing measured: the estimate, and three times as long the first time', () => {
    const l = learnMinutes([]);
    expect(l.minutesFor('engine-oil', 1, 5, 25)).toMatchObject({ minutes: 25, timesOfWork: 0 });
    expect(l.minutesFor('engine-oil', 1, 5, 25, true).minutes).toBe(75);
    expect(minutesBasis(l.minutesFor('engine-oil', 1, 5, 25))).toBe('estimate 25 min');
  });
  test('a model whose screws seize is allowed time for them, by how often they did; a first time does not triple it', () => {
    const l = learnMinutes([], [{ task: 'gear-lube', modelId: 1, cards: 15, seized: 4 }]);
    const found = l.minutesFor('gear-lube', 1, 5, 20);
    // 4 of 15 and five sound ones taken for granted, at half an hour each.
    expect(found).toMatchObject({ minutes: 26, seized: { minutes: 6, times: 4, cards: 15 } });
    expect(minutesBasis(found)).toBe(
      'estimate 20 min; a screw was seized on 4 of 15 cards of this model: 6 min allowed',
    );
    expect(l.minutesFor('gear-lube', 1, 5, 20, true).minutes).toBe(66);
    expect(l.minutesFor('gear-lube', 2, 5, 20).minutes).toBe(20);
    expect(seizedAllowance({ cards: 40, seized: 0 })).toBe(0);
  });
  test('one task, one person: drawn to the estimate by the known weights of a normal mean', () => {
    // Normal mean with known variances: Gelman et al., Bayesian Data Analysis, 2.5, from memory.
    // Work and person cannot be told apart here: together they take n (t1 + t2) / (n (t1 + t2) + s2) of the mean.
    const n = 4;
    const mean = Math.log(1.5);
    const l = learnMinutes([times('engine-oil', 1, 5, [1.5, 1.5, 1.5, 1.5])]);
    const taken = TAU_WORK ** 2 + TAU_PERSON ** 2;
    expect(Math.log(l.minutesFor('engine-oil', 1, 5, 100).minutes / 100)).toBeCloseTo(
      mean * ((n * taken) / (n * taken + SIGMA ** 2)),
      2,
    );
  });
  test('the same as solving the mixed model equations in one go', () => {
    const list = [
      times('engine-oil', 1, 5, [1.3, 1.1, 1.4]),
      times('engine-oil', 1, 6, [0.8]),
      times('engine-oil', 2, 5, [1.6, 1.2]),
      times('impeller', 1, 6, [0.7, 0.9, 1.0, 0.8]),
      times('impeller', 1, 7, [3.4], true),
      times('gear-lube', 2, 7, [2.2, 1.1]),
    ];
    const l = learnMinutes(list);
    const exact = solved(list);
    for (const [key, u] of exact.work)
      expect(
        Math.log(l.minutesFor(key.split(' ')[0] as 'impeller', Number(key.split(' ')[1]), null, 1e6).minutes / 1e6),
      ).toBeCloseTo(u, 5);
    for (const [id, u] of exact.person) expect(Math.log(l.paceOf(id).pace)).toBeCloseTo(u, 8);
    expect(Math.log(l.minutesFor('flush', 9, null, 1e6, true).minutes / 1e6)).toBeCloseTo(exact.first, 5);
  });
  test('few times move little, many move much', () => {
    const of = (n: number) =>
      learnMinutes([times('anodes', 1, 5, new Array<number>(n).fill(2))]).minutesFor('anodes', 1, 5, 15).minutes;
    expect([of(0), of(1), of(3), of(30)].every((m, i, all) => i === 0 || m > all[i - 1]!)).toBe(true);
    expect(of(1)).toBeLessThan(15 * 1.65);
    expect(of(30)).toBeGreaterThan(15 * 1.9);
  });
  test('a first time on a model is nobody’s pace: a day against two hours lies within what is expected', () => {
    const l = learnMinutes([times('impeller', 1, 5, [4], true)]);
    expect(l.paceOf(5).pace).toBeLessThan(1.15);
    expect(l.minutesFor('impeller', 1, 5, 100, true).minutes).toBeGreaterThan(300);
  });
  test('a slow person is told from slow work when others do the same', () => {
    const l = learnMinutes([
      times('engine-oil', 1, 5, new Array<number>(20).fill(1.5)),
      times('engine-oil', 1, 6, new Array<number>(20).fill(1)),
    ]);
    expect(l.paceOf(5).pace).toBeGreaterThan(l.paceOf(6).pace * 1.3);
    expect(minutesBasis(l.minutesFor('engine-oil', 1, 5, 25))).toMatch(
      /estimate 25 min; measured 40 times on this model: \d+ % longer; 20 of this technician: \d+ % longer/,
    );
  });
});

describe('drains', () => {
  const drains = (ratios: number[]) => [
    {
      task: 'gear-lube' as const,
      modelId: 2,
      n: ratios.length,
      sumLog: ratios.reduce((sum, r) => sum + Math.log(r), 0),
    },
  ];
  test('move the estimate of their model little when few, much when many, and no other model’s', () => {
    const after = (n: number) => learnMinutes([], [], drains(Array.from({ length: n }, () => 1.5)));
    expect(learnMinutes([]).drainFor('gear-lube', 2, 18)).toEqual({ minutes: 18, times: 0 });
    // The posterior mean, added up over a grid with the densities of jStat.
    for (const n of [1, 4, 40]) {
      let [mass, moment] = [0, 0];
      for (let x = -2; x <= 2; x += 0.001) {
        const p = jStat.normal.pdf(Math.log(1.5), x, SIGMA) ** n * jStat.normal.pdf(x, 0, TAU_WORK);
        mass += p;
        moment += p * x;
      }
      const { minutes, times: known } = after(n).drainFor('gear-lube', 2, 18);
      expect(minutes).toBeCloseTo(18 * Math.exp(moment / mass), 1);
      expect(known).toBe(n);
    }
    expect(after(40).drainFor('gear-lube', 2, 18).minutes).toBeGreaterThan(26.5);
    expect(after(40).drainFor('gear-lube', 3, 18).minutes).toBe(18);
    expect(after(40).drainFor('engine-oil', 2, 20).minutes).toBe(20);
  });
});
