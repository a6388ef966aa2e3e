import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareSerials, engineName, serialInRange, serialRangeText } from './index.ts';

describe('serials (common practice, no source)', () => {
  test('figures compare as numbers, letters without case', () => {
    expect(compareSerials('C60-9999', 'C60-10000')).toBeLessThan(0);
    expect(compareSerials('c60-40117', 'C60-40117')).toBe(0);
    expect(compareSerials('A100', 'B2')).toBeLessThan(0);
  });
  test('both ends of a range belong to it, an open end takes all', () => {
    const range = { from: 'C60-40117', to: 'C60-50000' };
    expect(serialInRange('C60-40117', range)).toBe(true);
    expect(serialInRange('C60-50000', range)).toBe(true);
    expect(serialInRange('C60-40116', range)).toBe(false);
    expect(serialInRange('C60-50001', range)).toBe(false);
    expect(serialInRange('anything', { from: null, to: null })).toBe(true);
  });
  test('two ranges that meet at a serial number hold every serial exactly once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 99_999 }), fc.integer({ min: 2, max: 99_999 }), (n, change) => {
        const serial = `C60-${n}`;
        const early = serialInRange(serial, { from: null, to: `C60-${change - 1}` });
        const late = serialInRange(serial, { from: `C60-${change}`, to: null });
        expect(early).toBe(!late);
      }),
    );
  });
  test('in words', () => {
    expect(serialRangeText({ from: null, to: null })).toBe('all serials');
    expect(serialRangeText({ from: 'A1', to: null })).toBe('from A1');
    expect(serialRangeText({ from: null, to: 'A9' })).toBe('up to A9');
    expect(serialRangeText({ from: 'A1', to: 'A9' })).toBe('A1 to A9');
  });
});

test('an engine is called by its boat, and by its position where there are several', () => {
  expect(engineName('Turnstone', 'port')).toBe('Turnstone port');
  expect(engineName('Whimbrel', 'single')).toBe('Whimbrel');
});
