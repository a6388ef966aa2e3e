import { describe, expect, test } from '@jest/globals';
import { batteryState, stateOfCharge, type BatteryLook } from './index.ts';

// Battery Council International, open-circuit voltage at 80 °F (from memory).
test.each([
  [12.65, 'flooded', 100],
  [12.45, 'flooded', 75],
  [12.24, 'flooded', 50],
  [12.06, 'flooded', 25],
  [11.89, 'flooded', 0],
  [12.8, 'sealed', 100],
  [12.3, 'sealed', 50],
  // Between the lines of the table, and outside it.
  [12.345, 'flooded', 63],
  [13.2, 'flooded', 100],
  [10.5, 'sealed', 0],
] as const)('%p V rested, %p, is %p %%', (volts, kind, percent) => {
  expect(stateOfCharge(volts, kind, null)).toBe(percent);
  expect(stateOfCharge(volts, kind, (80 - 32) / 1.8)).toBe(percent);
});
test('in the cold a full battery shows less: 12.59 V at freezing is full', () => {
  expect(stateOfCharge(12.592, 'flooded', 0)).toBe(100);
  expect(stateOfCharge(12.592, 'flooded', null)).toBe(93);
});

// Common practice, no source: looked at every two to four weeks, charged below a limit, replaced where it does not
// hold.
describe('a battery in store', () => {
  const look = (day: string, volts: number | null, more: Partial<BatteryLook> = {}): BatteryLook => ({
    day,
    volts,
    celsius: null,
    restedHours: 24,
    kind: 'flooded',
    charged: false,
    ...more,
  });
  const state = (...looks: BatteryLook[]) => batteryState(looks, '2026-11-01', '2026-12-20');
  test('is looked at four weeks after it was put there, and four weeks after each look', () => {
    expect(state()).toEqual({ verdict: 'not looked at', percent: null, nextLook: '2026-11-29', overdueDays: 21 });
    expect(state(look('2026-12-10', 12.6))).toMatchObject({ verdict: 'fine', nextLook: '2027-01-07', overdueDays: 0 });
  });
  test('below the limit it is charged; low again after that it does not hold any more', () => {
    expect(state(look('2026-12-10', 12.3)).verdict).toBe('charge');
    expect(state(look('2026-12-10', 12.3, { charged: true })).verdict).toBe('fine');
    expect(state(look('2026-12-10', 12.2), look('2026-11-20', 12.3, { charged: true })).verdict).toBe('replace');
    // Low, not charged, low again: nobody gave it a chance.
    expect(state(look('2026-12-10', 12.2), look('2026-11-20', 12.3)).verdict).toBe('charge');
    expect(state(look('2026-12-10', 12.5), look('2026-11-20', 12.3, { charged: true })).verdict).toBe('fine');
  });
  test('volts just after charging say nothing; a lamp looked at is a look', () => {
    expect(state(look('2026-12-10', 13, { restedHours: 1 }))).toMatchObject({
      verdict: 'measure again',
      nextLook: '2026-12-11',
    });
    expect(state(look('2026-12-10', null))).toMatchObject({ verdict: 'fine', percent: null });
  });
});
