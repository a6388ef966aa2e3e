import { describe, expect, test } from '@jest/globals';
import { toMillilitres } from '../units/index.ts';
import { partsForEngine, servicesLeft, sumByPart, takeFromShelf, type Fitment } from './index.ts';

const fit = (
  partId: number,
  task: Fitment['task'],
  quantity: number | null,
  from: string | null = null,
  to: string | null = null,
): Fitment => ({ partId, modelId: 1, task, quantity, from, to });
const OIL = 1,
  EARLY = 2,
  LATE = 3,
  WASHER = 4;
const fitments = [
  fit(OIL, 'engine-oil', null),
  fit(WASHER, 'engine-oil', 1),
  fit(EARLY, 'oil-filter', 1, null, 'C60-40116'),
  fit(LATE, 'oil-filter', 1, 'C60-40117', null),
];
const volumes = { sumpMl: 3000, gearCaseMl: null };
const sold = (serial: string, transom: 'long' | null = null) => ({ serial, transom });

describe('parts for an engine', () => {
  test('a part for one transom is taken where the engine is made for it; where nobody looked a person has to say', () => {
    const anodes: Fitment[] = [{ ...fit(EARLY, 'anodes', 1), transom: 'long' }];
    expect(partsForEngine(sold('C60-1', 'long'), volumes, ['anodes'], anodes).needs).toHaveLength(1);
    expect(partsForEngine(sold('C60-1'), volumes, ['anodes'], anodes)).toEqual({ needs: [], unknown: ['anodes'] });
  });
  test('the filter follows the serial, the oil follows the volume', () => {
    expect(partsForEngine(sold('C60-40117'), volumes, ['engine-oil', 'oil-filter'], fitments).needs).toEqual([
      { partId: OIL, task: 'engine-oil', quantity: 3000 },
      { partId: WASHER, task: 'engine-oil', quantity: 1 },
      { partId: LATE, task: 'oil-filter', quantity: 1 },
    ]);
    expect(partsForEngine(sold('C60-9'), volumes, ['oil-filter'], fitments).needs).toEqual([
      { partId: EARLY, task: 'oil-filter', quantity: 1 },
    ]);
  });
  test('a task without a fitting part or a known volume is named, not counted as free', () => {
    expect(partsForEngine(sold('C60-9'), volumes, ['impeller'], fitments).unknown).toEqual(['impeller']);
    expect(partsForEngine(sold('C60-9'), { sumpMl: null, gearCaseMl: null }, ['engine-oil'], fitments)).toEqual({
      needs: [{ partId: WASHER, task: 'engine-oil', quantity: 1 }],
      unknown: ['engine-oil'],
    });
  });
  test('twins of 4.8 US qt take 9.6 together (common practice, no source)', () => {
    const twin = { sumpMl: toMillilitres(4.8, 'US qt'), gearCaseMl: null };
    const needs = ['A1', 'A2'].flatMap((serial) => partsForEngine(sold(serial), twin, ['engine-oil'], fitments).needs);
    expect(sumByPart(needs).get(OIL)! / toMillilitres(1, 'US qt')).toBeCloseTo(9.6, 9);
  });
});

describe('services the shelf can still do', () => {
  test('the scarcest part decides and is named', () => {
    const shelf = new Map([
      [OIL, 20_000],
      [WASHER, 4],
      [EARLY, 0],
      [LATE, 3],
    ]);
    expect(servicesLeft('engine-oil', fitments, volumes, shelf)).toEqual([
      { task: 'engine-oil', serials: 'all serials', count: 4, limitedBy: WASHER },
    ]);
    expect(servicesLeft('oil-filter', fitments, volumes, shelf)).toEqual([
      { task: 'oil-filter', serials: 'up to C60-40116', count: 0, limitedBy: EARLY },
      { task: 'oil-filter', serials: 'from C60-40117', count: 3, limitedBy: LATE },
    ]);
  });
  test('exactly enough is enough, a little less is one less', () => {
    expect(
      servicesLeft(
        'engine-oil',
        fitments,
        volumes,
        new Map([
          [OIL, 9000],
          [WASHER, 9],
        ]),
      )[0]!.count,
    ).toBe(3);
    expect(
      servicesLeft(
        'engine-oil',
        fitments,
        volumes,
        new Map([
          [OIL, 8999],
          [WASHER, 9],
        ]),
      )[0]!.count,
    ).toBe(2);
  });
  test('a shelf below zero does none; unknown parts or volumes are unknown', () => {
    expect(
      servicesLeft(
        'engine-oil',
        fitments,
        volumes,
        new Map([
          [OIL, -10],
          [WASHER, 9],
        ]),
      )[0]!.count,
    ).toBe(0);
    expect(servicesLeft('impeller', fitments, volumes, new Map())[0]!.count).toBeNull();
    expect(
      servicesLeft(
        'engine-oil',
        fitments,
        { sumpMl: null, gearCaseMl: null },
        new Map([
          [OIL, 1],
          [WASHER, 1],
        ]),
      )[0]!.count,
    ).toBeNull();
  });
});

test('taking from the shelf says how much is short', () => {
  expect(takeFromShelf(5, 3)).toEqual({ left: 2, short: 0 });
  expect(takeFromShelf(2, 5)).toEqual({ left: -3, short: 3 });
  expect(takeFromShelf(-1, 5)).toEqual({ left: -6, short: 5 });
});
