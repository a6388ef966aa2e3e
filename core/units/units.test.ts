import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  fromMillilitres,
  inBothUnits,
  kilopascals,
  newtonMetres,
  plural,
  poundForceFeet,
  toMillilitres,
  unitTrap,
  VOLUME_UNITS,
  volumeText,
} from './index.ts';

describe('conversions of NIST SP 811, appendix B (from memory)', () => {
  test('volumes', () => {
    expect(toMillilitres(1, 'US gal')).toBe(3785.411784);
    expect(toMillilitres(1, 'US qt')).toBeCloseTo(946.352946, 9);
    expect(toMillilitres(1, 'US fl oz')).toBeCloseTo(29.5735295625, 10);
  });
  test('the gallon is 231 cubic inches of 25.4 mm', () => {
    expect(231 * 2.54 ** 3).toBeCloseTo(toMillilitres(1, 'US gal'), 6);
  });
  test('torque and pressure', () => {
    expect(newtonMetres(1)).toBeCloseTo(1.3558179483314, 13);
    expect(poundForceFeet(newtonMetres(80))).toBeCloseTo(80, 10);
    expect(kilopascals(1)).toBeCloseTo(6.894757293168, 9);
  });
  test('there and back is the same', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 500, noNaN: true }), fc.constantFrom(...VOLUME_UNITS), (v, unit) => {
        expect(fromMillilitres(toMillilitres(v, unit), unit)).toBeCloseTo(v, 9);
      }),
    );
  });
});

describe('figures people get wrong (common practice, no source)', () => {
  test('7.1 US qt is 6.72 L', () => {
    expect(toMillilitres(7.1, 'US qt') / 1000).toBeCloseTo(6.72, 2);
  });
  test('3.0 L is 3.17 US qt, three 1-qt bottles are 0.16 L short', () => {
    expect(fromMillilitres(3000, 'US qt')).toBeCloseTo(3.17, 2);
    expect(3 - toMillilitres(3, 'US qt') / 1000).toBeCloseTo(0.16, 2);
  });
  test('0.35 L is 0.370 US qt', () => {
    expect(fromMillilitres(350, 'US qt')).toBeCloseTo(0.37, 3);
  });
  test('13 lbf.ft is 17.6 N.m', () => {
    expect(newtonMetres(13)).toBeCloseTo(17.6, 1);
  });

  test('6.7 typed as quarts against a label of 7.1 quarts is suspected to be litres', () => {
    expect(unitTrap({ value: 6.7, unit: 'US qt' }, { value: 7.1, unit: 'US qt' })).toBe('L');
    expect(unitTrap({ value: 3.17, unit: 'L' }, { value: 3, unit: 'L' })).toBe('US qt');
  });
  test('a fill a little under or over the label is no trap', () => {
    expect(unitTrap({ value: 7.0, unit: 'US qt' }, { value: 7.1, unit: 'US qt' })).toBeNull();
    expect(unitTrap({ value: 2.7, unit: 'L' }, { value: 3, unit: 'L' })).toBeNull();
    expect(unitTrap({ value: 6.72, unit: 'L' }, { value: 7.1, unit: 'US qt' })).toBeNull();
  });
});

test('volumes as text', () => {
  expect(inBothUnits({ value: 3, unit: 'L' })).toBe('3 L = 3.17 US qt');
  expect(inBothUnits({ value: 7.1, unit: 'US qt' })).toBe('7.1 US qt = 6.72 L');
  expect(inBothUnits({ value: 0.6, unit: 'L' })).toBe('0.6 L = 20.29 US fl oz');
  expect(volumeText(946.4)).toBe('946 mL');
  expect(volumeText(2840)).toBe('2.84 L');
  // By quarts (NIST SP 811): a quart is 946.352946 mL, an ounce 29.5735295625 mL.
  expect(volumeText(946.352946, 'quarts')).toBe('1 US qt');
  expect(volumeText(1892.705892, 'quarts')).toBe('2 US qt');
  expect(volumeText(295.735295625, 'quarts')).toBe('10 US fl oz');
  expect(volumeText(-946.352946, 'quarts')).toBe('-1 US qt');
});

describe('a number of things', () => {
  test('one is one, none and more are many', () => {
    expect([0, 1, 2].map((n) => plural(n, 'task'))).toEqual(['0 tasks', '1 task', '2 tasks']);
    expect(plural(1, 'task waits', 'tasks wait')).toBe('1 task waits');
  });
});
