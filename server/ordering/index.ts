import { eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';
import { shared } from '../http/shared.ts';
import type { Think } from '../think.ts';
import { orderFile } from './order-file.ts';
import { orderLines } from './order-lines.ts';
import { orderPaper } from './order-paper.ts';
import { purchaseHandlers } from './purchases.ts';
import { supplierHandlers } from './suppliers.ts';

const HOUR_MS = 3_600_000;

export { readCover } from './cover.ts';
export { readOrderBook } from './order-book.ts';
export { askSupplier } from './supplier-service.ts';

/** @throws 404 for a base that is none: said here, before a thread is asked */
async function needBase(db: Db, id: number): Promise<void> {
  const [at] = await db.select({ id: tables.base.id }).from(tables.base).where(eq(tables.base.id, id));
  if (!at) throw notFound('base');
}

/** What an answer depends on besides the book; chances of the forecast change by the hour at most. */
const keyOf = (what: string, { baseId, days }: { baseId: number; days: number }, now: Date) =>
  `${what} ${baseId} ${days} ${Math.floor(now.getTime() / HOUR_MS)}`;

/**
 * Suppliers, what a base will need, and orders.
 *
 * @param needMail refuses while the book sends no mail; `soon` has it sent; `toService` has an order sent to its
 * supplier
 */
export const orderingHandlers = (
  think: Think,
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
  toService: (tx: Tx, purchaseId: number, title: string) => Promise<unknown>,
): Handlers<
  | 'listSuppliers'
  | 'addSupplier'
  | 'editSupplier'
  | 'retireSupplier'
  | 'readCover'
  | 'purchaseFile'
  | 'purchasePaper'
  | 'readOrderBook'
  | 'listPurchases'
  | 'placeOrder'
  | 'askSupplier'
> => ({
  ...supplierHandlers,
  ...purchaseHandlers(needMail, soon, toService),
  async purchaseFile({ db, params, res }) {
    const text = orderFile(await orderLines(db, params.id));
    res.attachment(`diurna-order-${params.id}.csv`);
    return text;
  },
  async purchasePaper({ db, params, res }) {
    const paper = await orderPaper(await orderLines(db, params.id));
    res.type('application/pdf').attachment(`diurna-order-${params.id}.pdf`).send(paper);
    return '';
  },
  async readOrderBook({ db, query, now }) {
    await needBase(db, query.baseId);
    return whileUnchanged(db, keyOf('orders', query, now), async () =>
      shared(await think('orders', { now: now.getTime(), ...query })),
    );
  },
  async readCover({ db, query, now }) {
    await needBase(db, query.baseId);
    return whileUnchanged(db, keyOf('cover', query, now), async () =>
      shared(await think('cover', { now: now.getTime(), ...query })),
    );
  },
});
