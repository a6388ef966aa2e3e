import { and, asc, eq, isNull } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { nextVersion } from '../http/version.ts';
import { expiryOf } from './moves.ts';
import { lockShelves, refuseHalves } from './store.ts';

const { base, part, partArrival, stockMovement } = tables;

type ArrivalRow = typeof partArrival.$inferSelect;
interface Came {
  received: number;
  lot: string | null;
  expires: string | null;
  restOn: string | null;
}

/** What a share of an order cost. */
const shareOf = (row: ArrivalRow, quantity: number) =>
  row.priceMinor === null ? null : Math.round((row.priceMinor * quantity) / row.quantity);

/**
 * What came goes on the shelf with what it cost; of a transfer, what will not come goes back to where it was sent from,
 * and what got lost on the way is written off there: nothing vanishes between two shelves.
 */
async function shelve(tx: Tx, row: ArrivalRow, body: Came, by: { personId: number; now: Date }): Promise<void> {
  const [p] = await tx.select().from(part).where(eq(part.id, row.partId));
  const [at] = await tx.select().from(base).where(eq(base.id, row.baseId));
  const line = { partId: row.partId, personId: by.personId, note: row.note, at: by.now };
  const sent = row.fromBaseId !== null;
  if (sent && body.received > row.quantity)
    throw faulty('received', `Only ${row.quantity} were sent. Count the shelf if there is more.`);
  const bases = [row.baseId, ...(sent ? [row.fromBaseId!] : [])].sort((a, b) => a - b);
  for (const b of bases) await lockShelves(tx, b, [row.partId]);
  if (body.received > 0)
    await tx
      .insert(stockMovement)
      .values({
        ...line,
        baseId: row.baseId,
        quantity: body.received,
        reason: sent ? 'moved' : 'received',
        lot: body.lot || null,
        expires: expiryOf(p!, body.expires, by.now, at!.timeZone),
        costMinor: shareOf(row, body.received),
      });
  const rest = row.quantity - body.received;
  if (!sent || rest <= 0 || body.restOn !== null) return;
  await tx
    .insert(stockMovement)
    .values({ ...line, baseId: row.fromBaseId!, quantity: rest, reason: 'moved', costMinor: shareOf(row, rest) });
  if (body.received > 0)
    await tx
      .insert(stockMovement)
      .values({
        ...line,
        baseId: row.fromBaseId!,
        quantity: -rest,
        reason: 'written off',
        note: `did not get to ${at!.name}`,
      });
}

export const arrivalHandlers: Handlers<'listArrivals' | 'addArrival' | 'closeArrival'> = {
  async listArrivals({ db, query }) {
    const rows = await db
      .select({ a: partArrival, p: part })
      .from(partArrival)
      .innerJoin(part, eq(part.id, partArrival.partId))
      .where(
        and(
          isNull(partArrival.arrivedAt),
          query.partId === undefined ? undefined : eq(partArrival.partId, query.partId),
        ),
      )
      .orderBy(asc(partArrival.day), asc(part.number))
      .limit(1000);
    return rows.map(({ a, p }) => ({
      id: a.id,
      partId: a.partId,
      number: p.number,
      name: p.name,
      unit: p.unit,
      baseId: a.baseId,
      day: a.day,
      quantity: a.quantity,
      note: a.note,
      fromBaseId: a.fromBaseId,
    }));
  },

  addArrival: ({ body, write }) =>
    write(async (tx, audit) => {
      const [p] = await tx.select().from(part).where(eq(part.id, body.partId));
      if (!p) throw notFound('part');
      refuseHalves(p, body.quantity, 'quantity');
      const [row] = await tx
        .insert(partArrival)
        .values({ ...body, note: body.note || null })
        .returning();
      await audit({ act: 'added', subject: 'order', subjectId: row!.id, title: p.number, after: body });
      return { id: row!.id };
    }),

  closeArrival: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const [row] = await tx.select().from(partArrival).where(eq(partArrival.id, params.id)).for('update');
      if (!row) throw notFound('order');
      if (row.arrivedAt) throw new HttpProblem(409, 'This order is closed already.');
      const [p] = await tx.select().from(part).where(eq(part.id, row.partId));
      refuseHalves(p!, body.received, 'received');
      const rest = row.quantity - body.received;
      if (body.restOn !== null && rest <= 0) throw faulty('restOn', 'All of it has come: there is no rest.');
      await tx
        .update(partArrival)
        .set({ arrivedAt: now, received: body.received, ...nextVersion(partArrival) })
        .where(eq(partArrival.id, params.id));
      if (body.restOn !== null) {
        const { id: _, version: __, packs: ___, packQuantity: ____, ...same } = row;
        await tx
          .insert(partArrival)
          .values({ ...same, day: body.restOn, quantity: rest, priceMinor: shareOf(row, rest) });
      }
      await shelve(tx, row, body, { personId: who.id, now });
      await audit({
        act: 'changed',
        subject: 'order',
        subjectId: row.id,
        title: p!.number,
        before: row,
        after: { received: body.received, rest: body.restOn },
      });
      return { ok: true as const };
    }),
};
