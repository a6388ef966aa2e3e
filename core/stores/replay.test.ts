import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { expiredOn, partWorth, replayShelf, type ShelfMovement } from './replay.ts';

const inAt = (quantity: number, each: number, more: Partial<ShelfMovement> = {}): ShelfMovement => ({
  quantity,
  day: '2026-01-10',
  costMinor: quantity * each,
  ...more,
});
const out = (quantity: number, more: Partial<ShelfMovement> = {}): ShelfMovement => ({
  quantity: -quantity,
  day: '2026-02-10',
  used: true,
  ...more,
});

describe('a shelf by its ledger', () => {
  // The worked example of every book-keeping course: 10 at 100 and 10 at 120, 12 go out. From memory.
  test('moving average and first in first out differ as they should', () => {
    const state = replayShelf([inAt(10, 100), inAt(10, 120), out(12)], null);
    expect(state.onHand).toBe(8);
    expect(state.average).toBeCloseTo(110, 9);
    expect(state.worth).toBeCloseTo(8 * 110, 9);
    expect(state.cost).toBeCloseTo(12 * 110, 9);
    expect(state.worthFifo).toBeCloseTo(8 * 120, 9);
    expect(state.costFifo).toBeCloseTo(10 * 100 + 2 * 120, 9);
  });

  test('what expires first goes first, what never does last; the older of two first', () => {
    const state = replayShelf(
      [
        inAt(2, 1, { lot: 'keeps' }),
        inAt(3, 1, { lot: 'late', expires: '2027-06-30' }),
        inAt(3, 1, { lot: 'soon', expires: '2026-06-30', day: '2026-01-20' }),
        out(4),
      ],
      null,
    );
    expect(state.lots.map((l) => [l.lot, l.left])).toEqual([
      ['late', 2],
      ['keeps', 2],
    ]);
    expect(expiredOn(state.lots, '2027-06-30')).toBe(0);
    expect(expiredOn(state.lots, '2027-07-01')).toBe(2);
  });

  test('what was owed is made good by what comes next, at its price', () => {
    const state = replayShelf([out(3), inAt(5, 20)], 7);
    expect(state.onHand).toBe(2);
    expect(state.worth).toBeCloseTo(40, 9);
    expect(state.cost).toBeCloseTo(60, 9);
    expect(state.lots).toEqual([{ lot: null, expires: null, since: '2026-01-10', left: 2 }]);
  });

  test('what nobody priced comes in at the average, or at the fallback', () => {
    expect(replayShelf([{ quantity: 4, day: '2026-01-01' }], 25).worth).toBeCloseTo(100, 9);
    expect(replayShelf([inAt(2, 10), { quantity: 2, day: '2026-01-02' }], 99).worth).toBeCloseTo(40, 9);
  });

  test('any ledger: lots and layers hold what is on hand, and no money is lost or made', () => {
    const movement = fc.oneof(
      fc.record({
        quantity: fc.integer({ min: 1, max: 30 }),
        each: fc.integer({ min: 0, max: 50 }),
        days: fc.option(fc.integer({ min: 0, max: 400 })),
      }),
      fc.record({ quantity: fc.integer({ min: -30, max: -1 }) }),
    );
    fc.assert(
      fc.property(fc.array(movement, { maxLength: 40 }), (list) => {
        const movements = list.map((m): ShelfMovement => ({
          quantity: m.quantity,
          day: '2026-03-01',
          ...('each' in m && {
            costMinor: m.quantity * m.each,
            expires: m.days === null ? null : new Date(Date.UTC(2026, 0, 1 + m.days)).toISOString().slice(0, 10),
          }),
        }));
        const state = replayShelf(movements, null);
        const sum = movements.reduce((n, m) => n + m.quantity, 0);
        expect(state.onHand).toBe(sum);
        expect(state.lots.reduce((n, l) => n + l.left, 0)).toBeCloseTo(Math.max(0, sum), 6);
        const paid = movements.reduce((n, m) => n + (m.costMinor ?? 0), 0);
        // While the shelf owes, what is still to be paid for stands in no sum.
        expect(state.worth + state.cost).toBeCloseTo(paid, 5);
        expect(state.worthFifo + state.costFifo).toBeCloseTo(paid, 5);
      }),
      { numRuns: 300 },
    );
  });
});

describe('money in a part', () => {
  test('tied up at two bases, turned over, or dead', () => {
    const year = { from: '2025-06-01', to: '2026-06-01' };
    const old = [inAt(4, 50, { day: '2024-01-01' })];
    expect(partWorth([old], null, year)).toEqual({
      worthMinor: 200,
      worthFifoMinor: 200,
      turns: 0,
      lastUsed: null,
      dead: true,
    });
    const alive = partWorth([old, [inAt(10, 50, { day: '2024-01-01' }), out(6)]], null, year);
    expect(alive).toMatchObject({ worthMinor: 400, lastUsed: '2026-02-10', dead: false });
    expect(alive.turns).toBeCloseTo(300 / 400, 9);
    // A ledger of half a year counts double, one of a month says nothing.
    const half = [inAt(10, 50, { day: '2025-12-01' }), out(5)];
    expect(partWorth([half], null, year).turns).toBeCloseTo(365 / 182, 6);
    expect(
      partWorth([[inAt(10, 50, { day: '2026-05-20' }), out(5, { day: '2026-05-21' })]], null, year).turns,
    ).toBeNull();
    // What came last month is not dead.
    expect(partWorth([[inAt(4, 50, { day: '2026-01-01' })]], null, year).dead).toBe(false);
  });
});
