import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { orderDays, orderFaults, otherOffers, priceOrders, putLine, putOrder, type OrderProblem } from './index.ts';
import { judge } from './test/judge.ts';

const DAYS = 28;
const each = <T>(of: (d: number) => T) => Array.from({ length: DAYS }, (_, d) => of(d));
const item = (id: string) => ({
  ...{ id, onHand: 1, need: each((d) => (d % 9 === 5 ? 2 : 0)), arriving: [] },
  ...{ holdingPerDay: 0.1, shortPerDay: 20, endValue: 3 },
});
const offer = (id: string, of: string, supplier: string, pack: number, least = 1) => ({
  ...{ id, item: of, supplier, pack },
  breaks: [{ packs: least, price: 4 * pack }],
});
/** Two houses: near, on Mondays; far, every day, in packs of five, three packs at least of one part. */
const PROBLEM: OrderProblem = {
  format: 'diurna-order-problem',
  version: 1,
  days: DAYS,
  items: ['filter', 'washer'].map(item),
  suppliers: [
    { id: 'near', leadDays: 2, carriage: 5, freeFrom: null, leastValue: 0, orderOn: each((d) => d % 7 === 0) },
    { id: 'far', leadDays: 6, carriage: 9, freeFrom: 80, leastValue: 0, orderOn: each(() => true) },
  ],
  offers: [
    offer('near filter', 'filter', 'near', 1),
    offer('near washer', 'washer', 'near', 1),
    offer('far filter', 'filter', 'far', 5),
    offer('far washer', 'washer', 'far', 5, 3),
  ],
};
const ORDERS = [
  {
    supplier: 'near',
    day: 7,
    lines: [
      { offer: 'near filter', packs: 7 },
      { offer: 'near washer', packs: 2 },
    ],
  },
  { supplier: 'near', day: 14, lines: [{ offer: 'near filter', packs: 1 }] },
];

describe('an order changed by hand', () => {
  test('is put to a day its supplier takes orders on; two on one day become one', () => {
    expect(orderDays(PROBLEM, 'near')).toEqual([0, 7, 14, 21]);
    expect(orderDays(PROBLEM, 'far').at(-1)).toBe(DAYS - 7);
    expect(putOrder(ORDERS, 1, 7)).toEqual([
      {
        supplier: 'near',
        day: 7,
        lines: [
          { offer: 'near filter', packs: 8 },
          { offer: 'near washer', packs: 2 },
        ],
      },
    ]);
    expect(putOrder(ORDERS, 0, 21).map((o) => o.day)).toEqual([14, 21]);
  });
  test('a line comes from another house: at least as much, there no later, and no empty order is left', () => {
    expect(otherOffers(PROBLEM, 'near filter').map((o) => o.id)).toEqual(['far filter']);
    // Here on day 9: from afar ordered on day 3, two packs of five for seven.
    expect(putLine(PROBLEM, ORDERS, 0, 0, 'far filter')).toEqual([
      { supplier: 'far', day: 3, lines: [{ offer: 'far filter', packs: 2 }] },
      { supplier: 'near', day: 7, lines: [{ offer: 'near washer', packs: 2 }] },
      ORDERS[1],
    ]);
    // They sell no fewer than three packs of it.
    expect(putLine(PROBLEM, ORDERS, 0, 1, 'far washer')[0]!.lines).toEqual([{ offer: 'far washer', packs: 3 }]);
    expect(putLine(PROBLEM, ORDERS, 1, 0, 'far filter').map((o) => `${o.supplier} ${o.day}`)).toEqual([
      'near 7',
      'far 10',
    ]);
    // What cannot be there as soon is ordered on the first day there is.
    const early = [{ supplier: 'near', day: 0, lines: [{ offer: 'near filter', packs: 1 }] }];
    expect(putLine(PROBLEM, early, 0, 0, 'far filter')[0]!.day).toBe(0);
  });
  test('however it is changed it can be placed, nothing is lost, and the price is what the other judge says', () => {
    const step = fc.record({ at: fc.nat(9), line: fc.nat(9), day: fc.nat(9), move: fc.boolean() });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 6 }), (steps) => {
        let orders = ORDERS;
        for (const s of steps) {
          const at = s.at % orders.length;
          const order = orders[at]!;
          const line = s.line % order.lines.length;
          const days = orderDays(PROBLEM, order.supplier);
          const [other] = otherOffers(PROBLEM, order.lines[line]!.offer);
          orders = s.move
            ? putOrder(orders, at, days[s.day % days.length]!)
            : putLine(PROBLEM, orders, at, line, other!.id);
        }
        expect(orderFaults(PROBLEM, orders)).toEqual([]);
        const { total, faults } = judge(PROBLEM, orders);
        expect(faults).toEqual([]);
        expect(priceOrders(PROBLEM, orders).total).toBeCloseTo(total, 6);
        const bought = (id: string) =>
          orders
            .flatMap((o) => o.lines)
            .map((l) => ({ packs: l.packs, of: PROBLEM.offers.find((o) => o.id === l.offer)! }))
            .reduce((sum, l) => sum + (l.of.item === id ? l.packs * l.of.pack : 0), 0);
        expect(bought('filter')).toBeGreaterThanOrEqual(8);
        expect(bought('washer')).toBeGreaterThanOrEqual(2);
      }),
    );
  });
});
