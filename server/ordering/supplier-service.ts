import { supplierAnswer, type SupplierAnswer, type SupplierOrder } from '@diurna/contract/supplier-service';
import { dayWord, type Day } from '@diurna/core/calendar';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Logger } from 'pino';
import { tables, transaction, type Db, type Tx } from '../db/index.ts';
import { writeAudit } from '../http/api.ts';
import { fetchOutside, Unreachable, type Outside } from '../http/fetch-outside.ts';

const { supplier, offer, part, purchase, partArrival, base } = tables;

const SERVICE: Outside = {
  accept: 'application/json',
  mostBytes: 1_000_000,
  cannot: 'The supplier’s service cannot be reached, or does not take this order. Look at its address under Suppliers.',
  tooLarge: 'The supplier’s answer is too large to be one.',
};
const NO_ANSWER = 'The supplier’s answer is none of the format it should have.';

/** Hosts of this network that may be asked, where it is told why one cannot, and what ends it. */
export interface ServiceOptions {
  allowed: string[];
  logger: Logger;
  signal?: AbortSignal;
}

type ArrivalRow = typeof partArrival.$inferSelect;
interface OpenLine {
  a: ArrivalRow;
  p: typeof part.$inferSelect;
  own: string | null;
}
interface Ordered {
  order: typeof purchase.$inferSelect;
  from: typeof supplier.$inferSelect;
  at: typeof base.$inferSelect;
  lines: OpenLine[];
}

/** What of an order is still to come, as it was ordered. */
async function readOrdered(db: Db | Tx, id: number): Promise<Ordered | null> {
  const [found] = await db
    .select({ order: purchase, from: supplier, at: base })
    .from(purchase)
    .innerJoin(supplier, eq(supplier.id, purchase.supplierId))
    .innerJoin(base, eq(base.id, purchase.baseId))
    .where(eq(purchase.id, id));
  if (!found) return null;
  const rows = await db
    .select({ a: partArrival, p: part })
    .from(partArrival)
    .innerJoin(part, eq(part.id, partArrival.partId))
    .where(and(eq(partArrival.purchaseId, id), isNull(partArrival.arrivedAt)))
    .orderBy(asc(partArrival.id));
  const offers = await db.select().from(offer).where(eq(offer.supplierId, found.from.id));
  const own = new Map(offers.map((o) => [`${o.partId} ${o.packQuantity}`, o.number]));
  return {
    ...found,
    lines: rows
      .filter(({ a }) => a.packs !== null)
      .map(({ a, p }) => ({ a, p, own: own.get(`${a.partId} ${a.packQuantity}`) ?? null })),
  };
}

const numberOf = ({ own, p }: OpenLine) => own ?? p.number;

/** An order in the form it is sent in. */
const written = ({ order, at, lines }: Ordered): SupplierOrder => ({
  format: 'diurna-supplier-order',
  version: 1,
  reference: `order-${order.id}`,
  day: order.day,
  deliverTo: at.name,
  lines: lines.map((l) => ({
    part: numberOf(l),
    name: l.p.name,
    packs: l.a.packs!,
    packQuantity: l.a.packQuantity!,
    unit: l.p.unit,
  })),
});

type AnswerLine = SupplierAnswer['lines'][number];

/** What differs from what was ordered, in words; null = nothing. */
function differs(line: OpenLine, said: AnswerLine, expected: Day): string | null {
  const words = [
    said.packs === 0
      ? 'will not be sent'
      : said.packs < line.a.packs!
        ? `${said.packs} of ${line.a.packs} packs`
        : null,
    said.packs > 0 && said.day !== null && said.day !== expected ? `comes on ${dayWord(said.day)}` : null,
    said.packs > 0 && said.instead !== null ? `${said.instead} is sent instead` : null,
    said.note,
  ].filter((w) => w !== null);
  return words.length === 0 ? null : words.join('; ');
}

/** What is on the way follows what the supplier says: the day, how many packs, another number the book knows. */
async function takeAnswer(tx: Tx, ordered: Ordered, answer: SupplierAnswer, now: Date): Promise<string[]> {
  const told: string[] = [];
  for (const line of ordered.lines) {
    const said = answer.lines.find(
      (l) => l.part === numberOf(line) && (l.packQuantity ?? line.a.packQuantity) === line.a.packQuantity,
    );
    if (!said) continue;
    const packs = Math.min(said.packs, line.a.packs!);
    const words = differs(line, said, line.a.day);
    if (words !== null) told.push(`${line.p.number}: ${words}`);
    const [other] = said.instead === null ? [] : await tx.select().from(part).where(eq(part.number, said.instead));
    // A part that is counted otherwise is no drop-in: somebody has to look.
    const partId = other?.unit === line.p.unit ? other.id : line.a.partId;
    const share = line.a.priceMinor === null ? null : Math.round((line.a.priceMinor * packs) / line.a.packs!);
    await tx
      .update(partArrival)
      .set(
        packs === 0
          ? { arrivedAt: now, received: 0, answer: words, version: line.a.version + 1 }
          : {
              partId,
              packs,
              quantity: packs * line.a.packQuantity!,
              priceMinor: share,
              answer: words ?? 'confirmed',
              day: said.day ?? line.a.day,
              version: line.a.version + 1,
            },
      )
      .where(and(eq(partArrival.id, line.a.id), isNull(partArrival.arrivedAt)));
  }
  return told;
}

/**
 * Sends an order to the supplier's service, or asks how it stands: sent again, it is the same order. What they answer
 * moves what is on the way, and with it the plans that count on it.
 *
 * @returns what came of it in a sentence; `open` = it is to be asked again
 */
export async function askSupplier(
  db: Db,
  id: number,
  now: Date,
  by: { personId: number | null; requestId: string | null },
  { allowed, logger, signal }: ServiceOptions,
): Promise<{ outcome: string; open: boolean }> {
  const ordered = await readOrdered(db, id);
  if (!ordered) return { outcome: 'This order is not in the book any more.', open: false };
  const { from, lines, order } = ordered;
  if (from.serviceUrl === null) return { outcome: `${from.name} has no service.`, open: false };
  if (lines.length === 0) return { outcome: 'All of it is here, or will not come.', open: false };
  const keep = (service: (typeof order)['service'], serviceSays: string) =>
    db.update(purchase).set({ service, serviceSays }).where(eq(purchase.id, id));
  let answer: SupplierAnswer;
  try {
    const text = await fetchOutside(
      `${from.serviceUrl.replace(/\/$/, '')}/orders`,
      allowed,
      { ...SERVICE, sends: JSON.stringify(written(ordered)) },
      signal,
    );
    const read = supplierAnswer.safeParse(JSON.parse(text));
    if (!read.success || read.data.reference !== `order-${id}`) throw new Unreachable('another format', NO_ANSWER);
    answer = read.data;
  } catch (error) {
    signal?.throwIfAborted();
    const known = error instanceof Unreachable ? error : new Unreachable('no JSON', NO_ANSWER);
    logger.warn({ purchaseId: id, why: known.why }, 'an order did not go');
    await keep('failed', known.message);
    return { outcome: known.message, open: true };
  }
  if (answer.state === 'taken') {
    await keep('taken', `${from.name} has it, and will say when it comes.`);
    return { outcome: `${from.name} has taken the order and not answered yet.`, open: true };
  }
  const outcome = await transaction(db, async (tx) => {
    // As it stands now: somebody may have received a line meanwhile.
    await tx.select({ id: purchase.id }).from(purchase).where(eq(purchase.id, id)).for('update');
    const told = await takeAnswer(tx, (await readOrdered(tx, id))!, answer, now);
    const says = told.length === 0 ? `${from.name} sends it as ordered.` : `${from.name}: ${told.join('. ')}.`;
    await tx.update(purchase).set({ service: 'answered', serviceSays: says }).where(eq(purchase.id, id));
    await writeAudit(tx, now, by.personId, by.requestId, {
      act: 'changed',
      subject: 'order',
      subjectId: id,
      title: from.name,
      after: { answer: says },
    });
    return says;
  });
  return { outcome, open: false };
}
