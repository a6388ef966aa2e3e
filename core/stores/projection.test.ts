import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import jStat from 'jstat';
import { seeded } from '../random/index.ts';
import { perDay, projectNeed, shortOn, sumQuantile } from './index.ts';

/** Every outcome there is, with its chance. */
function exact(quantities: number[], chances: number[], share: number): number {
  const sums = new Map<number, number>();
  for (let mask = 0; mask < 1 << quantities.length; mask++) {
    let sum = 0;
    let p = 1;
    quantities.forEach((q, i) => {
      const on = (mask >> i) & 1;
      sum += on * q;
      p *= on ? chances[i]! : 1 - chances[i]!;
    });
    sums.set(sum, (sums.get(sum) ?? 0) + p);
  }
  let so = 0;
  for (const [sum, p] of [...sums].sort((a, b) => a[0] - b[0])) if ((so += p) >= share - 1e-9) return sum;
  return 0;
}

describe('what will be taken', () => {
  test('the quantile of a sum is that of all its outcomes', () => {
    const one = fc.record({
      q: fc.integer({ min: 1, max: 4 }),
      p: fc.integer({ min: 0, max: 100 }).map((n) => n / 100),
    });
    fc.assert(
      fc.property(
        fc.array(one, { minLength: 1, maxLength: 9 }),
        fc.constantFrom(0.5, 0.8, 0.95, 0.99),
        (list, share) => {
          const q = list.map((x) => x.q);
          const p = list.map((x) => x.p);
          expect(sumQuantile(q, p, share)).toBe(exact(q, p, share));
        },
      ),
    );
  });

  // The binomial distribution, by the statistics package jStat.
  test('of equal chances it is the binomial’s', () => {
    for (const [n, p] of [
      [40, 0.2],
      [12, 0.5],
      [150, 0.03],
    ] as const) {
      const reached = sumQuantile(Array<number>(n).fill(1), Array<number>(n).fill(p), 0.95);
      expect(jStat.binomial.cdf(reached, n, p)).toBeGreaterThanOrEqual(0.95 - 1e-9);
      expect(jStat.binomial.cdf(reached - 1, n, p)).toBeLessThan(0.95);
    }
  });

  test('it agrees with a simulation within its error, in millilitres as well', () => {
    const random = seeded(7);
    const tasks = Array.from({ length: 30 }, () => ({ q: 1000 + random.whole(0, 4000), p: random.next() }));
    const sums = Array.from({ length: 4000 }, () =>
      tasks.reduce((sum, { q, p }) => sum + (random.chance(p) ? q : 0), 0),
    ).sort((a, b) => a - b);
    const reached = sumQuantile(
      tasks.map((t) => t.q),
      tasks.map((t) => t.p),
      0.95,
    );
    const served = sums.filter((s) => s <= reached).length / sums.length;
    // Three standard errors of a share of 4,000.
    expect(Math.abs(served - 0.95)).toBeLessThan(3 * Math.sqrt((0.95 * 0.05) / 4000) + 0.005);
  });

  test('pooled over engines less is kept than engine by engine', () => {
    const each = sumQuantile([1], [0.3], 0.95);
    expect(each).toBe(1);
    expect(sumQuantile(Array<number>(20).fill(1), Array<number>(20).fill(0.3), 0.95)).toBeLessThan(20 * each);
  });

  test('cards take on their days, the rest by its chance; nothing is lost or made up', () => {
    const tasks = [
      { quantity: 2, sure: 3, chanceBy: () => 0 },
      { quantity: 1, sure: -5, chanceBy: () => 0 },
      { quantity: 4, sure: null, chanceBy: (d: number) => Math.min(1, d / 10) },
    ];
    const { mean, planned } = projectNeed(tasks, 12, 0.95);
    expect(mean[0]).toBe(1);
    expect(mean[11]).toBeCloseTo(7, 9);
    expect(planned[11]).toBe(7);
    expect(planned.every((n, d) => d === 0 || n >= planned[d - 1]!)).toBe(true);
    expect(perDay(planned).reduce((a, b) => a + b, 0)).toBeCloseTo(planned.at(-1)!, 6);
    expect(shortOn(planned, Array<number>(12).fill(2))).toBe(planned.findIndex((n) => n > 2));
    expect(shortOn(planned, Array<number>(12).fill(7))).toBeNull();
  });
});
