import { describe, expect, test } from '@jest/globals';
import { TASK_KINDS, TASKS } from '../service/index.ts';
import {
  ACCESS_TEMPLATES,
  conditionWords,
  fillIn,
  holds,
  knownSteps,
  SHIPPED,
  SHIPPED_ACCESS,
  SWITCHES,
  templateFaults,
  TEMPLATE_KEYS,
  shippedOf,
  visitSteps,
  workFacts,
  type Template,
  type TemplateLine,
  type VisitTask,
} from './index.ts';
import { traitsOf } from '../fleet/index.ts';

const known = knownSteps();
const at = (
  task: VisitTask['task'],
  model: { powerHp: number; stroke?: 2 | 4; cylinders?: number; traits?: object },
  choices = {},
  unknown = false,
) =>
  visitSteps([
    {
      engineId: 1,
      task,
      cylinders: model.cylinders ?? 4,
      engine: {
        facts: workFacts({ stroke: 4, cylinders: 4, ...model }, choices, unknown),
        sump: { value: 3, unit: 'L' },
        gearCase: { value: 0.6, unit: 'L' },
      },
    },
  ]);
const texts = (steps: { text: string }[]) => steps.map((s) => s.text).join('\n');

describe('the steps that come with the book', () => {
  test('every task has some, and none of them has a fault', () => {
    for (const task of TASK_KINDS) {
      expect(SHIPPED[task].length).toBeGreaterThan(0);
      expect([task, templateFaults(SHIPPED[task], SHIPPED[task], known)]).toEqual([task, []]);
    }
  });
  test('on any model and any answer, every task leaves a step in force, its words filled in', () => {
    for (const task of TASK_KINDS) {
      for (const powerHp of [6, 60, 200]) {
        for (const choices of [
          {},
          {
            'oil out': 'extraction',
            'fill level': 'label',
            'filter turn': 'half',
            washers: 'second',
            'pump parts': 'impeller',
            bowls: 'run dry',
            battery: 'charger',
          },
        ]) {
          const steps = at(task, { powerHp, stroke: TASKS[task].twoStrokeOnly ? 2 : 4 }, choices).filter(
            (s) => s.task === task || s.id.startsWith('1 '),
          );
          expect([task, steps.length > 0, texts(steps).includes('{')]).toEqual([task, true, false]);
        }
      }
    }
  });
  // Common practice, no source.
  test('three screws: three gaskets, two vents', () => {
    expect(texts(at('gear-lube', { powerHp: 60, traits: { gearScrews: 3 } }))).toContain(
      'Count the old gaskets out: three were in',
    );
    expect(texts(at('gear-lube', { powerHp: 60, traits: { gearScrews: 3 } }))).toContain('through the second');
    expect(texts(at('gear-lube', { powerHp: 60, traits: { gearScrews: 2 } }))).not.toContain('through the second');
  });
  test('extraction or gravity, label or dipstick, canister or in-line, rope or none', () => {
    expect(texts(at('engine-oil', { powerHp: 60, traits: { oilBy: 'extraction' } }))).toContain('thin hose');
    expect(texts(at('engine-oil', { powerHp: 60 }))).toContain('drain screw out');
    // The yard's answer outranks how the model is built.
    expect(
      texts(at('engine-oil', { powerHp: 60, traits: { oilBy: 'extraction' } }, { 'oil out': 'gravity' })),
    ).toContain('drain screw out');
    expect(texts(at('engine-oil', { powerHp: 60 }))).toContain('Pour in 2.7 L = 2.85 US qt of 3 L = 3.17 US qt');
    expect(texts(at('engine-oil', { powerHp: 60 }, { 'fill level': 'label' }))).toContain('Pour in 3 L = 3.17 US qt');
    expect(texts(at('fuel-filter', { powerHp: 60 }))).toContain('canister');
    expect(texts(at('fuel-filter', { powerHp: 8 }))).toContain('both hose joints');
    expect(texts(at('oil-filter', { powerHp: 6 }))).toContain('starter rope');
  });
  test('of an engine with an unknown past the oil is looked for first, and it is not warmed', () => {
    const steps = at('engine-oil', { powerHp: 60 }, {}, true);
    expect(texts(steps)).toContain('Nothing is known of this engine');
    expect(texts(steps)).not.toContain('Warm it up');
    expect(texts(at('engine-oil', { powerHp: 60 }))).toContain('Warm it up');
  });
  test('a large V engine stands tilted for a quarter of an hour before its level is read', () => {
    const steps = at('engine-oil', { powerHp: 250, cylinders: 6 });
    expect(steps.find((s) => s.id === '1 engine-oil/stand')).toMatchObject({ wait: 15, stance: 'tilted' });
    // Before the reading that counts, not before the first one.
    expect(steps.find((s) => s.id === '1 engine-oil/level')!.after).toContain('1 engine-oil/stand');
    expect(steps.find((s) => s.id === '1 engine-oil/stand')!.after).toContain('1 run');
  });
  test('the side cover of a big engine, with its hidden screw and its longest one', () => {
    expect(at('engine-oil', { powerHp: 200 }).find((s) => s.id === '1 side cover off')!.detail).toContain('one hidden');
    expect(at('engine-oil', { powerHp: 60 }).some((s) => s.id === '1 side cover off')).toBe(false);
  });
  test('wherever hands, propellers, hot oil, fuel or exhaust are in play the step warns', () => {
    for (const [task, step, word] of [
      ['engine-oil', 'engine-oil/drain', 'Hot oil'],
      ['gear-lube', 'gear-lube/drain', 'Lanyard'],
      ['fuel-filter', 'fuel-filter/off-canister', 'vapour'],
      ['engine-oil', 'run', 'exhaust'],
      ['impeller', 'lower unit off', 'two-person'],
      ['prop-shaft', 'propeller off', 'anyard'],
      ['compression', 'compression/crank', 'longer than the maker allows'],
      ['battery', 'battery/off', 'spark'],
      ['prop-shaft', 'propeller on', 'order'],
    ] as const) {
      expect([
        task,
        at(task, { powerHp: 60 })
          .find((s) => s.id === `1 ${step}`)
          ?.caution?.includes(word),
      ]).toEqual([task, true]);
    }
  });
});

describe('figures in the words', () => {
  test('13 lbf.ft is 17.6 N.m (NIST SP 811); an unknown torque stands in the manual', () => {
    const figures = {
      traits: traitsOf({ powerHp: 60, stroke: 4, cylinders: 4, traits: { plugGapMm: 1, drainScrewNm: 17.6 } }),
      sump: null,
      gearCase: null,
    };
    expect(fillIn('{drainScrewNm}, {plugNm}, {gap}, {sump}, {nothing}', figures)).toBe(
      '17.6 N·m (13 lbf·ft), to the torque of the manual, 1 mm (0.039 in), the label’s volume, {nothing}',
    );
  });
});

describe('a template somebody writes', () => {
  const lines = SHIPPED['gear-lube'];
  const without = (key: string): Template => lines.filter((l) => l.key !== key);
  const said = (t: Template) =>
    templateFaults(t, lines, known)
      .map((f) => f.text)
      .join(' ');
  test('what is asked and confirmed by a person has to stay', () => {
    expect(said(without('gaskets'))).toContain('has to be asked somewhere');
    const oil = SHIPPED['engine-oil'];
    expect(
      templateFaults(
        oil.filter((l) => l.key !== 'level'),
        oil,
        known,
      )
        .map((f) => f.text)
        .join(' '),
    ).toContain('The gate "level after the run" has to stay');
  });
  test('two of one name, a circle, a step that waits for none there is, no words, no minutes', () => {
    const own = (more: Partial<TemplateLine>): TemplateLine => ({ key: 'mine', text: 'Do it well', share: 2, ...more });
    expect(said([...lines, own({ key: 'fill' })])).toContain('Two steps are called "fill"');
    expect(said([...lines, own({ after: ['yours'] })])).toContain('comes after "yours", which there is not');
    expect(said(lines.map((l) => (l.key === 'loosen' ? { ...l, after: ['tight'] } : l)))).toContain('in a circle');
    expect(said([...lines, own({ text: ' ' })])).toContain('Say what is to be done');
    expect(said([...lines, own({ share: 0 })])).toContain('above 0');
    expect(said([...lines, own({ key: 'Not Ours!' })])).toContain('small letters');
    expect(said([...lines, own({ after: ['engine-oil/fill', 'lower unit on'] })])).toBe('');
  });
  test('another wording, another order, a step more: all of it comes onto the card', () => {
    const mine: Template = [
      ...lines.map((l) => (l.key === 'look' ? { ...l, text: 'Catch a spoonful in a white cup' } : l)),
      { key: 'chalk', text: 'Chalk the date on the leg', share: 1, after: ['tight'] },
    ];
    const steps = visitSteps([{ engineId: 1, task: 'gear-lube', cylinders: 4 }], { 'gear-lube': mine });
    expect(texts(steps)).toContain('Catch a spoonful in a white cup');
    expect(steps.find((s) => s.id === '1 gear-lube/chalk')!.after).toEqual(['1 gear-lube/tight']);
    expect(steps.reduce((sum, s) => sum + s.minutes, 0)).toBeCloseTo(
      visitSteps([{ engineId: 1, task: 'gear-lube', cylinders: 4 }]).reduce((sum, s) => sum + s.minutes, 0),
      9,
    );
  });
  test('conditions: all have to hold, a list takes any of its own, an unknown switch is none', () => {
    const on = { gearScrews: 3, washers: 'new', unknownHistory: false };
    expect([
      holds(undefined, on),
      holds({ gearScrews: 3, washers: 'new' }, on),
      holds({ gearScrews: 3, washers: 'second' }, on),
      holds({ washers: ['new', 'second'] }, on),
      holds({ nonsense: true }, on),
      holds({ nonsense: false }, on),
    ]).toEqual([true, true, false, true, false, true]);
  });
});

describe('steps that open and close, and those of every visit', () => {
  const lower = SHIPPED_ACCESS['lower unit'];
  const faults = (lines: Template) =>
    templateFaults(lines, lower, known, 'lower unit')
      .map((f) => f.text)
      .join(' ');
  const impeller: VisitTask = {
    engineId: 1,
    task: 'impeller',
    cylinders: 4,
    engine: { facts: workFacts({ powerHp: 60, stroke: 4, cylinders: 4 }), sump: null, gearCase: null },
  };
  test('none of those that come with the book has a fault', () => {
    for (const key of ACCESS_TEMPLATES)
      expect([key, templateFaults(SHIPPED_ACCESS[key], SHIPPED_ACCESS[key], known, key)]).toEqual([key, []]);
    expect(TEMPLATE_KEYS.every((key) => shippedOf(key).length > 0)).toBe(true);
  });
  test('their words, cautions and minutes are the yard’s; what other steps hang on stays', () => {
    expect(
      faults(
        lower.map((l) =>
          l.key === 'lower unit on'
            ? {
                ...l,
                text: 'Lift it on, grease on the splines',
                share: 25,
                caution: 'Two of us.',
                twoPeople: 'always' as const,
              }
            : l,
        ),
      ),
    ).toBe('');
    expect(faults(lower.filter((l) => l.key !== 'trim tab'))).toContain('has to stay: other steps hang on it');
    expect(
      faults(
        lower.map((l) =>
          l.key === 'shift test' ? ({ ...l, gate: undefined, readings: [] } as unknown as TemplateLine) : l,
        ),
      ),
    ).toContain('only the words');
    const visit = SHIPPED_ACCESS.visit;
    expect(
      templateFaults([...visit, { key: 'tea', text: 'Tea for everybody', share: 5 }], visit, known, 'visit').map(
        (f) => f.text,
      ),
    ).toEqual(['Every visit has these steps and no others. Put it into a task or an access.']);
  });
  test('a step added to closing up comes after what it names, before the run, and says where it belongs', () => {
    const own: TemplateLine = {
      key: 'second look',
      closing: true,
      text: 'A colleague counts the bolts',
      share: 2,
      after: ['lower unit on'],
    };
    expect(faults([...lower, own])).toBe('');
    expect(faults([...lower, { ...own, after: ['lower unit off'] }])).toBe('Say which step of closing it comes after.');
    const steps = visitSteps([impeller], {
      'lower unit': [...lower, own],
      visit: SHIPPED_ACCESS.visit.map((l) => (l.key === 'arrive' ? { ...l, text: 'Cones out, key out' } : l)),
    });
    expect(steps.find((s) => s.id === '1 second look')!.after).toEqual(['1 lower unit on']);
    expect(steps.find((s) => s.id === '1 run')!.after).toContain('1 second look');
    expect(steps[0]!.text).toBe('Cones out, key out');
    expect(steps.reduce((sum, s) => sum + s.minutes, 0)).toBeCloseTo(
      visitSteps([impeller]).reduce((sum, s) => sum + s.minutes, 0),
      9,
    );
  });
});

describe('what a step can hang on', () => {
  test('every switch a shipped step uses is one a person can choose, with values an engine can have', () => {
    for (const key of TEMPLATE_KEYS)
      for (const l of shippedOf(key))
        for (const [name, wanted] of Object.entries(l.when ?? {})) {
          const values = SWITCHES.find((s) => s.key === name)?.values.map((v) => v.value) ?? [];
          expect([
            key,
            l.key,
            name,
            (Array.isArray(wanted) ? wanted : [wanted]).every((v) => values.includes(v)),
          ]).toEqual([key, l.key, name, true]);
        }
  });
  test('every switch but those of the card is one every engine answers', () => {
    const { switches } = workFacts({ powerHp: 60, stroke: 4, cylinders: 4 });
    expect(SWITCHES.map((s) => s.key).filter((key) => switches[key] === undefined)).toEqual(['unitOff']);
    for (const s of SWITCHES)
      if (switches[s.key] !== undefined)
        expect([s.key, s.values.some((v) => v.value === switches[s.key])]).toEqual([s.key, true]);
  });
  test('a switch there is not, or a value it never has, is named', () => {
    const lines = SHIPPED.grease;
    const said = (when: TemplateLine['when']) =>
      templateFaults(
        lines.map((l, i) => (i === 0 ? { ...l, when: when! } : l)),
        lines,
        known,
      )
        .map((f) => f.text)
        .join(' ');
    expect(said({ gearScrews: 3, recoil: true })).toBe('');
    expect(said({ gearScrews: 4 })).toContain('"Gear-case screws" is never 4. Choose one of: 2, 3.');
    expect(said({ gearScrews: [] })).toContain('is never nothing');
    expect(said({ colour: 'red' })).toContain('Nothing is called "colour"');
    expect(conditionWords({ gearScrews: [2, 3], recoil: true })).toEqual([
      'Gear-case screws: 2 or 3',
      'Rope start: yes',
    ]);
  });
});
