import type { OrderBook } from '@diurna/contract/ordering';

const DAYS = 42;
const each = <T>(day: (d: number) => T): T[] => Array.from({ length: DAYS }, (_, d) => day(d));
/** Ten filters: six wanted on 20 April by a card, four later; oil from the same house, and a kit nobody sells. */
export const orderBook = (): OrderBook => ({
  firstDay: '2026-04-15',
  currency: 'EUR',
  share: 0.95,
  problem: {
    format: 'diurna-order-problem',
    version: 1,
    days: DAYS,
    items: [
      {
        id: 'part 7',
        onHand: 2,
        need: each((d) => (d === 5 ? 6 : d === 30 ? 4 : 0)),
        arriving: [],
        holdingPerDay: 0.3,
        shortPerDay: 40,
        endValue: 6,
      },
      {
        id: 'part 8',
        onHand: 9000,
        need: each(() => 0),
        arriving: [],
        holdingPerDay: 0.00001,
        shortPerDay: 0.01,
        endValue: 0.005,
      },
    ],
    suppliers: [
      { id: 'supplier 1', leadDays: 3, carriage: 9, freeFrom: null, leastValue: 0, orderOn: each((d) => d % 7 === 0) },
    ],
    offers: [
      { id: 'offer 1', item: 'part 7', supplier: 'supplier 1', pack: 2, breaks: [{ packs: 1, price: 20 }] },
      { id: 'offer 2', item: 'part 8', supplier: 'supplier 1', pack: 4000, breaks: [{ packs: 1, price: 31 }] },
    ],
  },
  parts: [
    {
      partId: 7,
      number: 'F1',
      name: 'Filter',
      unit: 'each',
      sold: true,
      onHand: 2,
      mean: each((d) => (d < 5 ? 0 : d < 30 ? 6 : 10)),
      median: each((d) => (d < 5 ? 0 : d < 30 ? 6 : 10)),
      planned: each((d) => (d < 5 ? 0 : d < 30 ? 6 : 10)),
      stock: each(() => 2),
      sure: [{ jobId: 4, day: 5, boat: 'Turnstone', quantity: 6 }],
      likely: 4,
    },
    {
      partId: 9,
      number: 'PK-1',
      name: 'Pump kit',
      unit: 'each',
      sold: false,
      onHand: 0,
      mean: each(() => 0.2),
      median: each(() => 0),
      planned: each((d) => (d > 10 ? 1 : 0)),
      stock: each(() => 0),
      sure: [],
      likely: 0,
    },
  ],
  names: {
    suppliers: { 'supplier 1': { name: 'Tern Parts', contactId: 3, service: false } },
    offers: {
      'offer 1': { part: 'F1', name: 'Filter', number: null, unit: 'each' },
      'offer 2': { part: 'OIL', name: 'Oil', number: null, unit: 'mL' },
    },
  },
});
