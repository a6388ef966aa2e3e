import { and, asc, eq, isNull } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { nextVersion } from '../http/version.ts';
import { lockShelves, refuseHalves } from './store.ts';

const { part, partArrival, stockMovement } = tables;

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
      await tx
        .update(partArrival)
        .set({ arrivedAt: now, received: body.received, ...nextVersion(partArrival) })
        .where(eq(partArrival.id, params.id));
      if (body.received > 0) {
        await lockShelves(tx, row.baseId, [row.partId]);
        await tx
          .insert(stockMovement)
          .values({
            partId: row.partId,
            baseId: row.baseId,
            quantity: body.received,
            reason: 'received',
            personId: who.id,
            note: row.note,
            at: now,
          });
      }
      await audit({
        act: 'changed',
        subject: 'order',
        subjectId: row.id,
        before: row,
        after: { received: body.received },
      });
      return { ok: true as const };
    }),
};
