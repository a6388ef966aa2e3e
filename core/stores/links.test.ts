import { describe, expect, test } from '@jest/globals';
import {
  kitCheck,
  mayServe,
  newestOf,
  runsInRing,
  servicesLeft,
  whichParts,
  type Fitment,
  type PartLink,
} from './index.ts';
import { toMillilitres } from '../units/index.ts';

const superseded = (partId: number, otherId: number, approved = true): PartLink => ({
  partId,
  otherId,
  kind: 'superseded by',
  approved,
});
const equivalent = (partId: number, otherId: number, approved = true): PartLink => ({
  partId,
  otherId,
  kind: 'equivalent',
  approved,
});

describe('numbers that stand for others', () => {
  test('the newest number, through a chain; a ring leads nowhere', () => {
    const links = [superseded(1, 2), superseded(2, 3), superseded(7, 8), superseded(8, 7)];
    expect(newestOf(1, links)).toBe(3);
    expect(newestOf(3, links)).toBe(3);
    expect(newestOf(7, links)).toBe(7);
    expect(newestOf(1, [superseded(1, 2, false)])).toBe(1);
    expect(runsInRing({ partId: 3, otherId: 1 }, links.slice(0, 2))).toBe(true);
    expect(runsInRing({ partId: 3, otherId: 4 }, links.slice(0, 2))).toBe(false);
  });

  test('what may serve: newer ones, then approved equivalents of any of them; no equivalent of an equivalent', () => {
    const links = [superseded(1, 2), equivalent(2, 5), equivalent(1, 6, false), equivalent(5, 9)];
    expect(mayServe(1, links, true).map((m) => m.partId)).toEqual([2, 5]);
    expect(mayServe(1, links, false).map((m) => m.partId)).toEqual([2]);
    expect(mayServe(1, links, true)[1]!.by).toEqual([links[0], links[1]]);
    // An older number does not serve where the newer is asked for.
    expect(mayServe(2, links, false)).toEqual([]);
  });
});

const fit = (partId: number, more: Partial<Fitment> = {}): Fitment => ({
  partId,
  modelId: 1,
  task: 'oil-filter',
  quantity: 1,
  from: null,
  to: null,
  transom: null,
  kind: 'oil filter',
  ...more,
});
const engine = { serial: 'A-100', transom: null };
const none = { sumpMl: null, gearCaseMl: null };

describe('which part for this serial', () => {
  test('exactly one answer by the serial', () => {
    const fitments = [fit(1, { to: 'A-099' }), fit(2, { from: 'A-100' })];
    expect(whichParts(engine, none, ['oil-filter'], fitments, [])).toEqual([
      { task: 'oil-filter', kind: 'oil filter', partId: 2, quantity: 1, instead: [], doubts: [] },
    ]);
  });

  test('two that fit are a doubt, unless one superseded the other; the older may be used up', () => {
    const both = [fit(1), fit(2)];
    expect(whichParts(engine, none, ['oil-filter'], both, [])[0]).toMatchObject({
      partId: null,
      doubts: [{ about: 'two fit', partIds: [1, 2] }],
    });
    const [told] = whichParts(engine, none, ['oil-filter'], both, [superseded(1, 2), equivalent(2, 5)]);
    expect(told).toMatchObject({ partId: 2, instead: [1, 5], doubts: [] });
    // Where the maker's own alone is taken, no equivalent is named.
    const maker = { choices: { 'parts make': 'maker' }, times: null, traits: null };
    expect(
      whichParts(engine, none, ['oil-filter'], both, [superseded(1, 2), equivalent(2, 5)], maker)[0]!.instead,
    ).toEqual([1]);
  });

  test('no part known, an unknown transom, two figures of one filling that disagree', () => {
    expect(whichParts(engine, none, ['oil-filter'], [], [])[0]!.doubts).toEqual([{ about: 'none known' }]);
    const longShaft = [fit(1, { transom: 'long' })];
    expect(whichParts(engine, none, ['oil-filter'], longShaft, [])[0]!.doubts).toContainEqual({ about: 'transom' });
    // Common practice, no source: one paper says 7.1 qt, another 9 L.
    const oil = [fit(3, { task: 'engine-oil', kind: 'oil', quantity: 9000 })];
    const sump = { sumpMl: toMillilitres(7.1, 'US qt'), gearCaseMl: null };
    expect(whichParts(engine, sump, ['engine-oil'], oil, [])[0]!.doubts).toEqual([
      { about: 'figures', saidMl: 9000, modelMl: sump.sumpMl },
    ]);
    const washer = fit(4, { task: 'engine-oil', kind: 'washer' });
    expect(whichParts(engine, sump, ['engine-oil'], [washer], [])[0]!.doubts).toEqual([]);
    // 7.1 qt and 6.72 L are the same filling.
    expect(whichParts(engine, sump, ['engine-oil'], [{ ...oil[0]!, quantity: 6720 }], [])[0]!.doubts).toEqual([]);
  });

  test('the shelf counts the newer number alone where an older one fits as well', () => {
    const both = [fit(1, { newestId: 2 }), fit(2)];
    const left = (onHand: [number, number][]) => servicesLeft('oil-filter', both, none, new Map(onHand))[0]!;
    expect(left([[2, 5]])).toMatchObject({ count: 5, limitedBy: 2 });
    expect(left([[1, 3]])).toMatchObject({ count: 0, limitedBy: 2 });
  });

  test('several gaskets of one task are no doubt', () => {
    const gaskets = [fit(1, { kind: 'gasket', task: 'gear-lube' }), fit(2, { kind: 'gasket', task: 'gear-lube' })];
    const answers = whichParts(engine, none, ['gear-lube'], gaskets, [], {
      choices: {},
      times: { 'gear-lube': 1 },
      traits: null,
    });
    expect(answers.map((a) => [a.partId, a.doubts])).toEqual([
      [1, []],
      [2, []],
    ]);
  });
});

describe('a service less what its kit brings', () => {
  // Common practice, no source: the separator and the gaskets are the usual ones that are missing.
  test('what is missing, and what is over', () => {
    const needs = [
      { partId: 1, quantity: 1 },
      { partId: 2, quantity: 3 },
      { partId: 3, quantity: 1 },
    ];
    const kit = [
      { partId: 1, quantity: 1 },
      { partId: 2, quantity: 2 },
      { partId: 9, quantity: 1 },
    ];
    expect(kitCheck(needs, kit, [])).toEqual({
      missing: [
        { partId: 2, quantity: 1 },
        { partId: 3, quantity: 1 },
      ],
      over: [{ partId: 9, quantity: 1 }],
      links: [],
    });
  });

  // Common practice, no source: three 1-qt bottles are 0.16 L short of 3.0 L.
  test('three 1-qt bottles are 0.16 L short of 3.0 L', () => {
    const { missing } = kitCheck(
      [{ partId: 1, quantity: 3000 }],
      [{ partId: 1, quantity: 3 * toMillilitres(1, 'US qt') }],
      [],
    );
    expect(missing).toEqual([{ partId: 1, quantity: expect.closeTo(160.94, 1) }]);
  });

  test('another number serves where a link leads to it, and is shown; without one it does not', () => {
    const needs = [{ partId: 1, quantity: 1 }];
    const kit = [{ partId: 2, quantity: 1 }];
    const link = superseded(1, 2);
    expect(kitCheck(needs, kit, [link])).toEqual({
      missing: [],
      over: [],
      links: [{ wanted: 1, brings: 2, by: [link] }],
    });
    expect(kitCheck(needs, kit, [])).toEqual({ missing: needs, over: kit, links: [] });
  });
});
