import { and, asc, eq } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { csvText } from '../exchange/index.ts';
import { notFound } from '../http/problem.ts';

const { base, offer, part, partArrival, purchase, supplier } = tables;

const HEAD = [
  'order',
  'ordered_on',
  'supplier',
  'base',
  'part',
  'their_number',
  'name',
  'packs',
  'pack',
  'unit',
  'price',
  'expected_on',
  'received',
];

/** An order line by line, for a spreadsheet or the supplier's own program. @throws 404 */
export async function orderFile(db: Db, id: number): Promise<string> {
  const [order] = await db
    .select({ p: purchase, supplier: supplier.name, base: base.name })
    .from(purchase)
    .innerJoin(supplier, eq(supplier.id, purchase.supplierId))
    .innerJoin(base, eq(base.id, purchase.baseId))
    .where(eq(purchase.id, id));
  if (!order) throw notFound('order');
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
  return csvText([
    HEAD,
    ...lines.map(({ a, number, name, unit, theirs }) => [
      id,
      order.p.day,
      order.supplier,
      order.base,
      number,
      theirs,
      name,
      a.packs,
      a.packQuantity,
      unit,
      a.priceMinor === null ? null : (a.priceMinor / 100).toFixed(2),
      a.day,
      a.arrivedAt === null ? null : (a.received ?? 0),
    ]),
  ]);
}
