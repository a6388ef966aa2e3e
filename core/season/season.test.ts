import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addDays, dayFromNumber, dayNumber } from '../calendar/index.ts';
import {
  DAYS_AFTER_OPENING,
  firstFrost,
  frostMonths,
  mirrored,
  offSeasonOf,
  phaseOf,
  putAwayBy,
  usualSeasonOf,
  type BaseSeason,
} from './index.ts';

const LOWS = [-8, -7, -3, 1, 4, 8, 11, 10, 7, 3, -1, -5];
const NORTH: BaseSeason = { closes: '10-31', opens: '04-01', lows: LOWS };
const SOUTH: BaseSeason = { closes: '04-30', opens: '10-01', lows: [12, 12, 10, 7, 4, 1, -1, 0, 2, 5, 8, 10] };

describe('the time boats stand', () => {
  test('goes across a new year in the north, lies within one in the south, on one and the same day', () => {
    expect(offSeasonOf(NORTH, '2026-12-02')).toEqual({ closes: '2026-10-31', opens: '2027-04-01', name: '2026/27' });
    expect(offSeasonOf(SOUTH, '2026-12-02')).toEqual({ closes: '2027-04-30', opens: '2027-10-01', name: '2027' });
    expect(offSeasonOf(SOUTH, '2027-06-01')!.name).toBe('2027');
    expect(offSeasonOf({ closes: null, opens: null, lows: null }, '2026-12-02')).toBeNull();
  });
  test('just after opening it is still the one that was; some weeks on it is the next', () => {
    expect(offSeasonOf(NORTH, '2027-04-20')!.opens).toBe('2027-04-01');
    expect(offSeasonOf(NORTH, '2027-05-01')!.opens).toBe('2028-04-01');
  });
  test('on 29 February in leap years, on the 28th in others', () => {
    const leap: BaseSeason = { closes: '11-30', opens: '02-29', lows: null };
    expect(offSeasonOf(leap, '2027-12-24')!.opens).toBe('2028-02-29');
    expect(offSeasonOf(leap, '2026-12-24')!.opens).toBe('2027-02-28');
    expect(offSeasonOf(leap, '2028-02-29')!.closes).toBe('2027-11-30');
  });
  test('every day of ten years belongs to one that does not end before it, one after the other', () => {
    const monthDay = fc.integer({ min: 0, max: 364 }).map((n) => dayFromNumber(dayNumber('2027-01-01') + n).slice(5));
    fc.assert(
      fc.property(monthDay, monthDay, fc.integer({ min: 0, max: 3650 }), (closes, opens, n) => {
        const day = addDays('2024-01-01', n);
        const off = offSeasonOf({ closes, opens, lows: null }, day)!;
        expect(off.closes < off.opens).toBe(true);
        expect(addDays(off.opens, DAYS_AFTER_OPENING) >= day).toBe(true);
        expect(dayNumber(off.opens) - dayNumber(off.closes)).toBeLessThanOrEqual(366);
        // The one before it is over.
        const before = offSeasonOf({ closes, opens, lows: null }, addDays(off.closes, -400))!;
        expect(before.closes < off.closes).toBe(true);
      }),
    );
  });
  test('what is asked of a day', () => {
    const off = offSeasonOf(NORTH, '2026-09-01')!;
    expect(
      ['2026-09-01', '2026-09-26', '2026-10-31', '2026-11-01', '2027-02-18', '2027-04-02'].map((d) => phaseOf(off, d)),
    ).toEqual(['running', 'closing', 'closing', 'standing', 'opening', 'opening']);
  });
});

describe('frost', () => {
  test('comes in the months whose coldest night freezes; where nobody entered it, with the closing', () => {
    expect(frostMonths(NORTH)).toEqual([1, 2, 3, 11, 12]);
    const off = offSeasonOf(NORTH, '2026-10-01')!;
    expect(firstFrost(NORTH, off)).toBe('2026-11-01');
    expect(firstFrost({ ...NORTH, lows: null }, off)).toBe('2026-10-31');
    expect(firstFrost({ ...NORTH, lows: LOWS.map((x) => x + 20) }, off)).toBeNull();
    expect(firstFrost(SOUTH, offSeasonOf(SOUTH, '2027-05-01')!)).toBe('2027-07-01');
  });
  test('boats are away before it, or some weeks after closing', () => {
    expect(putAwayBy({ ...NORTH, closes: '10-15' }, offSeasonOf({ ...NORTH, closes: '10-15' }, '2026-10-01')!)).toBe(
      '2026-11-01',
    );
    expect(putAwayBy(SOUTH, offSeasonOf(SOUTH, '2027-05-01')!)).toBe('2027-05-28');
  });
});

test('a base of the other half of the earth mirrors the first, there and back', () => {
  expect(mirrored(NORTH)).toMatchObject({ closes: '04-30', opens: '10-01' });
  expect(mirrored(NORTH).lows![6]).toBe(-8);
  expect(mirrored(mirrored(NORTH))).toEqual({ ...NORTH, closes: '10-30' });
  expect(usualSeasonOf('south')).toMatchObject({ closes: '04-30', opens: '10-01' });
});
