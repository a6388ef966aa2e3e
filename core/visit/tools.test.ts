import { describe, expect, test } from '@jest/globals';
import { traitsOf } from '../fleet/index.ts';
import {
  figuresMissing,
  sizedTool,
  stampedMm,
  substitute,
  toolsOf,
  visitSteps,
  WANTED_FIGURES,
  workFacts,
} from './index.ts';

const steps = (tasks: Parameters<typeof visitSteps>[0][number]['task'][], traits: object = {}) => {
  const facts = workFacts({ powerHp: 60, stroke: 4, cylinders: 4, traits });
  return visitSteps(
    tasks.map((task) => ({ engineId: 1, task, cylinders: 4, engine: { facts, sump: null, gearCase: null } })),
  );
};

describe('sizes as they are stamped (1 in = 25.4 mm, NIST SP 811)', () => {
  test.each([
    ['19', 19],
    ['19 mm', 19],
    ['17,5mm', 17.5],
    ['3/4', 19.05],
    ['3/4 in', 19.05],
    ['1 1/8 in', 28.575],
    ['0.75 in', 19.05],
    ['5/8"', 15.875],
  ])('%s is %d mm', (text, mm) => {
    expect(stampedMm(text)).toBeCloseTo(mm, 6);
  });
  test.each(['', 'big', '3/', '0', '1 19', '3/0 in'])('"%s" is no size', (text) => {
    expect(stampedMm(text)).toBeNull();
  });
  test('3/4 in for 18 mm: 1.05 mm over, rounds the head (common practice, no source)', () => {
    expect(substitute(18, '3/4 in')).toEqual({
      fits: false,
      text: '3/4 in for 18 mm: 1.05 mm over, rounds the head. Get the right one.',
    });
    // 3/4 in is as good as 19 mm: 0.05 mm over.
    expect(substitute(19, '3/4 in')).toMatchObject({ fits: true });
    expect(substitute(18, '18.1')).toMatchObject({ fits: true });
    expect(substitute(18, '18.11')).toMatchObject({ fits: false });
    expect(substitute(18, '17 mm')!.text).toContain('1 mm under, it does not go on');
    expect(substitute(18, 'the red one')).toBeNull();
  });
});

describe('tools of a visit', () => {
  test('each step names its tool in the model’s size, or that the manual has it', () => {
    const drain = (traits: object) => steps(['engine-oil'], traits).find((s) => s.id === '1 engine-oil/drain')!;
    expect(drain({ drainSocketMm: 17 })).toMatchObject({
      tools: ['socket for the drain screw, 17 mm', 'drain pan'],
      toolMm: 17,
    });
    expect(drain({})).toMatchObject({
      tools: ['socket for the drain screw, size by the manual', 'drain pan'],
      toolMm: null,
    });
    expect(
      sizedTool('plugSocketMm', traitsOf({ powerHp: 60, stroke: 4, cylinders: 4, traits: { plugSocketMm: 16 } })),
    ).toBe('deep socket for the plugs, 16 mm');
  });
  test('a torque wrench is laid out where the model has a torque to set', () => {
    expect(toolsOf(steps(['engine-oil']))).not.toContain('torque wrench');
    expect(toolsOf(steps(['engine-oil'], { drainScrewNm: 18 }))).toContain('torque wrench');
  });
  test('the list has each tool once, however many engines and steps want it', () => {
    const list = toolsOf(steps(['engine-oil', 'gear-lube', 'spark-plugs', 'compression', 'prop-shaft']));
    expect(new Set(list).size).toBe(list.length);
    expect(list.filter((t) => t === 'drain pan')).toHaveLength(1);
    expect(list).toEqual(expect.arrayContaining(['compression gauge', 'feeler gauge', 'block of wood']));
  });
});

describe('figures cards still want', () => {
  const all = Object.fromEntries(WANTED_FIGURES.map((f) => [f.trait, 1]));
  test('the model most engines hang on comes first; one that has all is not told', () => {
    const few = { name: 'few', stroke: 4 as const, engines: 2, traits: {} };
    const many = { name: 'many', stroke: 4 as const, engines: 9, traits: { propNutNm: 70 } };
    const whole = { name: 'whole', stroke: 4 as const, engines: 50, traits: all };
    const idle = { name: 'idle', stroke: 4 as const, engines: 0, traits: null };
    const missing = figuresMissing([few, whole, many, idle]);
    expect(missing.map((m) => m.model.name)).toEqual(['many', 'few']);
    expect(missing[1]!.words[0]).toBe('torque of the propeller nut');
    expect(missing[0]!.words).not.toContain('torque of the propeller nut');
  });
  test('a two-stroke is not asked for what it has not', () => {
    const [found] = figuresMissing([{ stroke: 2 as const, engines: 1, traits: {} }]);
    expect(found!.words.join()).not.toMatch(/drain|dipstick|oil filter/);
  });
});
