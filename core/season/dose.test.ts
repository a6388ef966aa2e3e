import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DOSE_ML_PER_LITRE, dosesFor, fuelAdvice, keepsUntil, poured } from './index.ts';

// Common practice, no source: 30 mL to 10 L, a tank filled to 95 %, treated fuel keeps 24 months.
describe('stabiliser', () => {
  test('3 mL a litre: the first dose for the most that may be in it, the second for what is added to 95 %', () => {
    expect(dosesFor({ litres: 100, least: 30, most: 40 })).toEqual({
      firstMl: 120,
      addLeast: 55,
      addMost: 65,
      secondMl: 195,
    });
  });
  test('what the bottle says outranks it; nothing is added to a tank that is full', () => {
    expect(dosesFor({ litres: 25, least: 24, most: 25 }, 2)).toEqual({
      firstMl: 50,
      addLeast: 0,
      addMost: 0,
      secondMl: 0,
    });
  });
  test('20 mL in less than 10 L treat 6.7 L, and that is said', () => {
    const short = poured(20, { least: 5, most: 10 });
    expect(short.treats).toBeCloseTo(6.67, 2);
    expect(short.missingMl).toBe(10);
    expect(short.warning).toBe('20 mL treat 6.7 L; up to 10 L may be in it: 10 mL more go in with the second dose.');
    expect(poured(20, { least: 8, most: 10 }).warning).toMatch(/at least 8 L are in it/);
    expect(poured(30, { least: 5, most: 10 })).toEqual({ treats: 10, missingMl: 0, warning: null });
  });
  test('whatever is in the tank, all of it is treated once both doses are in', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 5, max: 900, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (litres, a, b) => {
          const [least, most] = [Math.min(a, b) * litres, Math.max(a, b) * litres];
          const { firstMl, secondMl } = dosesFor({ litres, least, most });
          for (const there of [least, (least + most) / 2, most]) {
            const then = Math.max(there, litres * 0.95);
            expect(firstMl + secondMl).toBeGreaterThanOrEqual(then * DOSE_ML_PER_LITRE - 0.2);
          }
        },
      ),
    );
  });
  test('keeps 24 months; what is older when boats come out is pumped out', () => {
    expect(keepsUntil('2026-10-31')).toBe('2028-10-31');
    expect(keepsUntil('2028-02-29')).toBe('2030-02-28');
    expect(fuelAdvice('2026-10-31', '2027-04-01')).toBe('run it');
    expect(fuelAdvice('2025-06-01', '2027-04-01')).toBe('fresh fuel on top');
    expect(fuelAdvice('2024-10-31', '2027-04-01')).toBe('pump it out');
    expect(fuelAdvice(null, '2027-04-01')).toBe('pump it out');
  });
});
