import { describe, expect, test } from '@jest/globals';
import { chooseContainers } from '../fluids/index.ts';
import { toMillilitres } from '../units/index.ts';
import { amountUnits, containersText, farFromUsual } from './index.ts';

const QUART = toMillilitres(1, 'US qt');

describe('quantities as people handle them', () => {
  test('typed by full containers, or in the unit printed on them', () => {
    const units = amountUnits('mL', [{ id: '4 US qt jug', ml: 4 * QUART }]);
    expect(units[0]).toEqual({ id: '4 US qt jug', each: 4 * QUART });
    // NIST SP 811: 1 US fl oz = 29.5735295625 mL.
    expect(units.find((u) => u.id === 'US fl oz')!.each).toBeCloseTo(29.5735295625, 9);
    expect(amountUnits('each', [])).toEqual([{ id: 'pieces', each: 1 }]);
  });

  test('a figure a thousand times off asks, one that is a few times off does not', () => {
    expect(farFromUsual(946_000, [946, 4000])).toBe(true);
    expect(farFromUsual(4, [946, 4000])).toBe(true);
    expect(farFromUsual(20_000, [946, 4000])).toBe(false);
    expect(farFromUsual(500, [])).toBe(false);
  });

  // Common practice, no source: 4.8 qt takes a 4-qt jug and a quart.
  test('4.8 qt in words: a jug and a bottle; 1.9 qt leaves 95 mL of two bottles', () => {
    const sizes = [
      { id: '1 US qt bottle', ml: QUART, priceMinor: 776, most: null },
      { id: '4 US qt jug', ml: 4 * QUART, priceMinor: 3104, most: null },
    ];
    const words = (needMl: number, open: { id: string; leftMl: number; label: string }[] = []) =>
      containersText(chooseContainers({ needMl, open, sizes })!, open);
    expect(words(4.8 * QUART)).toBe('1 × 1 US qt bottle and 1 × 4 US qt jug; 189 mL left open');
    expect(words(1.9 * QUART)).toBe('2 × 1 US qt bottle; 95 mL left open');
    const open = [{ id: '7', leftMl: 500, label: '1 US qt bottle' }];
    expect(words(300, open)).toBe('300 mL from the open 1 US qt bottle; 200 mL left open');
  });
});
