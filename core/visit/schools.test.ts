import { describe, expect, test } from '@jest/globals';
import type { BuiltEngine } from '../fleet/index.ts';
import { pumpTurn, ruleInForce, SCHOOLS, sealsAgain, usualProgramme, type SchoolChoices } from '../service/index.ts';
import { partsForEngine, type Fitment, type PartKind, type PartMake } from '../stores/index.ts';
import { stepsChanged, visitSteps, workFacts } from './index.ts';

/** Engines that differ in what schools bear on. */
const ENGINES: BuiltEngine[] = [
  { powerHp: 60, stroke: 4, cylinders: 4, traits: {} },
  { powerHp: 60, stroke: 4, cylinders: 4, traits: { oilBy: 'extraction', drainsPoorly: true } },
  { powerHp: 8, stroke: 4, cylinders: 2, traits: {} },
  { powerHp: 50, stroke: 2, cylinders: 3, traits: {} },
];

const fits = (partId: number, kind: PartKind, more: Partial<Fitment> = {}): Fitment => ({
  partId,
  modelId: 1,
  task: 'impeller',
  quantity: 1,
  from: null,
  to: null,
  kind,
  make: null,
  priceMinor: 1000,
  models: 1,
  ...more,
});
const make = (partId: number, kind: PartKind, of: PartMake, more: Partial<Fitment> = {}) =>
  fits(partId, kind, { make: of, ...more });
/** A shelf on which every question about parts has more than one answer. */
const SHELF: Fitment[] = [
  make(1, 'impeller', 'maker'),
  make(2, 'impeller', 'approved'),
  make(3, 'pump kit', 'maker'),
  make(4, 'oil filter', 'maker', { task: 'oil-filter' }),
  make(5, 'oil filter', 'approved', { task: 'oil-filter' }),
  fits(6, 'oil', { task: 'engine-oil', quantity: null, priceMinor: 900, models: 9 }),
  fits(7, 'oil', { task: 'engine-oil', quantity: null, priceMinor: 700, models: 2 }),
  fits(8, 'washer', { task: 'engine-oil' }),
  fits(9, 'gasket', { task: 'gear-lube', quantity: 2 }),
  fits(10, 'gear lube', { task: 'gear-lube', quantity: null }),
];
const VOLUMES = { sumpMl: 3000, gearCaseMl: 600 };
const partsOf = (choices: SchoolChoices, times: number | null, engine: BuiltEngine = ENGINES[0]!) =>
  partsForEngine(
    { serial: 'X-1', transom: null },
    VOLUMES,
    ['impeller', 'oil-filter', 'engine-oil', 'gear-lube'],
    SHELF,
    {
      choices,
      times: times === null ? null : { impeller: times, 'engine-oil': times, 'gear-lube': times },
      traits: workFacts(engine, choices).traits,
    },
  ).needs;
const ids = (choices: SchoolChoices, times: number | null) => partsOf(choices, times).map((n) => n.partId);

const rulesOf = (engine: BuiltEngine, choices: SchoolChoices) =>
  usualProgramme(engine).map((r) => {
    const { task, everyHours, everyMonths, firstHours, counting, anchor } = ruleInForce(
      { ...r, basis: 'usual', seasonEnd: true },
      choices,
      [],
    );
    return { task, everyHours, everyMonths, firstHours, counting, anchor };
  });

describe('schools that do something (common practice, no source)', () => {
  const pairs = SCHOOLS.flatMap((s) =>
    s.options.flatMap((a, i) => s.options.slice(i + 1).map((b) => [s.key, a.key, b.key] as const)),
  );
  test.each(pairs)('“%s”: %s or %s changes dates, steps, the lay-up or parts', (key, a, b) => {
    const before = { [key]: a };
    const after = { [key]: b };
    const changes = ENGINES.some(
      (engine) =>
        JSON.stringify(rulesOf(engine, before)) !== JSON.stringify(rulesOf(engine, after)) ||
        stepsChanged(engine, before, after).length > 0,
    );
    const parts = [0, 1].some((n) => JSON.stringify(partsOf(before, n)) !== JSON.stringify(partsOf(after, n)));
    expect(changes || parts).toBe(true);
  });
  test('what moves dates says so, and what does not moves none', () => {
    for (const s of SCHOOLS) {
      const moved = s.options.some((o) =>
        ENGINES.some(
          (e) => JSON.stringify(rulesOf(e, { [s.key]: o.key })) !== JSON.stringify(rulesOf(e, { [s.key]: s.usual })),
        ),
      );
      expect([s.key, moved]).toEqual([s.key, s.movesDates]);
    }
  });
});

describe('every second time', () => {
  test('the whole kit at every second change, counted from the log; on an engine nobody knows at once', () => {
    const turns = (answer: string) => [0, 1, 2, 3].map((n) => pumpTurn({ 'pump parts': answer }, { impeller: n }));
    expect(turns('second')).toEqual(['impeller', 'kit', 'impeller', 'kit']);
    expect(turns('marked')).toEqual(['marked', 'marked', 'marked', 'marked']);
    expect(turns('impeller')).toEqual(['impeller', 'impeller', 'impeller', 'impeller']);
    expect(pumpTurn({}, null)).toBe('kit');
  });
  test('washers go on a second time only where the yard lets them, and not where nothing is known', () => {
    const again = (answer: string, n: number | null) =>
      sealsAgain('engine-oil', { washers: answer }, n === null ? null : { 'engine-oil': n });
    expect([0, 1, 2].map((n) => again('second', n))).toEqual([false, true, false]);
    expect([0, 1, 2].some((n) => again('new', n))).toBe(false);
    expect(again('second', null)).toBe(false);
  });
  test('steps and parts of a card follow the same count', () => {
    const choices = { washers: 'second' };
    const card = (n: number) =>
      visitSteps(
        (['engine-oil', 'impeller'] as const).map((task) => ({
          engineId: 1,
          task,
          cylinders: 4,
          engine: {
            facts: workFacts(ENGINES[0]!, choices, false, { 'engine-oil': n, impeller: n, 'gear-lube': n }),
            sump: null,
            gearCase: null,
          },
        })),
      )
        .map((s) => s.id.slice(2))
        .filter((id) => /screw|bed/.test(id));
    expect(card(0)).toEqual(['engine-oil/screw', 'impeller/bed-old']);
    expect(ids(choices, 0)).toEqual(expect.arrayContaining([1, 8, 9]));
    expect(card(1)).toEqual(['engine-oil/screw-again', 'impeller/bed']);
    expect(ids(choices, 1)).toContain(3);
    for (const part of [1, 2, 8, 9]) expect(ids(choices, 1)).not.toContain(part);
  });
});

describe('which of several parts', () => {
  test('makers’ wheels and approved filters, makers’ throughout, approved throughout', () => {
    expect(ids({}, 0)).toEqual(expect.arrayContaining([1, 5]));
    expect(ids({ 'parts make': 'maker' }, 0)).toEqual(expect.arrayContaining([1, 4]));
    expect(ids({ 'parts make': 'approved' }, 0)).toEqual(expect.arrayContaining([2, 5]));
    // Where only one of both is known, that one is taken.
    expect(ids({ 'parts make': 'approved' }, 1)).toContain(3);
  });
  test('an engine is filled from one bottle: the one most models take, or the cheapest', () => {
    expect(ids({}, 0)).toContain(6);
    expect(ids({}, 0)).not.toContain(7);
    expect(ids({ 'oil make': 'any' }, 0)).toContain(7);
    expect(ids({ 'oil make': 'any' }, 0)).not.toContain(6);
  });
  test('a case with three screws never takes two gaskets, whatever the shelf’s list says', () => {
    const gaskets = (gearScrews: 2 | 3 | null) =>
      partsOf({}, 0, { ...ENGINES[0]!, traits: { gearScrews } }).find((n) => n.partId === 9)!.quantity;
    expect([gaskets(3), gaskets(2), gaskets(null)]).toEqual([3, 2, 2]);
  });
  test('a valve, or oil drawn out above, opens no drain screw and takes no washer', () => {
    for (const traits of [{ drainKind: 'valve' as const }, { oilBy: 'extraction' as const }])
      expect(partsOf({}, 0, { ...ENGINES[0]!, traits }).some((n) => n.partId === 8)).toBe(false);
    expect(ids({ 'oil out': 'extraction' }, 0)).not.toContain(8);
  });
  test('by the label’s figure the filter is tightened, whatever the yard answers', () => {
    const words = (filterNm: number | null) =>
      visitSteps([
        {
          engineId: 1,
          task: 'oil-filter',
          cylinders: 4,
          engine: {
            facts: workFacts({ ...ENGINES[0]!, traits: { filterNm } }, { 'filter turn': 'half' }),
            sump: null,
            gearCase: null,
          },
        },
      ])
        .map((s) => s.text)
        .join(' ');
    // 13 lbf.ft is 17.6 N.m (NIST SP 811).
    expect(words(17.6)).toContain('17.6 N·m (13 lbf·ft)');
    expect(words(null)).toContain('then half a turn');
  });
});
