import { and, asc, eq } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { notFound } from '../http/problem.ts';

const { base, contact, offer, part, partArrival, purchase, setting, supplier } = tables;

/** An order with all that stands on its paper. @throws 404 */
export async function orderLines(db: Db, id: number) {
  const [order] = await db
    .select({ p: purchase, supplier: supplier.name, contact: contact.name, base: base.name })
    .from(purchase)
    .innerJoin(supplier, eq(supplier.id, purchase.supplierId))
    .innerJoin(base, eq(base.id, purchase.baseId))
    .leftJoin(contact, eq(contact.id, supplier.contactId))
    .where(eq(purchase.id, id));
  if (!order) throw notFound('order');
  const [settings] = await db.select().from(setting);
  const lines = await db
    .select({ a: partArrival, number: part.number, name: part.name, unit: part.unit, theirs: offer.number })
    .from(partArrival)
    .innerJoin(part, eq(part.id, partArrival.partId))
    .leftJoin(
      offer,
      and(
        eq(offer.supplierId, order.p.supplierId),
        eq(offer.partId, partArrival.partId),
        eq(offer.packQuantity, partArrival.packQuantity),
      ),
    )
    .where(eq(partArrival.purchaseId, id))
    .orderBy(asc(part.number));
  return { ...order, company: settings!.company, currency: settings!.currency, lines };
}
export type OrderLines = Awaited<ReturnType<typeof orderLines>>;
