import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import jstat from 'jstat';
import { errorFunction } from 'simple-statistics';
import { seeded } from '../random/index.ts';
import { cheapestAge, failedBy, fitWeibull, holds, renewalAt, servedHours, stillHolding, type Life } from './index.ts';

/** NIST/SEMATECH e-Handbook, 8.4.1: ten failures, ten units that ran 500 h without one. */
const NIST: Life[] = [
  ...[54, 187, 216, 240, 244, 335, 361, 373, 375, 386].map((time) => ({ time, failed: true })),
  ...Array.from({ length: 10 }, () => ({ time: 500, failed: false })),
];

describe('a Weibull law fitted to lives that did not all end', () => {
  test('the example of the NIST/SEMATECH e-Handbook: shape 1.7208, scale 606.5280 (from memory)', () => {
    const fit = fitWeibull(NIST)!;
    expect(fit.shape).toBeCloseTo(1.7208, 3);
    expect(fit.scale).toBeCloseTo(606.528, 2);
    expect(fit).toMatchObject({ lives: 20, failures: 10 });
  });
  test('its intervals end where the likelihood has fallen by half of 3.8415, and hold the fit', () => {
    const fit = fitWeibull(NIST)!;
    // The likelihood written down a second time, in its plain form.
    const value = (k: number, s: number) =>
      NIST.reduce(
        (sum, { time, failed }) =>
          sum + (failed ? Math.log(k / s) + (k - 1) * Math.log(time / s) : 0) - (time / s) ** k,
        0,
      );
    expect(fit.logLikelihood).toBeCloseTo(value(fit.shape, fit.scale), 6);
    const best = (of: (x: number) => number, low: number, high: number) => {
      let most = -Infinity;
      for (let i = 0; i <= 4000; i++) most = Math.max(most, of(low + ((high - low) * i) / 4000));
      return most;
    };
    for (const k of fit.shapeRange)
      expect(fit.logLikelihood - best((s) => value(k, s), 200, 3000)).toBeCloseTo(1.9207, 2);
    for (const s of fit.scaleRange) expect(fit.logLikelihood - best((k) => value(k, s), 0.2, 6)).toBeCloseTo(1.9207, 2);
    expect(fit.shapeRange[0] < fit.shape && fit.shape < fit.shapeRange[1]).toBe(true);
    expect(fit.scaleRange[0] < fit.scale && fit.scale < fit.scaleRange[1]).toBe(true);
  });
  test('no censoring and shape 1 is the exponential law: its scale is the mean', () => {
    const random = seeded(4);
    const lives = Array.from({ length: 4000 }, () => ({
      time: -300 * Math.log(1 - random.whole(0, 999_999) / 1_000_000),
      failed: true,
    }));
    const fit = fitWeibull(lives)!;
    const mean = lives.reduce((sum, l) => sum + l.time, 0) / lives.length;
    expect(fit.shape).toBeCloseTo(1, 1);
    expect(fit.scale / mean).toBeCloseTo(1, 1);
  });
  test('finds the law lives were drawn from, in nine of ten intervals or more', () => {
    let inside = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const random = seeded(seed);
      const lives = Array.from({ length: 60 }, (): Life => {
        const time = 250 * (-Math.log(1 - random.whole(0, 999_999) / 1_000_000)) ** (1 / 2.4);
        return time < 220 ? { time, failed: true } : { time: 220, failed: false };
      });
      const [low, high] = fitWeibull(lives)!.shapeRange;
      if (low <= 2.4 && 2.4 <= high) inside++;
    }
    // 95 % of 40 are 38; fewer than 33 has a chance of less than one in five hundred.
    expect(1 - jstat.binomial.cdf(inside, 40, 0.95)).toBeLessThan(0.9999);
    expect(inside).toBeGreaterThanOrEqual(33);
  });
  test('one failure, or all of one length, says nothing; a life of nought is none', () => {
    expect(fitWeibull(NIST.slice(9))).toBeNull();
    expect(
      fitWeibull([
        { time: 100, failed: true },
        { time: 100, failed: true },
      ]),
    ).toBeNull();
    expect(() => fitWeibull([{ time: 0, failed: true }])).toThrow(/is none; give hours above 0/);
  });
  test('counted in days or in hours it is the same law', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 100, noNaN: true }), (unit) => {
        const fit = fitWeibull(NIST.map((l) => ({ ...l, time: l.time * unit })))!;
        expect(fit.shape).toBeCloseTo(1.7208, 3);
        expect(fit.scale / unit).toBeCloseTo(606.528, 1);
      }),
      { numRuns: 15 },
    );
  });
});

describe('what was seen, without a law', () => {
  test('a worked case: 6 lives, failures at 2, 3 and 5 (Kaplan & Meier)', () => {
    const lives = [
      [2, true],
      [3, true],
      [3, false],
      [4, false],
      [5, true],
      [6, false],
    ].map(([time, failed]) => ({ time: time as number, failed: failed as boolean }));
    // 5/6, then 4/5 of it, then 1/2 of it.
    expect(stillHolding(lives).map((p) => [p.time, p.atRisk, Number(p.share.toFixed(6))])).toEqual([
      [2, 6, 0.833333],
      [3, 5, 0.666667],
      [5, 2, 0.333333],
    ]);
  });
});

describe('renewing by age', () => {
  const LAW = { shape: 2, scale: 300 };
  const COSTS = { planned: 60, failed: 480 };
  test('hours served until an age: for shape 2 by the error function of a statistics package', () => {
    for (const age of [50, 150, 300, 900])
      expect(servedHours(age, LAW)).toBeCloseTo(((300 * Math.sqrt(Math.PI)) / 2) * errorFunction(age / 300), 2);
    // Shape 1: scale (1 - exp(-t / scale)); below 1 by a fine sum.
    expect(servedHours(200, { shape: 1, scale: 300 })).toBeCloseTo(300 * (1 - Math.exp(-200 / 300)), 6);
    let sum = 0;
    for (let i = 0; i < 200_000; i++) sum += holds((i + 0.5) / 1000, { shape: 0.6, scale: 300 }) / 1000;
    expect(servedHours(200, { shape: 0.6, scale: 300 })).toBeCloseTo(sum, 2);
  });
  test('the criterion of Barlow & Proschan finds what trying every hour finds', () => {
    for (const law of [LAW, { shape: 3.5, scale: 420 }, { shape: 1.4, scale: 200 }]) {
      const found = cheapestAge(law, COSTS)!;
      let best = { age: 0, costAnHour: Infinity };
      for (let age = 1; age < 2000; age++) {
        const tried = renewalAt(age, law, COSTS);
        if (tried.costAnHour < best.costAnHour) best = tried;
      }
      expect(Math.abs(found.age - best.age)).toBeLessThanOrEqual(1);
      expect(found.costAnHour).toBeLessThanOrEqual(best.costAnHour + 1e-9);
    }
  });
  test('without wear, or where a failure costs no more, waiting is cheapest', () => {
    expect(cheapestAge({ shape: 1, scale: 300 }, COSTS)).toBeNull();
    expect(cheapestAge({ shape: 0.8, scale: 300 }, COSTS)).toBeNull();
    expect(cheapestAge(LAW, { planned: 60, failed: 60 })).toBeNull();
  });
  test('the dearer a failure, the sooner', () => {
    const ages = [120, 240, 480, 2000].map((failed) => cheapestAge(LAW, { planned: 60, failed })!.age);
    expect(ages).toEqual([...ages].sort((a, b) => b - a));
    expect(failedBy(0.1, LAW)).toBeCloseTo(300 * Math.sqrt(-Math.log(0.9)), 9);
  });
});

describe('parts that were found failed', () => {
  /** Lives of a law, looked at once at some age. */
  const looked = (n: number, age: (i: number) => number): Life[] => {
    const random = seeded(5);
    return Array.from({ length: n }, (_, i) => {
      const ends = 250 * (-Math.log(1 - random.next())) ** (1 / 2.4);
      const time = age(i);
      return ends < time ? { time, failed: true, found: true } : { time, failed: false };
    });
  };
  test('give the law they were made by, though nobody saw one fail; taken as seen they would not', () => {
    const lives = looked(4000, (i) => 60 + (i % 45) * 10);
    const fit = fitWeibull(lives)!;
    expect(fit.shape).toBeGreaterThan(2.4 * 0.93);
    expect(fit.shape).toBeLessThan(2.4 * 1.07);
    expect(Math.abs(fit.scale - 250)).toBeLessThan(8);
    const [low, high] = fit.shapeRange;
    expect(low).toBeLessThan(2.4);
    expect(high).toBeGreaterThan(2.4);
    const asSeen = fitWeibull(lives.map(({ time, failed }) => ({ time, failed })))!;
    expect(Math.abs(asSeen.scale - 250)).toBeGreaterThan(20);
  });
  test('the likelihood written a second time, tried on a grid, has its top there', () => {
    const lives = looked(60, (i) => 100 + (i % 12) * 30);
    const fit = fitWeibull(lives)!;
    const value = (k: number, s: number) =>
      lives.reduce((sum, { time, failed }) => {
        const held = Math.exp(-((time / s) ** k));
        return sum + Math.log(failed ? 1 - held : held);
      }, 0);
    let best = { value: -Infinity, k: 0, s: 0 };
    for (let k = 0.5; k < 8; k += 0.02)
      for (let s = 120; s < 600; s += 2) if (value(k, s) > best.value) best = { value: value(k, s), k, s };
    expect(Math.abs(fit.shape - best.k)).toBeLessThan(0.03);
    expect(Math.abs(fit.scale - best.s)).toBeLessThan(3);
    expect(fit.logLikelihood).toBeGreaterThanOrEqual(best.value - 1e-6);
  });
  test('looked at always at one age they say little of the shape, and that shows', () => {
    const narrow = fitWeibull(looked(120, (i) => 195 + (i % 6) * 2));
    const wide = fitWeibull(looked(120, (i) => 60 + (i % 40) * 10))!;
    const width = (fit: { shapeRange: readonly [number, number] }) => fit.shapeRange[1] - fit.shapeRange[0];
    expect(narrow === null || width(narrow) > 2 * width(wide)).toBe(true);
    expect(fitWeibull([1, 2, 3].map((time) => ({ time, failed: true, found: true })))).toBeNull();
  });
  test('the steps beside the law follow it; without any found they are those of Kaplan and Meier', () => {
    const lives = looked(4000, (i) => 60 + (i % 45) * 10);
    for (const { time, share } of stillHolding(lives))
      expect(Math.abs(share - Math.exp(-((time / 250) ** 2.4)))).toBeLessThan(0.09);
    // Worked by hand (Efron 1967, self-consistency): one found at 2, one that held at 1, one at 3.
    const steps = stillHolding([
      { time: 2, failed: true, found: true },
      { time: 1, failed: false },
      { time: 3, failed: false },
    ]);
    expect(steps.map((s) => s.time)).toEqual([2]);
    expect(steps[0]!.share).toBeCloseTo(0.5, 3);
  });
});
