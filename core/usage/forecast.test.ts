import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import jstat from 'jstat';
import { mean, sampleVariance } from 'simple-statistics';
import { dayNumber } from '../calendar/index.ts';
import { bookingCurve, hireHoursByDay, type HireSpan } from '../hires/index.ts';
import {
  busyDays,
  crossing,
  crossingAfter,
  forecastBoat,
  gammaQuantile,
  hiresExplainUse,
  hoursBetween,
  learnHabits,
  learnSeason,
  NO_USE,
  noMonthlyUse,
  ONE,
  outlook,
  poolOf,
  rateOf,
  seasonCurve,
  spreadOf,
  summarise,
  USUAL_HOURS,
  useSteps,
  usualSeason,
  windowAround,
  Z,
  type BoatUse,
  type EngineRates,
  type UseStep,
} from './index.ts';

const today = dayNumber('2026-06-15');
const HOUR = 3_600_000;
const level = Array<number>(12).fill(1);
const rate = (m: number, variance = 0, noise = 4, drift = 0) => ({ mean: m, variance, noise, drift });
const plain = (days = 400) => outlook(today, days, today, seasonCurve(level, today, days), null);

describe('gamma quantiles against jStat', () => {
  test('within 2 % of the exact quantile for shapes from 1.5 up, at 10, 50 and 90 %', () => {
    for (const shape of [1.5, 2, 4, 10, 40, 300]) {
      for (const [p, z] of [
        [0.1, Z.low],
        [0.5, Z.middle],
        [0.9, Z.high],
      ] as const) {
        const exact = jstat.gamma.inv(p, shape, 3);
        expect(Math.abs(gammaQuantile(shape * 3, shape * 9, z) / exact - 1)).toBeLessThan(shape < 2 ? 0.05 : 0.02);
      }
    }
  });
  test('the normal quantiles are jStat’s', () => {
    expect(Z.high).toBeCloseTo(jstat.normal.inv(0.9, 0, 1), 9);
    expect(Z.low).toBeCloseTo(jstat.normal.inv(0.1, 0, 1), 9);
  });
});

describe('season', () => {
  test('a year holds as many busy-days as days, wherever it begins', () => {
    for (const hemisphere of ['north', 'south'] as const) {
      const profile = learnSeason(noMonthlyUse(), usualSeason(hemisphere), 60);
      for (const from of ['2026-01-01', '2026-06-15', '2027-03-01']) {
        const n = dayNumber(from);
        // Months are not of one length, so the mean of the months is not quite the mean of the days.
        expect(Math.abs(busyDays(seasonCurve(profile, n, 365), n, n + 365) - 365)).toBeLessThan(5);
      }
    }
  });
  test('July is busy in the north, January in the south, by the same figure', () => {
    const busyIn = (h: 'north' | 'south', day: string) =>
      busyDays(seasonCurve(usualSeason(h), dayNumber(day), 1), dayNumber(day), dayNumber(day) + 1);
    expect(busyIn('north', '2026-07-16')).toBeGreaterThan(3 * busyIn('north', '2026-01-16'));
    expect(busyIn('south', '2026-01-16')).toBeCloseTo(busyIn('north', '2026-07-16'), 2);
  });
  test('with much history the months of the fleet are its own', () => {
    const hours = [0, 0, 0, 0, 0, 3000, 3000, 3000, 0, 0, 0, 0];
    const own = learnSeason({ hours, expected: Array<number>(12).fill(750) }, usualSeason('north'), 60);
    expect(own[6]! / own[0]!).toBeGreaterThan(30);
    expect(mean([...own])).toBeCloseTo(1, 9);
  });
  test('29 February is a day like another', () => {
    const n = dayNumber('2028-02-28');
    const curve = seasonCurve(usualSeason('north'), n, 3);
    expect(busyDays(curve, n + 1, n + 2)).toBeGreaterThan(busyDays(curve, n, n + 1));
    expect(busyDays(curve, n + 2, n + 3)).toBeGreaterThan(busyDays(curve, n + 1, n + 2));
  });
});

describe('hires', () => {
  const at = (text: string) => Date.parse(text);
  const hire = (out: string, back: string, madeOn: string | null = null): HireSpan => ({
    out: at(out),
    back: at(back),
    madeOn: madeOn === null ? null : at(madeOn),
  });
  test('hours fall on the days of the base; overlaps count once', () => {
    const n = dayNumber('2026-06-15');
    const hours = hireHoursByDay(
      [hire('2026-06-15T21:00Z', '2026-06-16T03:00Z'), hire('2026-06-16T01:00Z', '2026-06-16T05:00Z')],
      n,
      3,
      'Atlantic/Madeira',
    );
    // Madeira is an hour ahead of UTC in summer (IANA): 22 to 4, and 2 to 6.
    expect([...hours]).toEqual([2, 6, 0]);
  });
  test('over a change of clocks no hour is lost or doubled', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 24 * 400 }),
        fc.integer({ min: 1, max: 24 * 20 }),
        fc.constantFrom(
          'Atlantic/Madeira',
          'Pacific/Chatham',
          'America/St_Johns',
          'Asia/Kathmandu',
          'Australia/Lord_Howe',
        ),
        (start, length, zone) => {
          const out = at('2026-01-05T00:00Z') + start * HOUR;
          const hours = hireHoursByDay(
            [{ out, back: out + length * HOUR, madeOn: null }],
            dayNumber('2026-01-01'),
            500,
            zone,
          );
          expect(hours.reduce((a, b) => a + b, 0)).toBeCloseTo(length, 6);
          expect(Math.max(...hours)).toBeLessThanOrEqual(25);
        },
      ),
    );
  });
  test('how far ahead people book: all of it by the day itself, and never more further out', () => {
    const curve = bookingCurve([
      hire('2026-05-10T08:00Z', '2026-05-10T18:00Z', '2026-05-01T08:00Z'),
      hire('2026-05-20T08:00Z', '2026-05-22T18:00Z', '2026-05-19T08:00Z'),
    ]);
    expect(curve[0]).toBeCloseTo(1, 9);
    for (let lead = 1; lead < curve.length; lead++) expect(curve[lead]!).toBeLessThanOrEqual(curve[lead - 1]!);
  });
  test('much history outweighs the usual curve', () => {
    const late = Array.from({ length: 4000 }, () =>
      hire('2026-05-10T08:00Z', '2026-05-10T18:00Z', '2026-05-09T07:00Z'),
    );
    expect(bookingCurve(late)[2]).toBeLessThan(0.01);
  });
});

describe('rates', () => {
  const steps = (n: number, hours: number, from = today - 7 * n): UseStep[] =>
    Array.from({ length: n }, (_, i) => ({ to: from + 7 * (i + 1), hours, exposure: 7 }));
  test('a gamma prior and counted hours give the textbook’s posterior (Poisson, checked with jStat’s mean)', () => {
    const use = summarise(steps(1, 14), today, 1);
    const pool = { mean: 1, spread: 0.5, noise: 4, wander: 1e-6 };
    // Prior shape 2, rate 2; 14 h of 4 h noise are 3.5 counts in 1.75.
    expect(rateOf(use, pool).mean).toBeCloseTo(jstat.gamma.mean(2 + 3.5, 1 / (2 + 1.75)), 3);
  });
  test('without readings the engine is taken for one of its pool, and less surely', () => {
    const pool = { mean: 1.4, spread: 0.3, noise: 4, wander: 0.3 };
    const unknown = rateOf(NO_USE, pool);
    expect(unknown.mean).toBeCloseTo(1.4, 9);
    expect(unknown.variance).toBeGreaterThan(rateOf(summarise(steps(30, 9.8), today, 1), pool).variance);
  });
  test('recent use counts more', () => {
    const rising = rateOf(summarise([...steps(26, 2, today - 7 * 34), ...steps(8, 14)], today, 1), USUAL_HOURS);
    const falling = rateOf(summarise([...steps(8, 14, today - 7 * 34), ...steps(26, 2)], today, 1), USUAL_HOURS);
    const whole = (26 * 2 + 8 * 14) / (34 * 7);
    expect(rising.mean / whole).toBeGreaterThan(1.4);
    expect(falling.mean / whole).toBeLessThan(0.8);
  });
  test('pools find the mean and spread that engines were made with (measured by simple-statistics)', () => {
    const made = Array.from({ length: 120 }, (_, i) => 0.4 + (i % 12) * 0.15);
    const members = made.map((m, i) =>
      summarise(
        Array.from({ length: 50 }, (_, w) => ({
          to: today - 350 + 7 * (w + 1),
          hours: 7 * m * (((w * 7 + i) % 3) / 2 + 0.5),
          exposure: 7,
        })),
        today,
        1,
      ),
    );
    const pool = poolOf(members, USUAL_HOURS);
    expect(pool.mean / mean(made)).toBeCloseTo(1, 1);
    expect(pool.spread / sampleVariance(made)).toBeGreaterThan(0.8);
    expect(pool.spread / sampleVariance(made)).toBeLessThan(1.25);
  });
  test('readings on the same or neighbouring days are joined, falling ones left out', () => {
    const found = useSteps({ days: [10, 11, 18, 25, 32], hours: [5, 6, 12, 9, 15] }, (a, b) => b - a);
    expect(found.map((s) => [s.to, s.hours, s.exposure])).toEqual([
      [19, 7, 8],
      [33, 6, 7],
    ]);
  });
});

describe('when a limit is reached', () => {
  test('without doubt it is plain division', () => {
    const sure: EngineRates = { demand: rate(2, 0, 1e-9), share: ONE };
    expect(crossing(plain(), sure, today, 40)).toEqual({ early: today + 19, likely: today + 19, late: today + 19 });
  });
  test('booked hires count at the share the engine runs, and the season only fills what is not booked yet', () => {
    const hours = new Float64Array(60);
    hours.fill(10, 0, 20);
    const season = seasonCurve(level, today, 60);
    const all = new Float64Array(366).fill(1);
    const sure: EngineRates = { demand: rate(5, 0, 1e-9), share: rate(0.5, 0, 1e-9) };
    expect(
      crossing(outlook(today, 60, today, season, { hours, from: today, bookings: all }), sure, today, 50).likely,
    ).toBe(today + 9);
    // All is booked a year ahead, so nothing comes after the last hire.
    expect(
      crossing(outlook(today, 60, today, season, { hours, from: today, bookings: all }), sure, today, 101).likely,
    ).toBeNull();
    // Nothing is ever booked ahead: bookings and usual demand both come.
    const none = new Float64Array(366);
    expect(
      crossing(outlook(today, 60, today, season, { hours, from: today, bookings: none }), sure, today, 101).likely,
    ).toBe(today + 13);
  });
  const someRates = fc
    .record({
      demand: fc.record({
        mean: fc.double({ min: 0.05, max: 6, noNaN: true }),
        cv: fc.double({ min: 0, max: 0.6, noNaN: true }),
        noise: fc.double({ min: 0.1, max: 10, noNaN: true }),
      }),
      share: fc.double({ min: 0.1, max: 1, noNaN: true }),
    })
    .map(({ demand: d, share }): EngineRates => ({
      demand: rate(d.mean, (d.cv * d.mean) ** 2, d.noise, (0.3 * d.mean) ** 2),
      share: rate(share, (0.1 * share) ** 2, 0.5),
    }));
  const day = (n: number | null) => n ?? Infinity;
  test('early, likely and late come in this order; more hours left never earlier, for every one of them', () => {
    fc.assert(
      fc.property(
        someRates,
        fc.double({ min: 0, max: 200, noNaN: true }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        (rates, left, more) => {
          const near = crossing(plain(), rates, today, left);
          const far = crossing(plain(), rates, today, left + more);
          expect(day(near.early)).toBeLessThanOrEqual(day(near.likely));
          expect(day(near.likely)).toBeLessThanOrEqual(day(near.late));
          for (const key of ['early', 'likely', 'late'] as const)
            expect(day(far[key])).toBeGreaterThanOrEqual(day(near[key]));
        },
      ),
    );
  });
  test('hours between are in order too, and add up in the mean', () => {
    fc.assert(
      fc.property(someRates, fc.integer({ min: 1, max: 200 }), fc.integer({ min: 1, max: 190 }), (rates, a, b) => {
        const s = spreadOf(hoursBetween(plain(), rates, today, today + a));
        expect(s.low).toBeLessThanOrEqual(s.middle);
        expect(s.middle).toBeLessThanOrEqual(s.high);
        const sum =
          hoursBetween(plain(), rates, today, today + a).mean +
          hoursBetween(plain(), rates, today + a, today + a + b).mean;
        expect(sum).toBeCloseTo(hoursBetween(plain(), rates, today, today + a + b).mean, 6);
      }),
    );
  });

  test('typed hours that are higher never move the likely day later', () => {
    const window = windowAround(today);
    // Learned before the reading in question came, as in the book: once a day.
    const habits = learnHabits(
      [
        {
          window,
          baseId: 1,
          hemisphere: 'north',
          hires: null,
          engines: [
            {
              modelId: 1,
              position: 'single',
              readings: { days: [today - 300, today - 200, today - 100, today - 10], hours: [0, 80, 170, 260] },
            },
          ],
        },
      ],
      [],
    );
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 20, noNaN: true }), { minLength: 2, maxLength: 40 }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        fc.double({ min: 1, max: 90, noNaN: true }),
        (rises, extra, left) => {
          const says = (more: number) => {
            const days: number[] = [];
            const hours: number[] = [];
            let life = 100;
            rises.forEach((r, i) => {
              life += r + (i === rises.length - 1 ? more : 0);
              days.push(today - 7 * (rises.length - i));
              hours.push(life);
            });
            const boat: BoatUse = {
              window,
              baseId: 1,
              hemisphere: 'north',
              hires: null,
              engines: [{ modelId: 1, position: 'single', readings: { days, hours } }],
            };
            const limit = life - more + left;
            return day(crossingAfter(forecastBoat(boat, habits), 0, days.at(-1)!, limit - life).likely);
          };
          expect(says(extra)).toBeLessThanOrEqual(says(0));
        },
      ),
      { numRuns: 60 },
    );
  });

  test('hires count only where they account for what the meters say', () => {
    const window = windowAround(today);
    const boat = (perDay: number, from = today - 200): BoatUse => {
      const hours = new Float64Array(window.days);
      for (let d = from; d < today; d++) hours[d - window.first] = 4;
      const days = [70, 63, 56, 49, 42, 35, 28, 21, 14, 7].map((ago) => today - ago);
      return {
        window,
        baseId: 1,
        hemisphere: 'north',
        hires: { hours, from },
        engines: [
          { modelId: 1, position: 'single', readings: { days, hours: days.map((d) => 500 + (d - days[0]!) * perDay) } },
        ],
      };
    };
    expect(hiresExplainUse(boat(1.7))).toBe(true);
    // Runs five hours a day while the boat is out for four: hires are missing.
    expect(hiresExplainUse(boat(5))).toBe(false);
    // Kept for a month only: what ran before says nothing.
    expect(hiresExplainUse(boat(3.9, today - 30))).toBe(true);
    expect(hiresExplainUse({ ...boat(1), hires: null })).toBe(false);
    expect(hiresExplainUse({ ...boat(5), engines: [] })).toBe(true);
  });

  test('without a meter hours come from hires and the share of engines like it; a logger reading says better', () => {
    const window = windowAround(today);
    const hires = new Float64Array(window.days);
    for (let d = today - 200; d < today; d++) if (d % 2 === 0) hires[d - window.first] = 8;
    const series = (share: number, from: number) => {
      const days: number[] = [];
      const hours: number[] = [];
      let life = 0;
      for (let d = from; d < today; d++) {
        life += hires[d - window.first]! * share;
        if ((d - from) % 7 === 6) {
          days.push(d);
          hours.push(life);
        }
      }
      return { days, hours };
    };
    const boat = (readings: { days: number[]; hours: number[] }): BoatUse => ({
      window,
      baseId: 1,
      hemisphere: 'north',
      hires: { hours: hires, from: today - 200 },
      engines: [{ modelId: 7, position: 'single', readings }],
    });
    const metered = Array.from({ length: 12 }, (_, i) => boat(series(0.44 + 0.01 * i, today - 200)));
    const unmetered = boat({ days: [], hours: [] });
    const habits = learnHabits([...metered, unmetered], []);
    const share = forecastBoat(unmetered, habits).rates[0]!.share;
    expect(share.mean).toBeCloseTo(0.495, 1);
    const logged = boat({ days: [today - 60, today - 1], hours: [0, 59 * 4 * 0.7] });
    const better = forecastBoat(logged, habits).rates[0]!.share;
    expect(better.mean).toBeGreaterThan(share.mean + 0.05);
    expect(better.variance / better.mean ** 2).toBeLessThan(share.variance / share.mean ** 2 + 1e-3);
  });
});
