import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chooseContainers, containersByWeek } from './index.ts';

const SIZES = [
  { id: '1 qt bottle', ml: 946, priceMinor: 900, most: null },
  { id: '4 L jug', ml: 4000, priceMinor: 3100, most: null },
  { id: '20 L pail', ml: 20_000, priceMinor: 12_000, most: null },
];

test('week by week there is enough, and all weeks together take just what covers the whole at least cost', () => {
  const litres = fc.array(fc.integer({ min: 0, max: 9000 }), { minLength: 1, maxLength: 8 });
  fc.assert(
    fc.property(litres, fc.integer({ min: 0, max: 15_000 }), (needs, onHand) => {
      const weeks = containersByWeek(needs, onHand, SIZES)!;
      const total = needs.reduce((a, b) => a + b, 0);
      const whole = chooseContainers({ needMl: Math.max(0, total - onHand), open: [], sizes: SIZES })!;
      const bought = (id: string) => weeks.flat().reduce((n, c) => n + (c.id === id ? c.count : 0), 0);
      for (const { id } of SIZES) expect(bought(id)).toBe(whole.take.find((t) => t.id === id)?.count ?? 0);
      let there = onHand;
      let wanted = 0;
      weeks.forEach((week, i) => {
        // Nothing is fetched before it is wanted.
        if (there >= wanted + needs[i]!) expect(week).toEqual([]);
        wanted += needs[i]!;
        for (const c of week) there += SIZES.find((s) => s.id === c.id)!.ml * c.count;
        expect(there).toBeGreaterThanOrEqual(wanted);
      });
    }),
  );
});

test('the small ones come first where they are enough; sizes that cover nothing are told', () => {
  expect(containersByWeek([500, 0, 4200], 0, SIZES)).toEqual([
    [{ id: '1 qt bottle', count: 1 }],
    [],
    [{ id: '4 L jug', count: 1 }],
  ]);
  expect(containersByWeek([500], 0, [])).toBeNull();
  expect(containersByWeek([500, 500], 1000, [])).toEqual([[], []]);
});
