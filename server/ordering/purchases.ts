import type { Purchase } from '@diurna/contract/ordering';
import { addDays, dayInZone, weekday } from '@diurna/core/calendar';
import { carriageOf, packPrice } from '@diurna/core/ordering';
import { and, asc, desc, eq, inArray, isNull, exists } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';

const { supplier, offer, part, purchase, partArrival, base, person, contact, mail } = tables;

const NO_SERVICE = 'has no service that takes orders. Say its address under Suppliers, or order without.';
/** Orders of late that are shown. */
const MOST = 200;
/** An order written to a supplier is of no use later than this. */
const OF_USE_MS = 2 * 86_400_000;

async function readPurchases(
  db: Db,
  query: { baseId?: number | undefined; state: 'open' | 'all' },
): Promise<Purchase[]> {
  const rows = await db
    .select({ p: purchase, supplier: supplier.name, by: person.name })
    .from(purchase)
    .innerJoin(supplier, eq(supplier.id, purchase.supplierId))
    .leftJoin(person, eq(person.id, purchase.personId))
    .where(
      and(
        query.baseId === undefined ? undefined : eq(purchase.baseId, query.baseId),
        query.state === 'all'
          ? undefined
          : exists(
              db
                .select({ id: partArrival.id })
                .from(partArrival)
                .where(and(eq(partArrival.purchaseId, purchase.id), isNull(partArrival.arrivedAt))),
            ),
      ),
    )
    .orderBy(desc(purchase.day), desc(purchase.id))
    .limit(MOST);
  const ids = rows.map((r) => r.p.id);
  const lines =
    ids.length === 0
      ? []
      : await db
          .select({ a: partArrival, number: part.number, name: part.name, unit: part.unit })
          .from(partArrival)
          .innerJoin(part, eq(part.id, partArrival.partId))
          .where(inArray(partArrival.purchaseId, ids))
          .orderBy(asc(part.number));
  return rows.map(({ p, supplier: from, by }) => ({
    id: p.id,
    supplierId: p.supplierId,
    supplier: from,
    baseId: p.baseId,
    day: p.day,
    carriageMinor: p.carriageMinor,
    service: p.service,
    serviceSays: p.serviceSays,
    by,
    at: p.at.toISOString(),
    lines: lines.filter(({ a }) => a.purchaseId === p.id).map(lineOf),
  }));
}

const lineOf = ({
  a,
  number,
  name,
  unit,
}: {
  a: typeof partArrival.$inferSelect;
  number: string;
  name: string;
  unit: 'each' | 'mL';
}): Purchase['lines'][number] => ({
  arrivalId: a.id,
  partId: a.partId,
  number,
  name,
  unit,
  packs: a.packs,
  packQuantity: a.packQuantity,
  quantity: a.quantity,
  priceMinor: a.priceMinor,
  expected: a.day,
  answer: a.answer,
  received: a.arrivedAt === null ? null : (a.received ?? 0),
});

interface Line {
  number: string;
  own: string | null;
  name: string;
  packs: number;
  quantity: string;
}

const orderText = (to: string, lines: readonly Line[], yard: string): string =>
  [
    `${yard} orders from ${to}:`,
    ...lines.map((l) => `${l.packs} x ${l.own ?? l.number}  ${l.name} (${l.quantity})`),
    'Please confirm the day it comes.',
  ].join('\n');

type SupplierRow = typeof supplier.$inferSelect;
type BaseRow = typeof base.$inferSelect;
interface Wished {
  lines: { offerId: number; packs: number }[];
}

/** The lines of an order with their offers and prices. @throws 422 at the line that cannot be had */
async function linesOf(tx: Tx, from: SupplierRow, { lines }: Wished) {
  if (new Set(lines.map((l) => l.offerId)).size < lines.length)
    throw faulty('lines', 'A line stands twice. Put its packs together.');
  const offers = await tx
    .select({ o: offer, p: part })
    .from(offer)
    .innerJoin(part, eq(part.id, offer.partId))
    .where(
      and(
        eq(offer.supplierId, from.id),
        inArray(
          offer.id,
          lines.map((l) => l.offerId),
        ),
      ),
    );
  return lines.map((l, i) => {
    const found = offers.find(({ o }) => o.id === l.offerId);
    if (!found) throw faulty(`lines.${i}.offerId`, `${from.name} does not sell this any more. Plan the orders again.`);
    const breaks = found.o.breaks.map((b) => ({ packs: b.packs, price: b.priceMinor }));
    const price = packPrice({ breaks }, l.packs);
    if (price === null)
      throw faulty(`lines.${i}.packs`, `Of ${found.p.number} at least ${breaks[0]!.packs} packs are sold.`);
    return { ...found, packs: l.packs, priceMinor: price * l.packs };
  });
}
type PricedLine = Awaited<ReturnType<typeof linesOf>>[number];

/** Lays the order out by mail. @throws 409 where nobody is written to at the supplier */
async function writeOrder(
  tx: Tx,
  { orderId, from, at, lines }: { orderId: number; from: SupplierRow; at: BaseRow; lines: readonly PricedLine[] },
  { writtenBy, now }: { writtenBy: number; now: Date },
): Promise<void> {
  const [to] =
    from.contactId === null
      ? []
      : await tx
          .select()
          .from(contact)
          .where(and(eq(contact.id, from.contactId), eq(contact.active, true)));
  if (!to)
    throw new HttpProblem(409, `Nobody is written to at ${from.name}. Say who under Suppliers, or order without mail.`);
  const words = orderText(
    from.name,
    lines.map(({ o, p, packs }) => ({
      number: p.number,
      own: o.number,
      name: p.name,
      packs,
      quantity: p.unit === 'mL' ? `${o.packQuantity} mL each` : `${o.packQuantity} each`,
    })),
    at.name,
  );
  await tx
    .insert(mail)
    .values({
      kind: 'written',
      contactId: to.id,
      subject: `Order ${orderId} for ${at.name}`,
      parts: [{ head: null, words, lines: [] }],
      at: now,
      nextAt: now,
      untilAt: new Date(now.getTime() + OF_USE_MS),
      writtenBy,
    });
}

/** Whom an order goes to, and where it is for, today. @throws where they take none */
async function endsOf(tx: Tx, body: { supplierId: number; baseId: number }, now: Date) {
  // Two who order at once from one supplier come one after the other: both see what is on the way.
  const [from] = await tx.select().from(supplier).where(eq(supplier.id, body.supplierId)).for('update');
  if (!from || from.retired) throw notFound('supplier');
  const [at] = await tx.select().from(base).where(eq(base.id, body.baseId));
  if (!at) throw faulty('baseId', 'Choose a base.');
  const today = dayInZone(now, at.timeZone);
  if (!from.weekdays.includes(weekday(today)))
    throw new HttpProblem(409, `${from.name} takes no orders today. Order on one of their days.`);
  return { from, at, today };
}

type ToService = (tx: Tx, purchaseId: number, title: string) => Promise<unknown>;

/** Has an order sent to its supplier's service, now. @throws 404, or 409 where there is none */
async function askAgain(tx: Tx, id: number, toService: ToService): Promise<{ ok: true }> {
  const [found] = await tx
    .select({ from: supplier })
    .from(purchase)
    .innerJoin(supplier, eq(supplier.id, purchase.supplierId))
    .where(eq(purchase.id, id));
  if (!found) throw notFound('order');
  await tx.update(purchase).set({ service: 'waiting', serviceSays: null }).where(eq(purchase.id, id));
  await sendThere(tx, id, found.from, toService);
  return { ok: true };
}

/** Puts an order into the queue to its supplier. @throws 409 where they have no service */
async function sendThere(tx: Tx, id: number, from: SupplierRow, toService: ToService): Promise<void> {
  if (from.serviceUrl === null) throw new HttpProblem(409, `${from.name} ${NO_SERVICE}`);
  await toService(tx, id, from.name);
}

/** What the lines come to. @throws 409 where it is less than the supplier takes */
function goodsOf(from: SupplierRow, lines: readonly PricedLine[]): number {
  const goodsMinor = lines.reduce((sum, l) => sum + l.priceMinor, 0);
  if (goodsMinor < from.leastMinor)
    throw new HttpProblem(
      409,
      `${from.name} takes no order of less than ${(from.leastMinor / 100).toFixed(2)}; these goods come to ${(goodsMinor / 100).toFixed(2)}.`,
    );
  return goodsMinor;
}

/** @param needMail refuses while the book sends none; `soon` has it sent; `toService` has it sent to the supplier's service */
export const purchaseHandlers = (
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
  toService: ToService,
): Handlers<'listPurchases' | 'placeOrder' | 'askSupplier'> => ({
  listPurchases: ({ db, query }) => readPurchases(db, query),

  askSupplier: ({ params, write }) => write((tx) => askAgain(tx, params.id, toService)),

  placeOrder: ({ body, write, who, now }) => {
    if (body.mail) needMail();
    return write(async (tx, audit) => {
      const { from, at, today } = await endsOf(tx, body, now);
      const lines = await linesOf(tx, from, body);
      const goodsMinor = goodsOf(from, lines);
      const expected = addDays(today, from.leadDays);
      const carriageMinor = carriageOf({ carriage: from.carriageMinor, freeFrom: from.freeFromMinor }, goodsMinor);
      const [row] = await tx
        .insert(purchase)
        .values({
          supplierId: from.id,
          baseId: at.id,
          day: today,
          carriageMinor,
          personId: who.id,
          at: now,
          service: body.service ? 'waiting' : null,
        })
        .returning();
      const orderId = row!.id;
      await tx
        .insert(partArrival)
        .values(
          lines.map(({ o, packs, priceMinor }) => ({
            partId: o.partId,
            baseId: at.id,
            day: expected,
            quantity: packs * o.packQuantity,
            note: from.name,
            purchaseId: orderId,
            packs,
            packQuantity: o.packQuantity,
            priceMinor,
          })),
        );
      if (body.mail) {
        await writeOrder(tx, { orderId, from, at, lines }, { writtenBy: who.id, now });
        await soon(tx);
      }
      if (body.service) await sendThere(tx, orderId, from, toService);
      const after = { base: at.name, expected, lines: lines.map((l) => `${l.packs} x ${l.p.number}`) };
      await audit({
        act: 'added',
        subject: 'order',
        subjectId: orderId,
        title: from.name,
        after: { ...after, goodsMinor, carriageMinor },
      });
      return { id: orderId, expected };
    });
  },
});
