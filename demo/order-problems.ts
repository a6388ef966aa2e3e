import type { OrderItem, OrderOffer, OrderProblem, OrderSupplier } from '@diurna/core/ordering';
import { seeded, type Random } from './random.ts';

const PACKS = [1, 1, 1, 2, 4, 5, 10];
const BOTTLES = [946, 1000, 3785, 4000];
const cents = (x: number) => Math.round(x * 100) / 100;

/** Invented order problems: parts by the piece and fluids by the bottle, suppliers who come daily or once a week. */
export function orderProblem(seed: number, items: number, days: number, suppliers: number): OrderProblem {
  const random = seeded(seed);
  const sellers = Array.from({ length: suppliers }, (_, i) => supplier(random, i, days));
  const parts = Array.from({ length: items }, (_, i) => item(random, i, days));
  const offers: OrderOffer[] = [];
  for (const part of parts) {
    const first = random.whole(0, suppliers - 1);
    for (const s of new Set([first, ...(random.chance(0.35) ? [random.whole(0, suppliers - 1)] : [])]))
      offers.push(offer(random, { id: `offer${offers.length}`, item: part.item.id, supplier: sellers[s]!.id }, part));
  }
  return {
    format: 'diurna-order-problem',
    version: 1,
    name: `${items} parts, ${days} days, seed ${seed}`,
    days,
    items: parts.map((p) => p.item),
    suppliers: sellers,
    offers,
  };
}

function supplier(random: Random, i: number, days: number): OrderSupplier {
  const weekly = random.chance(0.4);
  const weekday = random.whole(0, 4);
  return {
    id: `supplier${i}`,
    leadDays: random.whole(1, 9),
    carriage: random.whole(6, 35),
    freeFrom: random.chance(0.5) ? random.whole(18, 43) * 10 : null,
    leastValue: random.chance(0.3) ? random.whole(4, 8) * 10 : 0,
    orderOn: Array.from({ length: days }, (_, d) => (weekly ? d % 7 === weekday : d % 7 < 5)),
  };
}

function item(random: Random, i: number, days: number): { item: OrderItem; unitPrice: number; fluid: boolean } {
  const fluid = random.chance(0.2);
  const unitPrice = fluid ? random.whole(8, 20) / 1000 : random.whole(3, 110);
  const each = fluid ? random.whole(7, 97) * 50 : random.whole(1, 4);
  const busy = random.whole(5, 45) / 100;
  return {
    item: {
      id: `item${i}`,
      onHand: each * random.whole(0, 4),
      need: Array.from({ length: days }, () => (random.chance(busy) ? each * (random.chance(0.15) ? 2 : 1) : 0)),
      arriving: random.chance(0.15) ? [{ day: random.whole(0, Math.max(0, days - 1)), quantity: each * 3 }] : [],
      holdingPerDay: unitPrice * 0.0007,
      shortPerDay: unitPrice * 0.7,
      endValue: unitPrice * 0.82,
    },
    unitPrice,
    fluid,
  };
}

function offer(
  random: Random,
  names: Pick<OrderOffer, 'id' | 'item' | 'supplier'>,
  { unitPrice, fluid }: { unitPrice: number; fluid: boolean },
): OrderOffer {
  const pack = fluid ? random.pick(BOTTLES) : random.pick(PACKS);
  const price = unitPrice * pack * (1 + random.whole(0, 12) / 100);
  const breaks = [{ packs: 1, price: cents(price) }];
  if (random.chance(0.4)) breaks.push({ packs: random.whole(3, 8), price: cents(price * 0.95) });
  if (breaks.length > 1 && random.chance(0.5)) breaks.push({ packs: random.whole(10, 17), price: cents(price * 0.9) });
  return { ...names, pack, breaks };
}
