import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dayFromNumber, dayNumber } from '../calendar/index.ts';
import {
  anchorAfter,
  dueState,
  DUE_STATES,
  limitAfter,
  makersLimitsPassed,
  nearestLimit,
  ruleInForce,
  ruleText,
  servicesIn,
  whyDue,
  type LastDone,
  type ProgrammeRule,
  type ServiceRule,
} from './index.ts';

const programme = (more: Partial<ProgrammeRule> = {}): ProgrammeRule => ({
  task: 'impeller',
  everyHours: 200,
  everyMonths: 12,
  basis: 'usual',
  ...more,
});
const done = (day: string, hours: number | null): LastDone => ({ day, hours, from: 'service' });
const use = (lifeHours: number) => ({ lifeHours, lastReadDay: null, ahead: null });

describe('the first service, and the ladder (common practice, no source)', () => {
  const oil = (more: Partial<ServiceRule> = {}): ServiceRule => ({
    task: 'engine-oil',
    everyHours: 100,
    everyMonths: 12,
    ...more,
  });
  const isNew: LastDone = { day: '2026-04-01', hours: 0, from: 'new' };
  test('first at 20 h on an engine bought new; then every 100 h', () => {
    const rule = ruleInForce({ ...oil(), basis: 'maker' }, {}, []);
    expect(dueState(rule, isNew, use(19), '2026-04-20')).toMatchObject({ limitHours: 20, hoursLeft: 1, state: 'due' });
    expect(dueState(rule, done('2026-04-20', 21), use(30), '2026-04-25')).toMatchObject({ limitHours: 121 });
    expect(ruleInForce(programme(), {}, []).firstHours).toBeNull();
    expect(ruleInForce({ ...oil(), basis: 'usual' }, { 'first oil': 'usual' }, []).firstHours).toBeNull();
  });
  test('ladder: an early job serves the rung and does not move the next; rolling counts from the job', () => {
    expect(limitAfter(oil({ counting: 'ladder' }), 92, false)).toBe(200);
    expect(limitAfter(oil({ counting: 'ladder' }), 100, false)).toBe(200);
    expect(limitAfter(oil({ counting: 'ladder' }), 130, false)).toBe(200);
    expect(limitAfter(oil(), 92, false)).toBe(192);
  });
  test('ladder: a job far too early serves no rung; the first one at 20 h neither', () => {
    expect(limitAfter(oil({ counting: 'ladder' }), 60, false)).toBe(100);
    expect(limitAfter(oil({ counting: 'ladder', firstHours: 20 }), 0, true)).toBe(20);
    expect(limitAfter(oil({ counting: 'ladder', firstHours: 20 }), 21, false)).toBe(100);
  });
  test('how early a job serves the rung ahead is the programme’s to say', () => {
    expect(limitAfter(oil({ counting: 'ladder', earlyPercent: 5 }), 92, false)).toBe(100);
    expect(limitAfter(oil({ counting: 'ladder', earlyPercent: 45 }), 60, false)).toBe(200);
    expect(limitAfter(oil({ counting: 'ladder', earlyPercent: 0 }), 100, false)).toBe(200);
  });
  test('what the programme lets pass is due, not over, by hours and by days; and it says so', () => {
    const rule = oil({ latePercent: 10 });
    const at = (hours: number, on: string) => dueState(rule, done('2026-01-01', 500), use(hours), on);
    expect(at(600, '2026-06-01')).toMatchObject({ state: 'due', tolerated: false });
    expect(at(610, '2026-06-01')).toMatchObject({ state: 'due', tolerated: true, hoursLeft: -10 });
    expect(at(610.1, '2026-06-01')).toMatchObject({ state: 'over', tolerated: false });
    expect(at(520, '2027-02-06')).toMatchObject({ state: 'due', tolerated: true });
    expect(at(520, '2027-02-07')).toMatchObject({ state: 'over' });
    expect(at(605, '2027-02-07')).toMatchObject({ state: 'over' });
    expect(nearestLimit(at(605, '2026-06-01'))).toBe('5 h past, let pass');
    expect(whyDue(at(605, '2026-06-01'), rule, 605, String).at(-1)).toBe(
      'The programme lets 10 % of the interval pass before it counts as over.',
    );
  });
  test('a tolerance never makes anything worse, and never hides what is past twice over', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 25 }),
        fc.integer({ min: 0, max: 3000 }),
        fc.integer({ min: 0, max: 800 }),
        (latePercent, ran, days) => {
          const on = dayFromNumber(dayNumber('2026-01-01') + days);
          const strict = dueState(oil(), done('2026-01-01', 0), use(ran / 10), on);
          const lax = dueState(oil({ latePercent }), done('2026-01-01', 0), use(ran / 10), on);
          expect(DUE_STATES.indexOf(lax.state)).toBeGreaterThanOrEqual(DUE_STATES.indexOf(strict.state));
          if (strict.state !== 'over') expect(lax).toEqual(strict);
          if (ran / 10 > 125.1) expect(lax.state).toBe('over');
        },
      ),
    );
  });
  test('letting a maker’s limit run later passes it', () => {
    const rule = { task: 'engine-oil' as const, everyHours: 100, everyMonths: 12 };
    expect(makersLimitsPassed([{ ...rule, basis: 'maker' }], [{ ...rule, latePercent: 5 }])).toEqual(['engine-oil']);
    expect(makersLimitsPassed([{ ...rule, basis: 'maker', latePercent: 5 }], [{ ...rule, latePercent: 5 }])).toEqual(
      [],
    );
    expect(makersLimitsPassed([{ ...rule, basis: 'own' }], [{ ...rule, latePercent: 5 }])).toEqual([]);
  });
  test('on a ladder the limit is always a whole multiple, after the job, and never two intervals off', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10, max: 500 }), fc.integer({ min: 0, max: 50_000 }), (every, tenths) => {
        const limit = limitAfter(oil({ everyHours: every, counting: 'ladder' }), tenths / 10, false);
        expect(limit % every).toBe(0);
        expect(limit).toBeGreaterThan(tenths / 10);
        expect(limit - tenths / 10).toBeLessThanOrEqual(1.25 * every + 1e-6);
      }),
    );
  });
  test('a due date never moves later when hours go up, whatever the way of counting', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('rolling', 'ladder'),
        fc.integer({ min: 0, max: 5000 }),
        fc.integer({ min: 0, max: 3000 }),
        fc.integer({ min: 0, max: 500 }),
        (counting, at, ran, more) => {
          const left = (hours: number) =>
            dueState(oil({ counting: counting as 'ladder' }), done('2026-01-01', at / 10), use(hours), '2026-02-01')
              .hoursLeft!;
          expect(left((at + ran + more) / 10)).toBeLessThanOrEqual(left((at + ran) / 10));
        },
      ),
    );
  });
});

describe('at season’s end (common practice, no source)', () => {
  const lube = (hemisphere: 'north' | 'south') =>
    ruleInForce({ task: 'gear-lube', everyHours: 100, everyMonths: 12, basis: 'own', seasonEnd: true }, {}, [], {
      hemisphere,
      sand: false,
    });
  const limit = (hemisphere: 'north' | 'south', doneOn: string) =>
    dueState(lube(hemisphere), done(doneOn, 10), use(12), '2026-06-01').limitDay;
  test('even if it barely ran: on 31 October in the north, on 30 April in the south', () => {
    expect(limit('north', '2026-05-01')).toBe('2026-10-31');
    expect(limit('south', '2026-05-01')).toBe('2027-04-30');
    expect(limit('south', '2026-01-20')).toBe('2026-04-30');
  });
  test('done shortly before, it is done for this season; the twelve months come first then', () => {
    expect(limit('north', '2025-10-05')).toBe('2026-10-05');
    expect(limit('north', '2026-08-15')).toBe('2026-10-31');
  });
  test('an anchor on 29 February is the 28th in other years', () => {
    expect([2027, 2028].map((year) => dayFromNumber(anchorAfter('02-29', dayNumber(`${year - 1}-10-01`))))).toEqual([
      '2027-02-28',
      '2028-02-29',
    ]);
  });
  test('the rule says so', () => {
    expect(ruleText(lube('north'))).toBe('100 h or 12 months or at season’s end');
    expect(ruleInForce(programme(), {}, []).anchor).toBeNull();
  });
  test('with an anchor it is never due later than without', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3000 }), fc.constantFrom('north', 'south'), (days, hemisphere) => {
        const on = dayFromNumber(dayNumber('2024-01-01') + days);
        const day = (rule: ServiceRule) => dueState(rule, done(on, 10), use(10), on).limitDay!;
        expect(day(lube(hemisphere as 'north')) <= day({ task: 'gear-lube', everyHours: 100, everyMonths: 12 })).toBe(
          true,
        );
        expect(day(lube(hemisphere as 'north')) > on).toBe(true);
      }),
    );
  });
});

describe('services in a year', () => {
  const from = dayNumber('2026-01-01');
  const last = { dayNo: from - 30, hours: 0, isNew: false };
  /** So many hours a day, all year. */
  const pace = (perDay: number) => (day: number) => Math.max(0, (day - last.dayNo) * perDay);
  test('by hours: as often as the interval goes into the year', () => {
    // 30 days were run before: 2 h a day reach 100 h on day 20, then every 50 days.
    expect(
      servicesIn({ task: 'engine-oil', everyHours: 100, everyMonths: null }, last, pace(2), from, from + 365).map(
        (d) => d - from,
      ),
    ).toEqual([20, 70, 120, 170, 220, 270, 320]);
  });
  test('by months for one that never runs; whichever is first for one that does', () => {
    expect(
      servicesIn({ task: 'engine-oil', everyHours: 100, everyMonths: 12 }, last, () => 0, from, from + 365),
    ).toHaveLength(1);
    expect(
      servicesIn({ task: 'engine-oil', everyHours: 100, everyMonths: 12 }, last, pace(0.5), from, from + 365),
    ).toHaveLength(1);
  });
  test('what is over at the start is done on the first day', () => {
    expect(
      servicesIn({ task: 'engine-oil', everyHours: 10, everyMonths: null }, last, pace(1), from, from + 5),
    ).toEqual([from]);
  });
  test('a shorter interval never means fewer services', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 20, max: 300 }),
        fc.integer({ min: 1, max: 100 }),
        fc.double({ min: 0.1, max: 8, noNaN: true }),
        (every, more, perDay) => {
          const n = (hours: number) =>
            servicesIn({ task: 'engine-oil', everyHours: hours, everyMonths: 12 }, last, pace(perDay), from, from + 365)
              .length;
          expect(n(every)).toBeGreaterThanOrEqual(n(every + more));
        },
      ),
    );
  });
});
