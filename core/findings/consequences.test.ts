import { describe, expect, test } from '@jest/globals';
import type { TaskKind } from '../service/index.ts';
import {
  anodeMonths,
  balanceText,
  findingsOf,
  LAST_TIME,
  oilBalance,
  readingDoubt,
  readingFault,
  type Finding,
  type PastReading,
  type Readings,
} from './index.ts';
import { engine, figure, judge, look, only, psi, tasks, onDay } from './test/judge.ts';

// Each consequence with a case on either side of its limit. Common practice, no source, throughout; units by NIST SP
// 811, from memory.
const SUMP = { sump: { value: 2.7, unit: 'L' as const } };
const codes = (found: readonly Finding[]) => found.map((f) => f.code);
const oil = (found: string | null, out: number | null, pours: (number | null)[], left: string | null): Readings => ({
  ...(found === null ? {} : look('oil level found', found)),
  ...(out === null ? {} : figure('oil out', out, 'L')),
  ...Object.fromEntries(
    pours.flatMap((value, i) =>
      value === null ? [] : [[`7 ${['oil in', 'oil topped up', 'oil added'][i]}`, { value, unit: 'L' }]],
    ),
  ),
  ...(left === null ? {} : look('oil level', left)),
});

describe('oil as a balance', () => {
  test('every pour counts: the sum is held against the label, not the first pour', () => {
    // 2.43 + 0.2 + 0.2 = 2.83 L, 4.8 % over 2.7 L; 2.43 + 0.3 + 0.2 = 2.93 L, 8.5 % over.
    expect(judge(oil(null, null, [2.43, 0.2, 0.2], 'upper'), SUMP)).toEqual([]);
    expect(only(judge(oil(null, null, [2.43, 0.3, 0.2], 'upper'), SUMP))).toMatchObject({
      code: 'oil in much',
      seen: '2.93 L went in altogether, 8.5 % more than the label.',
    });
  });
  test('what stayed inside is told: little out, or little in and yet it stands right', () => {
    expect(codes(judge(oil('upper', 2.16, [], null), SUMP))).toEqual([]);
    expect(codes(judge(oil('upper', 2.15, [], null), SUMP))).toEqual(['oil out little']);
    // It had gone before: that is no trouble of the drain.
    expect(codes(judge(oil('lower', 2.15, [], null), SUMP))).toEqual([]);
    expect(codes(judge(oil(null, null, [2.3], 'upper'), SUMP))).toEqual([]);
    expect(codes(judge(oil(null, null, [2.29], 'upper'), SUMP))).toEqual(['old oil stays']);
    expect(codes(judge(oil(null, null, [2.29], 'lower'), SUMP))).toEqual([]);
  });
  test('out, in and the dipstick have to agree, in the model’s millilitres of the band', () => {
    const band = { dipstickMl: 800 };
    // From the lower to the upper half is half a band: 0.4 L; out 2.2, so 2.6 went in. An eighth of 2.7 L is forgiven.
    expect(judge(oil('lower', 2.2, [2.6], 'upper'), SUMP, band)).toEqual([]);
    expect(judge(oil('lower', 2.2, [2.5, null, 0.4], 'upper'), SUMP, band)).toEqual([]);
    const off = judge(oil('lower', 2.2, [2.4, null, 0.5], 'lower'), SUMP, band);
    expect(only(off)).toMatchObject({
      code: 'oil does not add up',
      seen: 'Out 2.2 L, in 2.9 L, and the dipstick rose by 0 L: 0.7 L too much went in for that.',
    });
    // Without the model's figure nothing can be held against it.
    expect(judge(oil('lower', 2.2, [2.4, null, 0.5], 'lower'), SUMP)).toEqual([]);
  });
  test('the sums in words, in the unit of the label', () => {
    expect(balanceText(oilBalance(engine(SUMP), oil(null, 2.4, [2.43, 0.1], null)), SUMP.sump)).toBe(
      'Out 2.4 L, in 2.53 L, label 2.7 L.',
    );
    expect(balanceText(oilBalance(engine(SUMP), {}), SUMP.sump)).toBeNull();
    // 1 US qt = 0.946352946 L.
    const quarts = engine({ sump: { value: 3, unit: 'US qt' } });
    expect(balanceText(oilBalance(quarts, figure('oil in', 0.946352946, 'L')), quarts.sump)).toBe(
      'In 1 US qt, label 3 US qt.',
    );
  });
  test('how much to top up is said where the band is known', () => {
    expect(only(judge(look('oil level', 'below'), { ...SUMP, planned: new Set() }, { dipstickMl: 800 })).does).toBe(
      'Top up about 0.8 L to the upper half and read again.',
    );
  });
});

describe('the level, against the last card’s', () => {
  const last = (level: string): PastReading[] => onDay('2025-05-12', 370, look('oil level', level));
  test('risen above the mark is fuel in the oil; left there by the last card it is not', () => {
    const f = only(judge(look('oil level found', 'above'), { past: last('upper') }));
    expect(f).toMatchObject({
      code: 'fuel in oil',
      weight: 'hold',
      seen: 'The oil has risen above the upper mark since 12 May 2025, 42 h ago.',
    });
    expect(only(judge(look('oil level found', 'above'), { past: last('above') }))).toMatchObject({
      code: 'level high before',
      weight: 'watch',
    });
    // Above the mark without any other reason is a finding by itself.
    expect(only(judge(look('oil level found', 'above'))).weight).toBe('hold');
  });
  test('half a band up is looked at again in two weeks; a quarter is nothing', () => {
    expect(only(judge(look('oil level found', 'upper'), { past: last('lower') }, { dipstickMl: 800 }))).toMatchObject({
      code: 'level rising',
      seen: 'The oil has risen, by about 0.42 US qt, since 12 May 2025, 42 h ago.',
      proposals: [{ kind: 'follow-up', task: 'oil-level', when: 14 }],
    });
    expect(judge(look('oil level found', 'full'), { past: last('upper') })).toEqual([]);
  });
  test('fallen: it uses oil, and the level comes up as a task', () => {
    expect(only(judge(look('oil level found', 'lower'), { past: last('upper') }))).toMatchObject({
      code: 'oil used',
      weight: 'watch',
      proposals: [{ kind: 'follow-up', task: 'oil-level', when: 14 }],
    });
    expect(only(judge(look('oil level found', 'below'))).weight).toBe('act');
    expect(judge(look('oil level found', 'upper'), { past: last('full') })).toEqual([]);
  });
  test('no oil in an engine nothing is known of stops the work that would start it', () => {
    const low = look('oil level found', 'below');
    expect(only(judge(low, { oilUnknown: true })).weight).toBe('stop');
    // Its oil is being changed: it is not started before fresh oil is in.
    expect(judge(low, { oilUnknown: true, planned: new Set<TaskKind>(['engine-oil']) })).toEqual([]);
  });
  test('thin oil that is being changed asks for the repair and the change after it, not for this change', () => {
    expect(tasks(only(judge(look('oil look', 'thin'), { planned: new Set<TaskKind>(['engine-oil']) })))).toEqual([
      'fuel-repair',
      'engine-oil',
    ]);
  });
});

describe('compression over time', () => {
  const before = (...values: number[]) => onDay('2025-05-12', 300, psi(...values));
  test('15 % lost since the last test is the most: 110.5 of 130 psi, not 110.4', () => {
    expect(judge(psi(112, 110.5), { past: before(130, 130) })).toEqual([]);
    expect(only(judge(psi(128, 110.4), { past: before(130, 130) }))).toMatchObject({
      weight: 'act',
      seen: 'Cylinder 2 has lost 15.1 % since 12 May 2025, 112 h ago.',
    });
  });
  test('all down alike is rather the gauge: tested again, not taken apart', () => {
    const f = only(judge(psi(100, 101), { past: before(130, 130) }));
    expect([f.weight, tasks(f)]).toEqual(['act', ['compression']]);
    expect(f.seen).toContain('All cylinders have lost about 22.3 %');
  });
  test('one alone far below others that agree is severe, before the spread is', () => {
    // 94 of 130: 27.7 % apart, below three quarters of the next (127.5 * 0.75 = 95.6).
    expect(only(judge(psi(130, 128, 127.5, 94), { cylinders: 4 })).weight).toBe('hold');
    expect(only(judge(psi(130, 128, 127.5, 96), { cylinders: 4 })).weight).toBe('act');
  });
  test('a cylinder that makes nothing at all is no missing reading', () => {
    expect(only(judge(psi(0, 130))).weight).toBe('hold');
  });
  test('leak-down: over 20 % is mended in time, over 40 % holds', () => {
    const loss = (value: number): Readings => ({ '7 leak loss#2': { value, unit: '%' } });
    expect(judge(loss(20))).toEqual([]);
    expect(only(judge(loss(21))).weight).toBe('act');
    expect(only(judge(loss(40))).weight).toBe('act');
    expect(only(judge(loss(41))).weight).toBe('hold');
  });
});

describe('anodes by percent and age', () => {
  const left = (value: number) => figure('anode left', value, '%');
  const on = (day: string, value: number) => onDay(day, null, left(value));
  test('below a third within a year and a half is too fast; after more it has lasted', () => {
    // Found spent and swapped on 4 November 2024: 18 months. A day earlier it has lasted longer than that.
    const young = { past: on('2024-11-20', 40) };
    const old = { past: on('2024-10-20', 40) };
    expect(only(judge(left(30), young)).proposals.map((p) => p.kind)).toEqual(['order', 'follow-up', 'shorten']);
    expect(only(judge(left(30), old)).proposals.map((p) => p.kind)).toEqual(['order']);
    expect(anodeMonths(old.past, '2026-05-04')!).toBeCloseTo(18.46, 1);
    expect(anodeMonths([], '2026-05-04')).toBeNull();
  });
  test('at its pace half is gone before the next yearly look: it is looked at by then', () => {
    // 100 % on 4 November 2025, 60 % now: 40 % in 181 days, so a further 10 % in 45.
    expect(only(judge(left(60), { past: on('2025-11-04', 100) })).proposals).toEqual([
      { kind: 'follow-up', task: 'anodes', when: 45 },
    ]);
    // 100 % a year ago, 75 % now: half is gone in another year.
    expect(judge(left(75), { past: on('2025-05-04', 100) })).toEqual([]);
    expect(judge(left(74), { past: on('2025-05-04', 100) })).toHaveLength(1);
  });
});

describe('what a look means', () => {
  test.each([
    ['oil light', 'lit', 'hold', ['oil-pressure']],
    ['oil light', 'none', null, []],
    ['oil pressure look', 'low', 'hold', ['oil-pressure']],
    ['under cowl', 'fuel', 'hold', ['fuel-repair']],
    ['under cowl', 'sound', null, []],
    ['seal pressure', 'falls', 'watch', []],
    ['seal pressure again', 'falls', 'hold', ['gear-seals', 'gear-lube']],
    ['seal pressure again', 'holds', null, []],
    ['gears look', 'worn', null, []],
    ['gears look', 'broken', 'hold', ['gear-inspection']],
    ['pieces found', 'some', 'hold', ['passages']],
    ['pieces found', 'all', null, []],
    ['metal kind', 'soft', 'hold', []],
    ['thermostat look', 'rubber', 'act', []],
    ['hub look', 'slips', 'act', []],
    ['tank look', 'water', 'act', []],
    ['tank look', 'clean', null, []],
  ] as const)('%s %s: %s', (kind, choice, weight, checks) => {
    const found = judge(look(kind, choice));
    expect(found[0]?.weight ?? null).toBe(weight);
    const hold = found[0]?.proposals.find((p) => p.kind === 'hold');
    expect(hold?.kind === 'hold' ? hold.checks : []).toEqual(checks);
  });
  test('a seized screw puts that screw on order, not the whole of the task', () => {
    expect(only(judge({ '7 screw#gear-lube': { choice: 'seized' } })).proposals).toEqual([
      { kind: 'order', task: 'gear-lube', what: 'gear-case screw' },
    ]);
    expect(only(judge({ '7 screw#engine-oil': { choice: 'seized' } })).proposals).toEqual([
      { kind: 'order', task: 'engine-oil', what: 'drain screw' },
    ]);
  });
  test('a battery: 12.4 V is full enough, 11.8 V the least that comes back', () => {
    const volts = (value: number) => judge(figure('battery volts', value, 'V'));
    expect(volts(12.4)).toEqual([]);
    expect(only(volts(12.39)).code).toBe('battery low');
    expect(only(volts(11.8)).code).toBe('battery low');
    expect(only(volts(11.79)).code).toBe('battery dead');
  });
  test('lube: less than the label is trapped air, more is counted again (0.64 L: 0.608 and 0.6912 L)', () => {
    const lube = (value: number) => codes(judge(figure('lube in', value, 'L')));
    expect([lube(0.608), lube(0.607), lube(0.691), lube(0.692)]).toEqual([[], ['air in case'], [], ['lube in much']]);
  });
});

describe('figures in place', () => {
  test('what cannot be is refused with its name and the limits in the unit it was read in', () => {
    // 2500 kPa / 6.894757 = 362.6 psi; 2.5 mm / 25.4 = 0.1 in.
    expect(readingFault('compression', { value: 99_999, unit: 'psi' }, '2')).toBe(
      'Compression, cylinder 2, lies between 0 and 363 psi: 99999 psi cannot be right. Look at the figure and its unit.',
    );
    expect(readingFault('plug gap', { value: 50, unit: 'mm' })).toContain('between 0.2 and 2.5 mm');
    expect(readingFault('oil in', { value: 100, unit: 'L' })).toContain('between 0 and 15 L');
    expect(readingFault('gaskets out', { value: 99, unit: 'pieces' })).toContain('between 0 and 6 pieces');
    expect(readingFault('waste', { value: 3, unit: 'pieces' }, 'filters')).toBeNull();
    expect(readingFault('waste', { value: 300, unit: 'pieces' }, 'filters')).toContain('between 0 and 99 pieces');
    expect(readingFault('waste', { value: 30, unit: 'L' }, 'used oil')).toBeNull();
  });
  test('a quarter off the last one or the twin’s is asked about; an anode cannot have grown', () => {
    const beside = [{ words: LAST_TIME, value: { value: 130, unit: 'psi' } }];
    expect(readingDoubt('compression', { value: 97.5, unit: 'psi' }, beside)).toBeNull();
    expect(readingDoubt('compression', { value: 97, unit: 'psi' }, beside)).toBe('130 psi last time. Is it right?');
    // The same in another unit: 97 psi are 668.8 kPa.
    expect(readingDoubt('compression', { value: 668, unit: 'kPa' }, beside)).not.toBeNull();
    expect(readingDoubt('compression', { value: 700, unit: 'kPa' }, beside)).toBeNull();
    const anode = [{ words: LAST_TIME, value: { value: 60, unit: '%' } }];
    expect(readingDoubt('anode left', { value: 70, unit: '%' }, anode)).toBeNull();
    expect(readingDoubt('anode left', { value: 75, unit: '%' }, anode)).toContain('cannot have grown');
    expect(readingDoubt('anode left', { value: 100, unit: '%' }, anode)).toBeNull();
  });
});

test('judging looks back only on the engine it judges', () => {
  const past = onDay('2025-05-12', 300, { '8 compression#1': { value: 300, unit: 'psi' } });
  expect(findingsOf(engine({ past }), psi(128, 130))).toEqual([]);
});

describe('a reading that was not possible', () => {
  const not = (kind: string, why = 'no water on the dock'): Readings => ({ [`7 ${kind}`]: { not: why } });
  test('of what makes an engine fit to run holds it until somebody has seen it', () => {
    for (const kind of ['stream', 'oil light', 'oil level', 'leak', 'shift'])
      expect(only(judge(not(kind)))).toMatchObject({
        weight: 'hold',
        means: 'Nobody has seen that it is fit to go out.',
        proposals: [{ kind: 'hold', checks: [] }],
      });
  });
  test('of a repair holds it until the repair is looked at; of what work was for asks for that work again', () => {
    expect(only(judge(not('seal pressure again'))).proposals).toEqual([
      { kind: 'hold', checks: ['gear-seals'] },
      { kind: 'follow-up', task: 'gear-seals', when: 'now' },
    ]);
    // Told once, whichever cylinders it was.
    const cylinders = { '7 compression#1': { not: 'gauge broken' }, '7 compression#2': { not: 'gauge broken' } };
    expect(only(judge(cylinders))).toMatchObject({
      weight: 'act',
      seen: 'Compression: not possible. gauge broken',
      proposals: [{ kind: 'follow-up', task: 'compression', when: 14 }],
    });
  });
  test('of the rest is written down; read after all, nothing is found', () => {
    expect(only(judge(not('impeller look')))).toMatchObject({ weight: 'watch', proposals: [] });
    expect(judge(look('impeller look', 'sound'))).toEqual([]);
  });
});
