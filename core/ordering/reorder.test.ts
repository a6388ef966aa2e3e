import { describe, expect, test } from '@jest/globals';
import { reorderOf, squareRootLot, type OrderProblem } from './index.ts';

// Harris 1913, the square-root lot formula; figures of a usual textbook example, from memory: 1000 a year, 10 an order,
// 0.50 for holding one a year make a lot of 200.
describe('the square-root lot', () => {
  test('a textbook example, and that no other lot costs less', () => {
    expect(squareRootLot(1000, 10, 0.5)).toBeCloseTo(200, 9);
    const cost = (lot: number) => (1000 / lot) * 10 + (lot / 2) * 0.5;
    for (const lot of [100, 150, 190, 199, 201, 210, 300]) expect(cost(lot)).toBeGreaterThan(cost(200));
    // At the best lot both cost the same.
    expect((1000 / 200) * 10).toBeCloseTo((200 / 2) * 0.5, 9);
    expect(squareRootLot(0, 10, 0.5)).toBe(0);
    expect(squareRootLot(10, 10, 0)).toBe(Infinity);
  });
});

describe('a reorder point', () => {
  const days = 28;
  const mean = Array.from({ length: days }, (_, d) => (d + 1) * 0.5);
  const planned = mean.map((m) => Math.ceil(m * 1.5));
  const problem: OrderProblem = {
    ...{ format: 'diurna-order-problem', version: 1, days },
    items: [
      { id: 'f', onHand: 3, need: [], arriving: [], holdingPerDay: 0.5 / 365, shortPerDay: 1, endValue: 0 },
      { id: 'unsold', onHand: 0, need: [], arriving: [], holdingPerDay: 0.1, shortPerDay: 1, endValue: 0 },
    ],
    suppliers: [
      {
        ...{ id: 's', leadDays: 3, carriage: 10, freeFrom: null, leastValue: 0 },
        // Tuesdays alone: six days are the longest wait for the next.
        orderOn: Array.from({ length: days }, (_, d) => d % 7 === 1),
      },
      { id: 'dear', leadDays: 0, carriage: 0, freeFrom: null, leastValue: 0, orderOn: mean.map(() => true) },
    ],
    offers: [
      { id: 'a', item: 'f', supplier: 's', pack: 12, breaks: [{ packs: 1, price: 12 }] },
      { id: 'b', item: 'f', supplier: 'dear', pack: 1, breaks: [{ packs: 1, price: 2 }] },
    ],
  };

  test('covers the longest wait and the way, and buys whole packs of about the square-root lot', () => {
    const found = reorderOf(problem, 'f', { mean, planned })!;
    expect(found).toMatchObject({ supplier: 's', days: 9, at: planned[9] });
    // 0.5 a day are 182.5 a year: the root of 2 x 182.5 x 10 / 0.5 is 85.4, eight packs of twelve.
    expect(found).toMatchObject({ packs: 8, lot: 96 });
  });

  test('none for what nobody sells, nothing takes, or is not there', () => {
    expect(reorderOf(problem, 'unsold', { mean, planned })).toBeNull();
    expect(reorderOf(problem, 'f', { mean: [0, 0], planned: [0, 0] })).toBeNull();
    expect(reorderOf(problem, 'x', { mean, planned })).toBeNull();
  });
});
