import { eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';
import type { Think } from '../think.ts';
import { purchaseHandlers } from './purchases.ts';
import { supplierHandlers } from './suppliers.ts';

export { readOrderBook } from './order-book.ts';

/** Suppliers, what a base will need, and orders. @param needMail refuses while the book sends no mail; `soon` has it sent */
export const orderingHandlers = (
  think: Think,
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
): Handlers<
  'listSuppliers' | 'addSupplier' | 'editSupplier' | 'retireSupplier' | 'readOrderBook' | 'listPurchases' | 'placeOrder'
> => ({
  ...supplierHandlers,
  ...purchaseHandlers(needMail, soon),
  async readOrderBook({ db, query, now }) {
    const [at] = await db.select({ id: tables.base.id }).from(tables.base).where(eq(tables.base.id, query.baseId));
    if (!at) throw notFound('base');
    return think('orders', { now: now.getTime(), ...query });
  },
});
