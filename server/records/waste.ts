import { wasteCounted } from '@diurna/core/findings';
import { dayInZone } from '@diurna/core/calendar';
import { and, count, desc, eq, gte, lte, sql, type SQL } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty } from '../http/problem.ts';

const { wasteEntry, base, job, boat, person } = tables;

async function totals(db: Db, where: SQL | undefined) {
  const rows = await db
    .select({
      baseId: base.id,
      baseName: base.name,
      stream: wasteEntry.stream,
      quantity: sql<string>`sum(${wasteEntry.quantity})`,
    })
    .from(wasteEntry)
    .innerJoin(base, eq(base.id, wasteEntry.baseId))
    .where(where)
    .groupBy(base.id, base.name, wasteEntry.stream)
    .orderBy(base.name, wasteEntry.stream);
  return rows.map((r) => ({
    baseId: r.baseId,
    baseName: r.baseName,
    stream: r.stream,
    quantity: Number(r.quantity),
    unit: wasteCounted(r.stream) ? ('pieces' as const) : ('mL' as const),
  }));
}

export const wasteHandlers = (): Handlers<'listWaste' | 'takeWasteAway'> => ({
  async listWaste({ db, query }) {
    const ofBase = query.baseId === undefined ? undefined : eq(wasteEntry.baseId, query.baseId);
    const where = and(
      query.from ? gte(wasteEntry.day, query.from) : undefined,
      query.to ? lte(wasteEntry.day, query.to) : undefined,
      ofBase,
    );
    const [rows, [n], sums, store] = await Promise.all([
      db
        .select({ w: wasteEntry, baseName: base.name, boatName: boat.name, by: person.name })
        .from(wasteEntry)
        .innerJoin(base, eq(base.id, wasteEntry.baseId))
        .leftJoin(job, eq(job.id, wasteEntry.jobId))
        .leftJoin(boat, eq(boat.id, job.boatId))
        .leftJoin(person, eq(person.id, wasteEntry.personId))
        .where(where)
        .orderBy(desc(wasteEntry.day), desc(wasteEntry.id))
        .limit(query.size)
        .offset((query.page - 1) * query.size),
      db.select({ n: count() }).from(wasteEntry).where(where),
      // What came in in these days; what was taken away is not less of it.
      totals(db, and(where, sql`${wasteEntry.jobId} is not null`)),
      totals(db, ofBase),
    ]);
    return {
      rows: rows.map(({ w, baseName, boatName, by }) => ({
        id: w.id,
        day: w.day,
        baseName,
        boatName,
        jobId: w.jobId,
        stream: w.stream,
        quantity: w.quantity,
        measured: w.measured,
        by,
        note: w.note,
      })),
      total: n!.n,
      page: query.page,
      size: query.size,
      totals: sums,
      store: store.filter((s) => s.quantity !== 0),
    };
  },

  takeWasteAway: ({ body, write, who, now }) =>
    write(async (tx, audit) => {
      const [place] = await tx.select().from(base).where(eq(base.id, body.baseId));
      if (!place) throw faulty('baseId', 'Choose the base whose store it was.');
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext('waste_entry'), ${body.baseId}::int)`);
      const [sum] = await tx
        .select({ n: sql<string>`coalesce(sum(${wasteEntry.quantity}), 0)` })
        .from(wasteEntry)
        .where(and(eq(wasteEntry.baseId, body.baseId), eq(wasteEntry.stream, body.stream)));
      if (Number(sum!.n) < body.quantity)
        throw faulty(
          'quantity',
          `The store of ${place.name} holds ${Math.round(Number(sum!.n))} ${wasteCounted(body.stream) ? 'pieces' : 'mL'} of ${body.stream}. Count it, or write down less.`,
        );
      await tx
        .insert(wasteEntry)
        .values({
          at: now,
          baseId: body.baseId,
          stream: body.stream,
          quantity: -body.quantity,
          day: dayInZone(now, place.timeZone),
          personId: who.id,
          note: body.note,
        });
      await audit({ act: 'added', subject: 'waste', title: place.name, after: body });
      return { ok: true as const };
    }),
});
