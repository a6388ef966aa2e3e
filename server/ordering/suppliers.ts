import type { Supplier } from '@diurna/contract/ordering';
import { dayInZone, dayNumber } from '@diurna/core/calendar';
import { asc, eq, inArray, isNotNull } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { supplier, offer, part, contact, purchase, partArrival, base } = tables;

/** Orders of so many days back count for how long a supplier takes. */
const LEARNED_FROM = 200;

type OfferRow = Omit<typeof offer.$inferInsert, 'supplierId'>;

/** How long each supplier really took, from order to shelf, and how often later than was said. */
async function learned(db: Db): Promise<Map<number, NonNullable<Supplier['learned']>>> {
  const rows = await db
    .select({
      supplierId: purchase.supplierId,
      ordered: purchase.day,
      expected: partArrival.day,
      came: partArrival.arrivedAt,
      received: partArrival.received,
      zone: base.timeZone,
    })
    .from(partArrival)
    .innerJoin(purchase, eq(purchase.id, partArrival.purchaseId))
    .innerJoin(base, eq(base.id, purchase.baseId))
    .where(isNotNull(partArrival.arrivedAt))
    .orderBy(asc(partArrival.id))
    .limit(20_000);
  const of = new Map<number, { days: number; late: boolean }[]>();
  for (const r of rows) {
    // What never came says nothing of how long it takes.
    if ((r.received ?? 0) <= 0) continue;
    const day = dayInZone(r.came!, r.zone);
    const own = of.get(r.supplierId) ?? [];
    own.push({ days: dayNumber(day) - dayNumber(r.ordered), late: day > r.expected });
    of.set(r.supplierId, own);
  }
  return new Map(
    [...of].map(([id, all]) => {
      const list = all.slice(-LEARNED_FROM);
      const days = list.reduce((sum, l) => sum + l.days, 0) / list.length;
      return [id, { orders: list.length, days: Math.round(days * 10) / 10, late: list.filter((l) => l.late).length }];
    }),
  );
}

async function readSuppliers(db: Db): Promise<Supplier[]> {
  const [rows, offers, lead] = await Promise.all([
    db.select().from(supplier).where(eq(supplier.retired, false)).orderBy(asc(supplier.name)).limit(500),
    db
      .select({ o: offer, number: part.number, name: part.name, unit: part.unit })
      .from(offer)
      .innerJoin(part, eq(part.id, offer.partId))
      .orderBy(asc(part.kind), asc(part.number), asc(offer.packQuantity))
      .limit(100_000),
    learned(db),
  ]);
  const of = new Map<number, Supplier['offers']>(rows.map((s) => [s.id, []]));
  for (const { o, number, name, unit } of offers)
    of.get(o.supplierId)?.push({
      id: o.id,
      partId: o.partId,
      number: o.number,
      packQuantity: o.packQuantity,
      breaks: o.breaks,
      part: number,
      partName: name,
      unit,
    });
  return rows.map(({ retired: _, ...s }) => ({ ...s, offers: of.get(s.id)!, learned: lead.get(s.id) ?? null }));
}

/** What is sold by the piece comes in whole pieces. @throws 422 at the line */
async function checkOffers(tx: Tx, offers: readonly OfferRow[]): Promise<void> {
  const ids = [...new Set(offers.map((o) => o.partId))];
  const parts = ids.length === 0 ? [] : await tx.select().from(part).where(inArray(part.id, ids));
  const seen = new Set<string>();
  offers.forEach((o, i) => {
    const p = parts.find((x) => x.id === o.partId);
    if (!p) throw faulty(`offers.${i}.partId`, 'This part is not on the shelf list.');
    if (p.unit === 'each' && !Number.isInteger(o.packQuantity))
      throw faulty(
        `offers.${i}.packQuantity`,
        `${p.number} is counted in pieces: a pack holds a whole number of them.`,
      );
    const key = `${o.partId} ${o.packQuantity}`;
    if (seen.has(key)) throw faulty(`offers.${i}.packQuantity`, `${p.number} stands twice in packs of this size.`);
    seen.add(key);
  });
}

/** Offers keep their identity by part and pack: orders that name one go on naming it. */
async function writeOffers(tx: Tx, supplierId: number, offers: readonly OfferRow[]): Promise<void> {
  const before = await tx.select().from(offer).where(eq(offer.supplierId, supplierId));
  const key = (o: { partId: number; packQuantity: number }) => `${o.partId} ${o.packQuantity}`;
  const wanted = new Set(offers.map(key));
  const gone = before.filter((o) => !wanted.has(key(o))).map((o) => o.id);
  if (gone.length > 0) await tx.delete(offer).where(inArray(offer.id, gone));
  for (const o of offers)
    await tx
      .insert(offer)
      .values({ ...o, number: o.number || null, supplierId })
      .onConflictDoUpdate({
        target: [offer.supplierId, offer.partId, offer.packQuantity],
        set: { number: o.number || null, breaks: o.breaks },
      });
}

async function checkContact(tx: Tx, id: number | null): Promise<void> {
  if (id === null) return;
  const [found] = await tx.select().from(contact).where(eq(contact.id, id));
  if (!found?.active) throw faulty('contactId', 'They are not told any more. Choose somebody else, or nobody.');
}

export const supplierHandlers: Handlers<'listSuppliers' | 'addSupplier' | 'editSupplier' | 'retireSupplier'> = {
  listSuppliers: ({ db }) => readSuppliers(db),

  addSupplier: ({ body: { offers, ...rest }, write }) =>
    write(async (tx, audit) => {
      await checkContact(tx, rest.contactId);
      await checkOffers(tx, offers);
      const [row] = await tx.insert(supplier).values(rest).returning();
      await writeOffers(tx, row!.id, offers);
      await audit({ act: 'added', subject: 'supplier', subjectId: row!.id, title: row!.name, after: rest });
      return { id: row!.id, version: row!.version };
    }),

  editSupplier: ({ params, body: { offers, version, ...rest }, write }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, supplier, params.id, version, 'supplier');
      await checkContact(tx, rest.contactId);
      await checkOffers(tx, offers);
      const sold = await tx.select().from(offer).where(eq(offer.supplierId, params.id));
      const [row] = await tx
        .update(supplier)
        .set({ ...rest, ...nextVersion(supplier) })
        .where(eq(supplier.id, params.id))
        .returning();
      await writeOffers(tx, params.id, offers);
      await audit({
        act: 'changed',
        subject: 'supplier',
        subjectId: row!.id,
        title: row!.name,
        before: { ...before, offers: sold.length },
        after: { ...rest, offers: offers.length },
      });
      return { id: row!.id, version: row!.version };
    }),

  retireSupplier: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, supplier, params.id, body.version, 'supplier');
      await tx
        .update(supplier)
        .set({ retired: true, ...nextVersion(supplier) })
        .where(eq(supplier.id, params.id));
      await audit({ act: 'retired', subject: 'supplier', subjectId: params.id, title: before.name, before });
      return { ok: true as const };
    }),
};
