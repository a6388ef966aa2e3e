import type { OrderProblem } from '@diurna/core/ordering';
import { asc } from 'drizzle-orm';
import { processClock } from '../clock.ts';
import { makeDb, makePool, tables } from '../db/index.ts';
import { FleetCache } from '../service/index.ts';
import { readOrderBook } from './order-book.ts';

/** The order problem of the book in the database that DATABASE_URL names: every base orders for itself. */
export async function bookOrders(days: number): Promise<OrderProblem> {
  const pool = makePool(process.env.DATABASE_URL!);
  try {
    const db = makeDb(pool);
    const fleet = new FleetCache(db);
    const now = processClock()();
    const bases = await db.select({ id: tables.base.id }).from(tables.base).orderBy(asc(tables.base.id));
    const whole: OrderProblem = {
      format: 'diurna-order-problem',
      version: 1,
      days,
      items: [],
      suppliers: [],
      offers: [],
    };
    for (const { id } of bases) {
      const { problem } = await readOrderBook(db, fleet, now, { baseId: id, days });
      const here = (name: string) => `${name} at ${id}`;
      whole.items.push(...problem.items.map((i) => ({ ...i, id: here(i.id) })));
      whole.suppliers.push(...problem.suppliers.map((s) => ({ ...s, id: here(s.id) })));
      whole.offers.push(
        ...problem.offers.map((o) => ({ ...o, id: here(o.id), item: here(o.item), supplier: here(o.supplier) })),
      );
    }
    return whole;
  } finally {
    await pool.end();
  }
}
