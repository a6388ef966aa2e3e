import { describe, expect, test } from '@jest/globals';
import {
  answerTo,
  dueState,
  ruleInForce,
  SCHOOL_KEYS,
  SCHOOLS,
  sourceText,
  TASK_KINDS,
  tasksOfSchool,
  usualProgramme,
  whyDue,
  type LastDone,
  type ProgrammeRule,
  type RuleOverride,
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
