import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TASK_KINDS, type TaskKind } from '../service/index.ts';
import {
  compressionSpread,
  kilopascalsOf,
  millilitresOf,
  newtonMetresOf,
  READING_KINDS,
  READINGS,
  readingFault,
  readingKey,
  readingOf,
  WEIGHTS,
  type Readings,
  type ReadingValue,
} from './index.ts';
import { judge, look, only, psi, tasks } from './test/judge.ts';

// Common practice, no source, throughout.
describe('compression', () => {
  test('125 and 130 psi pass with 3.8 %; 110 against 130 does not', () => {
    expect(compressionSpread([125, 130])! * 100).toBeCloseTo(3.846, 3);
    expect(judge(psi(125, 130))).toEqual([]);
    expect(compressionSpread([110, 130])! * 100).toBeCloseTo(15.385, 3);
    const f = only(judge(psi(110, 130)));
    expect(f).toMatchObject({
      code: 'compression',
      weight: 'act',
      seen: 'The cylinders lie 15.4 % apart; cylinder 1 is the weakest. 15 % is the most.',
    });
    expect(tasks(f)).toEqual(['compression', 'leak-down']);
  });
  test('the floor under 130 psi is 110.5', () => {
    expect(judge(psi(110.5, 130))).toEqual([]);
    expect(judge(psi(110.4, 130))).toHaveLength(1);
  });
  test('the unit a gauge reads in changes nothing (1 psi = 6.894757293168 kPa, NIST SP 811)', () => {
    expect(kilopascalsOf({ value: 1, unit: 'psi' })).toBeCloseTo(6.894757293168, 10);
    const inKpa = Object.fromEntries(
      Object.entries(psi(110, 130)).map(([k, v]) => [
        k,
        { value: kilopascalsOf(v as { value: number; unit: string })!, unit: 'kPa' },
      ]),
    );
    expect(judge(inKpa).map((f) => f.weight)).toEqual(['act']);
    expect(
      judge({ '7 compression#1': { value: 7.6, unit: 'bar' }, '7 compression#2': { value: 130, unit: 'psi' } }),
    ).toHaveLength(1);
  });
  test('one cylinder alone says nothing, and a spread is judged when all are read', () => {
    expect(compressionSpread([130])).toBeNull();
    expect(judge(psi(130), { cylinders: 2 })).toEqual([]);
    expect(judge(psi(130, 90), { cylinders: 3 })).toEqual([]);
  });
  test('severe: the engine is held; below the model’s own floor likewise, whatever the spread', () => {
    expect(only(judge(psi(85, 130)))).toMatchObject({
      weight: 'hold',
      proposals: [{ kind: 'hold', checks: ['leak-down'] }, { kind: 'follow-up' }, { kind: 'follow-up' }],
    });
    expect(only(judge(psi(90, 92), {}, { compressionFloorKpa: 690 })).seen).toContain('below the model’s floor');
  });
});

describe('gear lube', () => {
  test('dark or clear is normal', () => {
    expect(judge(look('lube look', 'dark'))).toEqual([]);
    expect(judge(look('lube look', 'clear'))).toEqual([]);
  });
  test('milky, or water first: held, and never just refilled', () => {
    for (const choice of ['milky', 'water']) {
      const f = only(judge(look('lube look', choice)));
      expect(f.weight).toBe('hold');
      expect(f.proposals[0]).toEqual({ kind: 'hold', checks: ['gear-seals', 'gear-lube'] });
      expect(tasks(f)).toEqual(['prop-shaft', 'gear-seals', 'gear-lube']);
      expect(f.does).toContain('Never just refill');
    }
  });
  test('grit between the fingers: held until the gears are looked into', () => {
    expect(only(judge(look('lube look', 'grit'))).proposals[0]).toEqual({ kind: 'hold', checks: ['gear-inspection'] });
  });
  test('two of three gaskets out: stop and find the third', () => {
    const out = (value: number): Readings => ({ '7 gaskets out': { value, unit: 'pieces' } });
    expect(only(judge(out(2), {}, { gearScrews: 3 }))).toMatchObject({
      weight: 'stop',
      seen: '2 of 3 old gaskets came out.',
    });
    expect(judge(out(3), {}, { gearScrews: 3 })).toEqual([]);
    expect(judge(out(2), {}, { gearScrews: 2 })).toEqual([]);
    // Where nobody counted the screws, two may be all: no case has fewer.
    expect(judge(out(2))).toEqual([]);
    expect(only(judge(out(1))).seen).toBe('1 of at least 2 old gaskets came out.');
  });
});

describe('engine oil', () => {
  test('thinned by fuel: change now, mend the fuel system, change again, in this order', () => {
    const f = only(judge(look('oil look', 'thin')));
    // Oil that no longer carries, and vapour in the sump: it does not go out.
    expect(f.weight).toBe('hold');
    expect(f.proposals).toEqual([
      { kind: 'hold', checks: ['fuel-repair', 'engine-oil'] },
      { kind: 'follow-up', task: 'engine-oil', when: 'now' },
      { kind: 'follow-up', task: 'fuel-repair', when: 'after the one before' },
      { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
    ]);
  });
  test('more out than the label says goes in means the same, unless the figure is in the other unit', () => {
    expect(only(judge({ '7 oil out': { value: 7.6, unit: 'US qt' } })).code).toBe('fuel in oil');
    expect(judge({ '7 oil out': { value: 7.2, unit: 'US qt' } })).toEqual([]);
    // 7.1 L is the quart figure written as litres, not half a litre gained.
    expect(judge({ '7 oil out': { value: 7.1, unit: 'L' } })).toEqual([]);
  });
  test('a level that has risen since it was filled means the same', () => {
    expect(only(judge(look('oil level', 'above'))).code).toBe('fuel in oil');
    expect(only(judge({ ...look('oil level', 'above'), '7 oil in': { value: 7.1, unit: 'US qt' } })).code).toBe(
      'level high',
    );
  });
  test('the unit trap: 6.7 quarts where the label says 7.1 quarts, which are 6.72 L', () => {
    const f = only(judge({ '7 oil in': { value: 6.7, unit: 'US qt' } }));
    expect(f).toMatchObject({
      code: 'oil in unit',
      seen: '6.7 US qt went in; the label says 7.1 US qt = 6.72 L.',
      means: '6.7 looks like L, not US qt.',
    });
    expect(judge({ '7 oil in': { value: 6.72, unit: 'L' } })).toEqual([]);
  });
  test('black is normal; milky holds; metal is traced, but a little swarf is normal at the first change', () => {
    expect(judge(look('oil look', 'black'))).toEqual([]);
    expect(only(judge(look('oil look', 'milky'))).weight).toBe('hold');
    expect(tasks(only(judge(look('oil look', 'metal'))))).toEqual(['oil-trace']);
    expect(only(judge(look('oil look', 'metal'), { firstOil: true }))).toMatchObject({ code: 'swarf', proposals: [] });
    expect(only(judge({ ...look('oil look', 'metal'), ...look('filter seat', 'metal') })).from).toHaveLength(2);
  });
});

describe('pump, shaft, anodes, fuel, leaks', () => {
  test('a groove: a whole kit, and the pump comes round sooner on this boat', () => {
    expect(only(judge(look('pump metal', 'groove'))).proposals).toEqual([
      { kind: 'order', task: 'impeller' },
      { kind: 'shorten', task: 'impeller', percent: 50 },
    ]);
  });
  test('a missing vane holds until the passages are searched; set vanes are only told', () => {
    const vane = only(judge(look('impeller look', 'missing')));
    expect([vane.weight, tasks(vane)]).toEqual(['hold', ['passages']]);
    expect(vane.proposals[0]).toEqual({ kind: 'hold', checks: ['passages'] });
    expect(only(judge(look('impeller look', 'set'))).proposals).toEqual([]);
  });
  test('a weak stream or none holds it; gears that do not all take hold it', () => {
    for (const choice of ['weak', 'none'])
      expect(only(judge(look('stream', choice))).proposals[0]).toEqual({ kind: 'hold', checks: ['impeller'] });
    expect(only(judge(look('shift', 'wrong'))).weight).toBe('hold');
  });
  test('a weak stream on a pump just done asks for the passages, not for that pump again', () => {
    const f = only(judge(look('stream', 'weak'), { worked: new Set<TaskKind>(['impeller']) }));
    expect(f.proposals).toEqual([
      { kind: 'hold', checks: ['passages'] },
      { kind: 'follow-up', task: 'passages', when: 'now' },
    ]);
    expect(f.seen).toContain('the pump just done');
  });
  test('oily plugs ask for compression, but not where it was taken on the same card', () => {
    expect(tasks(only(judge(look('plug look#1', 'oily'))))).toEqual(['compression']);
    const taken = only(judge(look('plug look#1', 'oily'), { worked: new Set<TaskKind>(['compression']) }));
    expect([taken.weight, taken.proposals]).toEqual(['act', []]);
  });
  test('ten psi on all cylinders is no engine that runs, however alike they are', () => {
    const all = (value: number): Readings => psi(value, value, value, value);
    expect(only(judge(all(10), { cylinders: 4 }))).toMatchObject({
      weight: 'hold',
      seen: expect.stringContaining('below what any engine runs on'),
    });
    // 58 psi are 399.9 kPa, 58.1 are 400.6.
    expect(only(judge(all(58), { cylinders: 4 })).weight).toBe('hold');
    expect(judge(all(58.1), { cylinders: 4 })).toEqual([]);
    expect(only(judge(all(110), { cylinders: 4 }, { compressionFloorKpa: 800 })).seen).toContain('the model’s floor');
  });
  test('an anode under half is spent; below a third the bonding is looked at and it comes sooner', () => {
    const left = (value: number): Readings => ({ '7 anode left': { value, unit: '%' } });
    expect(judge(left(50))).toEqual([]);
    expect(only(judge(left(40))).proposals).toEqual([{ kind: 'order', task: 'anodes' }]);
    expect(only(judge(left(30))).proposals.map((p) => p.kind)).toEqual(['order', 'follow-up', 'shorten']);
  });
  test('line at the shaft: the lube is looked at again in four weeks; in the seal: seals first', () => {
    expect(only(judge(look('shaft line', 'line'))).proposals).toEqual([
      { kind: 'follow-up', task: 'gear-lube', when: 28 },
    ]);
    expect(tasks(only(judge(look('shaft line', 'seal'))))).toEqual(['gear-seals', 'gear-lube']);
  });
  test('a dark filter and water in the bowl lead to the tank; a leak that goes on holds it', () => {
    expect(tasks(only(judge(look('fuel filter look', 'dark'))))).toEqual(['tank-check']);
    expect(only(judge({ ...look('fuel filter look', 'water'), ...look('separator look', 'water') })).from).toHaveLength(
      2,
    );
    expect(only(judge(look('leak', 'leaks'))).weight).toBe('hold');
    expect(tasks(only(judge(look('leak', 'drip'))))).toEqual(['first-outing']);
  });
  test('plugs are told by number; all alike at once', () => {
    const plugs = (...c: string[]): Readings =>
      Object.fromEntries(c.map((choice, i) => [`7 plug look#${i + 1}`, { choice }]));
    expect(judge(plugs('light', 'light'))).toEqual([]);
    expect(only(judge(plugs('light', 'oily'))).seen).toBe('Plug 2 is oily.');
    expect(only(judge(plugs('sooty', 'sooty'))).seen).toBe('All plugs are sooty.');
  });
  test('torque: a drain screw of 13 lbf.ft is 17.6 N.m, and one fifth off is told (NIST SP 811)', () => {
    expect(newtonMetresOf({ value: 13, unit: 'lbf·ft' })).toBeCloseTo(17.6256, 3);
    const set = (value: number, unit: string): Readings => ({ '7 torque#engine-oil': { value, unit } });
    expect(judge(set(13, 'lbf·ft'), {}, { drainScrewNm: 17.6 })).toEqual([]);
    expect(only(judge(set(30, 'N·m'), {}, { drainScrewNm: 17.6 })).means).toContain('strip');
    expect(judge(set(30, 'N·m'))).toEqual([]);
  });
});

describe('findings as a whole', () => {
  const anyValue = (kind: (typeof READING_KINDS)[number]): fc.Arbitrary<ReadingValue> => {
    const info = READINGS[kind];
    return info.options
      ? fc.constantFrom(...info.options.map((o) => ({ choice: o.key })))
      : fc.record({
          value: fc.double({ min: 0, max: 200, noNaN: true }),
          unit: fc.constantFrom('L', 'US qt', 'psi', 'kPa', 'N·m', 'mm', '%', 'pieces', 'V'),
        });
  };
  const anyReadings = fc
    .array(
      fc
        .constantFrom(...READING_KINDS)
        .chain((kind) =>
          fc.tuple(
            fc.constant(READINGS[kind].per === 'cylinder' ? readingKey(7, kind, 1) : readingKey(7, kind)),
            anyValue(kind),
          ),
        ),
      { maxLength: 14 },
    )
    .map((list): Readings => Object.fromEntries(list));
  test('worst first, each once, resting on what was read, proposing work there is, never throwing', () => {
    fc.assert(
      fc.property(anyReadings, (readings) => {
        const found = judge(readings);
        expect(found.map((f) => WEIGHTS.indexOf(f.weight))).toEqual(
          found.map((f) => WEIGHTS.indexOf(f.weight)).sort((a, b) => b - a),
        );
        expect(new Set(found.map((f) => f.key)).size).toBe(found.length);
        for (const f of found) {
          expect(f.from.length).toBeGreaterThan(0);
          expect(f.from.every((k) => k in readings)).toBe(true);
          for (const p of f.proposals) {
            for (const t of p.kind === 'hold' ? p.checks : [p.task]) expect(TASK_KINDS).toContain(t);
          }
          expect(f.weight === 'hold').toBe(f.proposals.some((p) => p.kind === 'hold'));
        }
      }),
    );
  });
  test('another engine’s readings are not its own', () => {
    expect(judge({ '8 lube look': { choice: 'milky' } })).toEqual([]);
  });
  test('every look that is bad leads somewhere', () => {
    for (const kind of READING_KINDS) {
      for (const o of READINGS[kind].options ?? []) {
        // Not final yet; and what was low on arrival of an engine nothing is known of is another matter.
        if (o.tone !== 'bad' || kind === 'oil level before') continue;
        const key =
          READINGS[kind].per === 'cylinder'
            ? readingKey(7, kind, 1)
            : kind === 'screw'
              ? readingKey(7, kind, 'gear-lube')
              : readingKey(7, kind);
        expect([kind, o.key, judge({ [key]: { choice: o.key } }).length]).toEqual([kind, o.key, 1]);
      }
    }
  });
});

describe('readings', () => {
  test('their names come apart as they were put together', () => {
    fc.assert(
      fc.property(
        fc.nat(),
        fc.constantFrom(...READING_KINDS),
        fc.option(fc.constantFrom('1', '12', 'engine-oil', 'used oil')),
        (engineId, kind, part) => {
          expect(readingOf(readingKey(engineId, kind, part))).toEqual({ engineId, kind, part });
        },
      ),
    );
    expect(readingOf('7 no such thing')).toBeNull();
  });
  test('a look that is none of those offered, a figure below nothing, more than can be', () => {
    expect(readingFault('lube look', { choice: 'pink' })).toContain('Choose one of: dark and clear');
    expect(readingFault('lube look', { value: 3, unit: 'L' })).not.toBeNull();
    expect(readingFault('compression', { choice: 'milky' })).not.toBeNull();
    expect(readingFault('compression', { value: -1, unit: 'psi' })).not.toBeNull();
    expect(readingFault('anode left', { value: 120, unit: '%' })).toBe(
      'Anode left lies between 0 and 100 %: 120 % cannot be right. Look at the figure and its unit.',
    );
    expect(readingFault('anode left', { value: 60, unit: '%' })).toBeNull();
  });
  test.each([
    // The same limit whichever unit it was read in; 1 psi = 6.894757 kPa, 1 lbf·ft = 1.355818 N·m, 1 in = 25.4 mm (NIST
    // SP 811, from memory).
    ['compression', 130, 'psi', true],
    ['compression', 1300, 'psi', false],
    ['compression', 900, 'kPa', true],
    ['compression', 9, 'bar', true],
    ['compression', 90, 'bar', false],
    ['oil in', 7.1, 'US qt', true],
    ['oil in', 6700, 'mL', true],
    ['oil in', 6700, 'L', false],
    ['oil in', 226, 'US fl oz', true],
    ['lube in', 640, 'US gal', false],
    ['torque', 55, 'lbf·ft', true],
    ['torque', 400, 'lbf·ft', false],
    ['torque', 150, 'N·m', true],
    ['torque', 400, 'N·m', false],
    ['battery volts', 12.6, 'V', true],
    ['battery volts', 126, 'V', false],
    ['plug gap', 1.1, 'mm', true],
    ['plug gap', 0.044, 'in', true],
    ['plug gap', 1.1, 'in', false],
    ['gaskets out', 3, 'pieces', true],
    ['gaskets out', 300, 'pieces', false],
  ] as const)('%s of %d %s can be: %s', (kind, value, unit, can) => {
    const fault = readingFault(kind, { value, unit });
    expect(fault ?? 'can be').toMatch(
      can ? /^can be$/ : new RegExp(`lies between [\\d.]+ and [\\d.]+ ${unit}: ${value} ${unit} cannot be right`),
    );
  });
  test('a unit of something else is refused by name', () => {
    expect(readingFault('compression', { value: 130, unit: 'L' })).toBe('It is given in psi, kPa, bar.');
    expect(readingFault('oil in', { value: 3, unit: 'pint' })).toContain('US qt');
  });
  test('volumes in exact millilitres (1 US qt = 0.946352946 L, NIST SP 811)', () => {
    expect(millilitresOf({ value: 1, unit: 'US qt' })).toBeCloseTo(946.352946, 6);
    expect(millilitresOf({ value: 1, unit: 'psi' })).toBeNull();
  });
});
