import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dayFromNumber, dayNumber } from '../calendar/index.ts';
import {
  anchorAfter,
  answerTo,
  breakInAt,
  breakInText,
  dueState,
  DUE_STATES,
  limitAfter,
  makersLimitsPassed,
  nearestLimit,
  ruleInForce,
  ruleText,
  SCHOOL_KEYS,
  SCHOOLS,
  servicesIn,
  sourceText,
  TASK_KINDS,
  tasksOfSchool,
  usualProgramme,
  whyDue,
  type LastDone,
  type ProgrammeRule,
  type RuleOverride,
  type ServiceRule,
} from './index.ts';

const programme = (more: Partial<ProgrammeRule> = {}): ProgrammeRule => ({
  task: 'impeller',
  everyHours: 200,
  everyMonths: 12,
  basis: 'usual',
  ...more,
});
const override = (more: Partial<RuleOverride>): RuleOverride => ({
  id: 1,
  scope: 'boat',
  task: 'impeller',
  everyHours: 80,
  everyMonths: null,
  reason: 'sand',
  author: 'Ilse',
  ...more,
});
const done = (day: string, hours: number | null): LastDone => ({ day, hours, from: 'service' });
const use = (lifeHours: number) => ({ lifeHours, lastReadDay: null, ahead: null });

describe('schools (trade practice, no source)', () => {
  test('every question has a usual answer among its options, and each option says what speaks for it', () => {
    for (const s of SCHOOLS) {
      expect(s.options.map((o) => o.key)).toContain(s.usual);
      for (const o of s.options) expect(o.argument.length).toBeGreaterThan(15);
    }
    expect(new Set(SCHOOL_KEYS).size).toBe(SCHOOLS.length);
  });
  test('the usual answers are those for hire boats', () => {
    expect(answerTo('impeller', {}).key).toBe('12 months or 200 h');
    expect(answerTo('first oil', {}).key).toBe('20 h');
    expect(answerTo('counting', {}).key).toBe('rolling');
    expect(answerTo('impeller', { impeller: 'an answer of another version' }).key).toBe('12 months or 200 h');
  });
  test('every answer that moves dates makes a rule that stands', () => {
    for (const s of SCHOOLS.filter((x) => x.movesDates)) {
      for (const o of s.options) {
        for (const rule of usualProgramme({ powerHp: 60, stroke: 4, cylinders: 4 }))
          expect(() => ruleInForce({ ...rule, basis: 'usual' }, { [s.key]: o.key }, [])).not.toThrow();
      }
      expect(tasksOfSchool(s.key, TASK_KINDS).length).toBeGreaterThan(0);
    }
  });
});

describe('the rule in force', () => {
  test('24 months regardless, for an engine that ran twice', () => {
    const rule = ruleInForce(programme(), { impeller: '24 months' }, []);
    expect(rule).toMatchObject({ everyHours: null, everyMonths: 24, source: { is: 'school' } });
    expect(dueState(rule, done('2024-05-01', 100), use(103), '2026-04-15')).toMatchObject({
      state: 'soon',
      limitDay: '2026-05-01',
    });
  });
  test('the maker’s and the yard’s own figures are no question of school', () => {
    for (const basis of ['maker', 'own'] as const)
      expect(ruleInForce(programme({ basis, everyHours: 150 }), { impeller: '300 h' }, [])).toMatchObject({
        everyHours: 150,
        everyMonths: 12,
        source: { is: basis },
      });
  });
  test('an override is stronger than all, the nearest to the engine the strongest', () => {
    const all = [
      override({ scope: 'base', everyHours: 150 }),
      override({ scope: 'engine', everyHours: 60, id: 3 }),
      override({ scope: 'boat', everyHours: 80 }),
    ];
    expect(ruleInForce(programme({ basis: 'maker' }), { impeller: '300 h' }, all)).toMatchObject({
      everyHours: 60,
      source: { is: 'override', id: 3 },
    });
    expect(ruleInForce(programme(), {}, all.slice(0, 1))).toMatchObject({ everyHours: 150 });
    expect(ruleInForce(programme({ task: 'gear-lube', everyHours: 100 }), {}, all)).toMatchObject({ everyHours: 100 });
  });
  test('by inspection somebody is asked to look once a year, however much it ran', () => {
    const rule = ruleInForce(programme(), { impeller: 'by inspection' }, []);
    expect(rule).toMatchObject({ everyHours: null, everyMonths: 12 });
    expect(dueState(rule, done('2026-01-01', 0), use(5000), '2026-04-15').state).toBe('fine');
    expect(dueState(rule, done('2025-04-01', 0), use(5000), '2026-04-15').state).toBe('over');
  });
  test('without any limit it says that it is done when it looks worn', () => {
    const rule = ruleInForce(programme({ basis: 'own', everyHours: null, everyMonths: null }), {}, []);
    const due = dueState(rule, done('2020-01-01', 0), use(5000), '2026-04-15');
    expect(due.state).toBe('fine');
    expect(whyDue(due, rule, 5000, String)[0]).toContain('done when it looks worn');
  });
  test('gear lube with the unit off is as often as the pump; a maker’s limit for it stands', () => {
    const lube = { task: 'gear-lube' as const, everyHours: 100, everyMonths: 12 };
    const choices = { 'gear lube visit': 'with unit', impeller: '24 months' };
    expect(ruleInForce({ ...lube, basis: 'usual' }, choices, [])).toMatchObject({ everyHours: null, everyMonths: 24 });
    expect(ruleInForce({ ...lube, basis: 'maker' }, choices, [])).toMatchObject({ everyHours: 100, everyMonths: 12 });
  });
  test('oil at season’s end is wanted a fortnight before, or at lay-up; gear lube at lay-up', () => {
    const atEnd = (task: 'engine-oil' | 'gear-lube', answer: string, hemisphere: 'north' | 'south' = 'north') =>
      ruleInForce(
        { task, everyHours: 100, everyMonths: 12, basis: 'usual', seasonEnd: true },
        { 'last oil': answer },
        [],
        { hemisphere, sand: false },
      ).anchor;
    expect(atEnd('engine-oil', 'before')).toBe('10-17');
    expect(atEnd('engine-oil', 'before', 'south')).toBe('04-16');
    expect(atEnd('engine-oil', 'at lay-up')).toBe('10-31');
    expect(atEnd('gear-lube', 'before')).toBe('10-31');
  });
  test('sand and shallows halve the hours of the pump, not its months; a rule set for the boat stands as it is', () => {
    const sand = { hemisphere: 'north' as const, sand: true };
    expect(ruleInForce(programme(), {}, [], sand)).toMatchObject({ everyHours: 100, everyMonths: 12, shortened: 0.5 });
    expect(ruleInForce(programme({ basis: 'maker', everyHours: 300 }), {}, [], sand)).toMatchObject({
      everyHours: 150,
    });
    expect(ruleInForce(programme(), { impeller: '24 months' }, [], sand)).toMatchObject({
      everyHours: null,
      shortened: null,
    });
    expect(ruleInForce(programme(), {}, [override({})], sand)).toMatchObject({ everyHours: 80, shortened: null });
    expect(ruleInForce(programme({ task: 'gear-lube', everyHours: 100 }), {}, [], sand)).toMatchObject({
      everyHours: 100,
    });
    expect(sourceText(ruleInForce(programme(), {}, [], sand), 'Corvane 60')).toContain(
      'halved, because the boat works in sand and shallows',
    );
  });
  test('a programme sets its own share for sand, and one for salt that shortens the months', () => {
    const place = { hemisphere: 'north' as const, sand: true, salt: true };
    const lube = programme({
      task: 'gear-lube',
      everyHours: 100,
      everyMonths: 12,
      basis: 'maker',
      sandPercent: 80,
      saltPercent: 70,
    });
    expect(ruleInForce(lube, {}, [], place)).toMatchObject({
      everyHours: 80,
      everyMonths: 8,
      shortened: 0.8,
      shortenedMonths: 0.7,
    });
    expect(ruleInForce(programme({ sandPercent: 100 }), {}, [], place)).toMatchObject({
      everyHours: 200,
      shortened: null,
    });
    expect(ruleInForce(lube, {}, [], { ...place, sand: false, salt: false })).toMatchObject({
      everyHours: 100,
      everyMonths: 12,
      shortenedMonths: null,
    });
    expect(ruleInForce(programme({ everyMonths: 1, saltPercent: 10 }), {}, [], place).everyMonths).toBe(1);
    expect(sourceText(ruleInForce(lube, {}, [], place), 'Corvane 60')).toContain(
      'months are shortened to 70 %, because the boat lies in salt water',
    );
  });
  test('where it comes from is said in words', () => {
    expect(sourceText(ruleInForce(programme(), {}, [override({})]), 'Corvane 60')).toBe(
      'Set for this boat by Ilse: sand. The engine maker’s manual outranks it.',
    );
    expect(sourceText(ruleInForce(programme(), {}, []), 'Corvane 60')).toContain(
      '“When is the pump impeller renewed?” is answered “every 12 months or 200 h”',
    );
    expect(sourceText({ source: { is: 'maker' }, shortened: null, shortenedMonths: null }, 'Corvane 60')).toBe(
      'The maker’s limit for the Corvane 60.',
    );
  });
});

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

describe('running in (common practice, no source)', () => {
  test('two hours with care, eight more, ten in all', () => {
    expect(breakInAt(0, 0)).toMatchObject({ phase: { from: 0, to: 2 }, left: 2 });
    expect(breakInAt(2, 0)).toMatchObject({ phase: { from: 2, to: 10 }, left: 8 });
    expect(breakInAt(10, 0)).toEqual({ hours: 10, phase: null, left: 0 });
    expect(breakInAt(640, 0).phase).toBeNull();
    expect(breakInText(breakInAt(0.5, 0), 'port')).toMatch(
      /^The port engine is new: 1\.5 h of the first two hours left\. .*one minute in ten at most\.$/,
    );
    expect(breakInText(breakInAt(9.9, 0), null)).toMatch(/^The engine is new: 0\.1 h of the next eight hours left/);
    expect(breakInText(breakInAt(10, 0), null)).toBeNull();
  });
  test('a kicker without a meter is run in by what is written down', () => {
    expect(breakInAt(null, 1.5)).toMatchObject({ hours: 1.5, left: 0.5 });
    expect(breakInAt(null, 12).phase).toBeNull();
    expect(breakInAt(3, 1)).toMatchObject({ hours: 3 });
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
