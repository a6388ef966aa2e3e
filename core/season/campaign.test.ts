import { describe, expect, test } from '@jest/globals';
import { traitsOf, type BuiltEngine } from '../fleet/index.ts';
import { TASK_KINDS, type SchoolChoices } from '../service/index.ts';
import { SEASON_VISITS, seasonList as listOf, tasksAt } from './index.ts';

const FOUR: BuiltEngine = { powerHp: 60, stroke: 4, cylinders: 4, traits: { induction: 'injection', recoil: false } };
const POOR: BuiltEngine = { ...FOUR, traits: { ...FOUR.traits, drainsPoorly: true } };
const SMALL: BuiltEngine = { powerHp: 6, stroke: 4, cylinders: 1, traits: { induction: 'carburettor', recoil: true } };
const TWO: BuiltEngine = { powerHp: 40, stroke: 2, cylinders: 3, traits: { induction: 'carburettor', recoil: false } };
const ENGINES = [FOUR, POOR, SMALL, TWO];
const seasonList = (e: BuiltEngine, ...more: Parameters<typeof listOf> extends [unknown, ...infer R] ? R : never) =>
  listOf({ stroke: e.stroke, traits: traitsOf(e) }, ...more);
const AT_LAY_UP: SchoolChoices = { 'last oil': 'at lay-up' };

// Common practice, no source.
describe('what an engine gets when it is put away and brought out again', () => {
  test('a two-stroke is fogged and has no oil; a carburettor has bowls; a rope has no battery', () => {
    expect(tasksAt('after', TWO, {})).toEqual(expect.arrayContaining(['fogging', 'bowls', 'battery']));
    for (const visit of SEASON_VISITS)
      for (const choices of [{}, AT_LAY_UP])
        expect(tasksAt(visit, TWO, choices).filter((t) => /oil/.test(t))).toEqual([]);
    expect(tasksAt('after', FOUR, {})).not.toEqual(expect.arrayContaining(['fogging']));
    expect(tasksAt('after', FOUR, { fogging: 'all' })).toContain('fogging');
    expect(tasksAt('after', FOUR, {})).not.toContain('bowls');
    expect(tasksAt('after', SMALL, {})).toContain('bowls');
    expect(tasksAt('after', SMALL, {})).not.toContain('battery');
    expect(tasksAt('spring', SMALL, {})).not.toContain('battery-check');
  });
  test('oil and the first dose before the last outing, or oil at lay-up where the yard says so; the second dose after', () => {
    expect(tasksAt('before', FOUR, {})).toEqual(['engine-oil', 'oil-filter', 'stabiliser']);
    expect(tasksAt('after', FOUR, {})).not.toContain('engine-oil');
    expect(tasksAt('before', FOUR, AT_LAY_UP)).toEqual(['stabiliser']);
    expect(tasksAt('after', FOUR, AT_LAY_UP)).toEqual(expect.arrayContaining(['engine-oil', 'oil-filter']));
    for (const e of ENGINES) {
      expect(tasksAt('after', e, {})).toContain('second-dose');
      expect(tasksAt('before', e, {})).toContain('stabiliser');
      // Gear lube at season's end even if it barely ran.
      expect(tasksAt('after', e, {})).toContain('gear-lube');
    }
  });
  test('antifreeze only where frost comes, the model keeps water and the yard uses it; each no has its reason', () => {
    const why = (e: BuiltEngine, choices: SchoolChoices, frost: boolean) =>
      seasonList(e, choices, { frost }).leftOut.find((l) => l.task === 'antifreeze')?.because ?? 'on the list';
    expect(why(POOR, {}, true)).toBe('on the list');
    expect(why(POOR, {}, false)).toBe('no frost comes while it stands');
    expect(why(FOUR, {}, true)).toBe('stored upright it drains by itself');
    expect(why(POOR, { antifreeze: 'never' }, true)).toBe('the yard never uses it');
  });
  test('every engine: each piece of work is on the list once or left out with a reason, and is work the book knows', () => {
    for (const e of ENGINES)
      for (const frost of [true, false]) {
        const { items, leftOut } = seasonList(e, {}, { frost });
        const all = [...items.map((i) => i.task), ...leftOut.map((l) => l.task)];
        expect(new Set(all).size).toBe(all.length);
        expect(all.every((t) => TASK_KINDS.includes(t))).toBe(true);
        expect([...items, ...leftOut].every((x) => x.because.length > 5)).toBe(true);
      }
  });
  test('what somebody decided for the engine outranks the list: left out, put elsewhere, or added', () => {
    const { items, leftOut } = seasonList(FOUR, {}, { frost: true }, [
      { task: 'anodes', visit: null, reason: 'new in August' },
      { task: 'engine-oil', visit: 'after', reason: 'comes in late' },
      { task: 'impeller', visit: 'spring', reason: 'put off to spring' },
      { task: 'oil-filter', visit: 'after', reason: 'with the oil' },
    ]);
    expect(leftOut).toContainEqual({ task: 'anodes', because: 'new in August' });
    expect(items.filter((i) => i.visit === 'before').map((i) => i.task)).toEqual(['stabiliser']);
    expect(items).toContainEqual({ visit: 'spring', task: 'impeller', because: 'put off to spring' });
  });
});
