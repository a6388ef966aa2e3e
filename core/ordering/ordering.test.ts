import { describe, expect, test } from '@jest/globals';
import { orderProblem } from '@diurna/demo/order-problems';
import fc from 'fast-check';
import {
  OrderBound,
  orderByHand,
  orderFaults,
  orderProblemFaults,
  OrderSearch,
  packPrice,
  priceOrders,
  searchRounds,
  type OrderProblem,
  type PlannedOrder,
} from './index.ts';
import { judge } from './test/judge.ts';

/** Wagner and Whitin 1958, the dynamic lot-sizing example of twelve periods: least cost 864. From memory. */
function lotSizing(): OrderProblem {
  const need = [69, 29, 36, 61, 61, 26, 34, 67, 45, 67, 79, 56];
  const setUp = [85, 102, 102, 101, 98, 114, 105, 86, 119, 110, 98, 114];
  return {
    format: 'diurna-order-problem',
    version: 1,
    days: 12,
    items: [{ id: 'lot', onHand: 0, need, arriving: [], holdingPerDay: 1, shortPerDay: 1000, endValue: 0 }],
    suppliers: setUp.map((carriage, d) => ({
      id: `period ${d}`,
      leadDays: 0,
      carriage,
      freeFrom: null,
      leastValue: 0,
      orderOn: need.map((_, k) => k === d),
    })),
    offers: setUp.map((_, d) => ({
      id: `offer ${d}`,
      item: 'lot',
      supplier: `period ${d}`,
      pack: 1,
      breaks: [{ packs: 1, price: 0 }],
    })),
  };
}

function planned(problem: OrderProblem, rounds: number, seed = 1) {
  const search = new OrderSearch(problem, seed);
  search.start();
  searchRounds(search, rounds);
  return search.plan();
}

/** Every plan of a tiny problem, each offer bought at most so many packs a day. */
function cheapestOfAll(problem: OrderProblem, most: number): number {
  const places = problem.offers.flatMap((offer) => {
    const s = problem.suppliers.find((x) => x.id === offer.supplier)!;
    return s.orderOn.flatMap((on, day) => (on && day + s.leadDays < problem.days ? [{ offer, day }] : []));
  });
  let best = Infinity;
  const packs = places.map(() => 0);
  const go = (i: number): void => {
    if (i < places.length) {
      for (let n = 0; n <= most; n++) {
        packs[i] = n;
        go(i + 1);
      }
      return;
    }
    const orders = new Map<string, PlannedOrder>();
    places.forEach(({ offer, day }, k) => {
      if (packs[k] === 0) return;
      const key = `${offer.supplier} ${day}`;
      const order = orders.get(key) ?? { supplier: offer.supplier, day, lines: [] };
      order.lines.push({ offer: offer.id, packs: packs[k]! });
      orders.set(key, order);
    });
    const { total, faults } = judge(problem, [...orders.values()]);
    if (faults.length === 0) best = Math.min(best, total);
  };
  go(0);
  return best;
}

const tiny = fc.record({
  need: fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 4, maxLength: 4 }),
  other: fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 4, maxLength: 4 }),
  onHand: fc.integer({ min: 0, max: 2 }),
  carriage: fc.integer({ min: 0, max: 20 }),
  freeFrom: fc.option(fc.integer({ min: 10, max: 40 })),
  leastValue: fc.constantFrom(0, 0, 12),
  broken: fc.boolean(),
  pack: fc.constantFrom(1, 2, 3),
});

const tinyProblem = (t: {
  need: number[];
  other: number[];
  onHand: number;
  carriage: number;
  freeFrom: number | null;
  leastValue: number;
  broken: boolean;
  pack: number;
}): OrderProblem => ({
  format: 'diurna-order-problem',
  version: 1,
  days: 4,
  items: [
    { id: 'a', onHand: t.onHand, need: t.need, arriving: [], holdingPerDay: 0.1, shortPerDay: 5, endValue: 3 },
    {
      id: 'b',
      onHand: 0,
      need: t.other,
      arriving: [{ day: 2, quantity: 1 }],
      holdingPerDay: 0.2,
      shortPerDay: 9,
      endValue: 4,
    },
  ],
  suppliers: [
    {
      id: 's',
      leadDays: 1,
      carriage: t.carriage,
      freeFrom: t.freeFrom,
      leastValue: t.leastValue,
      orderOn: [true, true, false, true],
    },
  ],
  offers: [
    {
      id: 'oa',
      item: 'a',
      supplier: 's',
      pack: t.pack,
      breaks: [{ packs: 1, price: 5 * t.pack }, ...(t.broken ? [{ packs: 3, price: 4 * t.pack }] : [])],
    },
    { id: 'ob', item: 'b', supplier: 's', pack: 1, breaks: [{ packs: 2, price: 6 }] },
  ],
});

describe('orders of least cost', () => {
  test('the published lot-sizing example costs 864, and no less is possible', () => {
    const problem = lotSizing();
    const plan = planned(problem, 2000);
    expect(plan.cost.total).toBeCloseTo(864, 9);
    expect(judge(problem, plan.orders).total).toBeCloseTo(864, 9);
    const bound = new OrderBound(problem);
    for (let k = 0; k < 20; k++) bound.round(864);
    expect(bound.value).toBeGreaterThan(863.999);
    expect(bound.value).toBeLessThanOrEqual(864);
  });

  test('tiny problems: the cheapest of all plans, and a bound that is never above it', () => {
    fc.assert(
      fc.property(tiny, (t) => {
        const problem = tinyProblem(t);
        const least = cheapestOfAll(problem, 7);
        const plan = planned(problem, 2500);
        expect(judge(problem, plan.orders)).toEqual({ total: expect.closeTo(plan.cost.total, 6), faults: [] });
        expect(plan.cost.total).toBeLessThanOrEqual(least + 0.015 * Math.abs(least) + 1e-6);
        const bound = new OrderBound(problem);
        for (let k = 0; k < 25; k++) bound.round(plan.cost.total);
        expect(bound.value).toBeLessThanOrEqual(least + 1e-6);
      }),
      { numRuns: 25 },
    );
  });

  test.each([1, 2, 3, 4, 5, 6])('seed %i: judged apart, never above ordering by hand, bound below', (seed) => {
    const problem = orderProblem(seed, 10, 28, 3);
    expect(orderProblemFaults(problem)).toEqual([]);
    const byHand = judge(problem, orderByHand(problem));
    expect(byHand.faults).toEqual([]);
    const plan = planned(problem, 400, seed);
    expect(judge(problem, plan.orders)).toEqual({ total: expect.closeTo(plan.cost.total, 6), faults: [] });
    expect(plan.cost.total).toBeLessThanOrEqual(byHand.total + 1e-9);
    const bound = new OrderBound(problem);
    for (let k = 0; k < 60; k++) bound.round(plan.cost.total);
    expect(bound.value).toBeLessThanOrEqual(plan.cost.total + 1e-6);
    // Both do their work: what is not known yet is little.
    expect(plan.cost.total - bound.value).toBeLessThan(0.02 * Math.abs(plan.cost.total));
  });

  test('the same problem, seed and rounds give the same plan; another seed looks elsewhere', () => {
    const problem = orderProblem(9, 8, 21, 2);
    expect(planned(problem, 200, 4)).toEqual(planned(problem, 200, 4));
  });

  test('nothing to do, nobody to buy from, no days: no orders', () => {
    const problem = lotSizing();
    for (const none of [
      { ...problem, items: [], offers: [] },
      { ...problem, offers: [] },
      {
        ...problem,
        days: 0,
        items: problem.items.map((i) => ({ ...i, need: [] })),
        suppliers: problem.suppliers.map((s) => ({ ...s, orderOn: [] })),
      },
    ])
      expect(planned(none, 20).orders).toEqual([]);
  });

  test('a dearer break is bought below it; packs of two sizes go together', () => {
    const problem = tinyProblem({
      need: [0, 5, 0, 0],
      other: [0, 0, 0, 0],
      onHand: 0,
      carriage: 3,
      freeFrom: null,
      leastValue: 0,
      broken: false,
      pack: 2,
    });
    problem.offers[0]!.breaks = [
      { packs: 1, price: 10 },
      { packs: 3, price: 14 },
    ];
    problem.offers.push({ id: 'single', item: 'a', supplier: 's', pack: 1, breaks: [{ packs: 1, price: 5.5 }] });
    const plan = planned(problem, 50);
    expect(plan.orders).toEqual([
      {
        supplier: 's',
        day: 0,
        lines: expect.arrayContaining([
          { offer: 'oa', packs: 2 },
          { offer: 'single', packs: 1 },
        ]),
      },
    ]);
  });
});

describe('the judge', () => {
  test('prices by the break reached, and by none below the first', () => {
    const offer = {
      breaks: [
        { packs: 2, price: 9 },
        { packs: 5, price: 8 },
      ],
    };
    expect([1, 2, 4, 5, 100].map((n) => packPrice(offer, n))).toEqual([null, 9, 9, 8, 8]);
  });
  test.each<[string, PlannedOrder]>([
    ['takes no orders on day 2', { supplier: 's', day: 2, lines: [{ offer: 'oa', packs: 1 }] }],
    ['arrives after the last day', { supplier: 's', day: 3, lines: [{ offer: 'oa', packs: 1 }] }],
    ['it has no lines', { supplier: 's', day: 0, lines: [] }],
    ['1 packs of ob', { supplier: 's', day: 0, lines: [{ offer: 'ob', packs: 1 }] }],
    ['1.5 packs of oa', { supplier: 's', day: 0, lines: [{ offer: 'oa', packs: 1.5 }] }],
    ['has no offer “x”', { supplier: 's', day: 0, lines: [{ offer: 'x', packs: 1 }] }],
    ['there is no supplier “t”', { supplier: 't', day: 0, lines: [{ offer: 'oa', packs: 1 }] }],
    ['below the least, 12', { supplier: 's', day: 0, lines: [{ offer: 'oa', packs: 1 }] }],
  ])('refuses an order in words: %s', (words, order) => {
    const problem = tinyProblem({
      need: [0, 0, 0, 0],
      other: [0, 0, 0, 0],
      onHand: 0,
      carriage: 3,
      freeFrom: null,
      leastValue: 12,
      broken: false,
      pack: 1,
    });
    expect(
      orderFaults(problem, [order])
        .map((f) => f.text)
        .join('; '),
    ).toContain(words);
    expect(() => priceOrders(problem, [order])).toThrow(RangeError);
  });
});

describe('what is wrong with a problem', () => {
  test.each<[string, (p: OrderProblem) => void, string]>([
    ['a list too short', (p) => p.items[0]!.need.pop(), 'items[0].need'],
    ['order days too few', (p) => p.suppliers[1]!.orderOn.pop(), 'suppliers[1].orderOn'],
    ['an item nobody knows', (p) => (p.offers[0]!.item = 'x'), 'offers[0].item'],
    ['a supplier nobody knows', (p) => (p.offers[2]!.supplier = 'x'), 'offers[2].supplier'],
    ['a name twice', (p) => (p.suppliers[1]!.id = 'period 0'), 'suppliers[1].id'],
    ['an arrival too late', (p) => p.items[0]!.arriving.push({ day: 12, quantity: 1 }), 'items[0].arriving[0].day'],
    ['breaks out of order', (p) => p.offers[0]!.breaks.push({ packs: 1, price: 0 }), 'offers[0].breaks[1].packs'],
    ['too many packs to count', (p) => (p.items[0]!.need[3] = 200_000), 'offers[0].pack'],
    ['worth more than it costs', (p) => (p.items[0]!.endValue = 2), 'offers[0].breaks'],
  ])('%s', (_, spoil, path) => {
    const problem = lotSizing();
    spoil(problem);
    expect(orderProblemFaults(problem).map((f) => f.path)).toContain(path);
  });
});
