import type { PartPage } from '@diurna/contract/stores';
import { asc, count, eq, or, sql } from 'drizzle-orm';
import { z } from 'zod';
import { among, tables, type Db, type Tx, rowsOf, holdsText } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import { shared } from '../http/shared.ts';
import { faulty, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { openAt } from './containers.ts';
import { keptBack } from './kept-back.ts';
import { readShelves } from './ledger.ts';
import { readLinks, writeContents, writeLinks } from './links.ts';

const { part, fitment, stockMovement, shelfPlace } = tables;

async function describeParts(db: Db, rows: (typeof part.$inferSelect)[]) {
  const ids = rows.map((p) => p.id);
  if (ids.length === 0) return [];
  const [fitments, kept, placed, shelves] = await Promise.all([
    db.select().from(fitment).where(among(fitment.partId, ids)).orderBy(asc(fitment.id)),
    // Worked out of all open cards: once for all who look while nothing changes.
    whileUnchanged(db, 'kept back', () => keptBack(db)),
    db.select().from(shelfPlace).where(among(shelfPlace.partId, ids)).orderBy(asc(shelfPlace.baseId)),
    rowsOf(
      db,
      z.object({ part_id: z.number(), base_id: z.number(), n: z.string() }),
      sql`
      select part_id, base_id, sum(quantity) as n from stock_movement where part_id = any(${sql.param(ids)}::int[])
        group by part_id, base_id order by base_id`,
    ),
  ]);
  const fits = grouped(fitments, (f) => f.partId);
  const lying = grouped(shelves, (h) => h.part_id);
  const places = grouped(placed, (h) => h.partId);
  const held = new Map<number, { baseId: number; quantity: number }[]>();
  for (const [key, quantity] of kept) {
    const [partId, baseId] = key.split(' ').map(Number) as [number, number];
    held.set(partId, [...(held.get(partId) ?? []), { baseId, quantity: Math.round(quantity * 100) / 100 }]);
  }
  return rows.map((p) => ({
    ...p,
    fitments: (fits.get(p.id) ?? []).map((f) => ({
      modelId: f.modelId,
      task: f.task,
      quantity: f.quantity,
      from: f.serialFrom,
      to: f.serialTo,
      transom: f.transom,
    })),
    onHand: (lying.get(p.id) ?? []).map((h) => ({ baseId: h.base_id, quantity: Number(h.n) })),
    places: (places.get(p.id) ?? []).map((h) => ({ baseId: h.baseId, place: h.place })),
    keptBack: held.get(p.id) ?? [],
  }));
}

function grouped<T>(list: readonly T[], key: (item: T) => number): Map<number, T[]> {
  const groups = new Map<number, T[]>();
  for (const item of list) {
    const own = groups.get(key(item));
    if (own) own.push(item);
    else groups.set(key(item), [item]);
  }
  return groups;
}

interface FitmentEdit {
  modelId: number;
  task: (typeof fitment.$inferSelect)['task'];
  quantity: number | null;
  from: string | null;
  to: string | null;
  transom?: (typeof fitment.$inferSelect)['transom'] | undefined;
}

async function writeFitments(tx: Tx, partId: number, fitments: readonly FitmentEdit[]): Promise<void> {
  await tx.delete(fitment).where(eq(fitment.partId, partId));
  if (fitments.length > 0) {
    await tx
      .insert(fitment)
      .values(
        fitments.map((f) => ({
          partId,
          modelId: f.modelId,
          task: f.task,
          quantity: f.quantity,
          serialFrom: f.from,
          serialTo: f.to,
          transom: f.transom ?? null,
        })),
      );
  }
}

async function writeCatalogue(
  tx: Tx,
  partId: number,
  {
    contents,
    links,
  }: {
    contents?: Parameters<typeof writeContents>[2] | undefined;
    links?: Parameters<typeof writeLinks>[2] | undefined;
  },
): Promise<void> {
  if (contents) await writeContents(tx, partId, contents);
  if (links) await writeLinks(tx, partId, links);
}

async function readList(db: Db, query: { q?: string | undefined; page: number; size: number }) {
  const where = query.q ? or(holdsText(part.number, query.q), holdsText(part.name, query.q)) : undefined;
  const [rows, [total]] = await Promise.all([
    db
      .select()
      .from(part)
      .where(where)
      .orderBy(asc(part.kind), asc(part.number))
      .limit(query.size)
      .offset((query.page - 1) * query.size),
    db.select({ n: count() }).from(part).where(where),
  ]);
  return { rows: await describeParts(db, rows), total: total!.n, page: query.page, size: query.size };
}

export const partHandlers: Handlers<'listParts' | 'readPart' | 'addPart' | 'editPart' | 'ledger'> = {
  // Many open the same first page: it is read once while nothing changes.
  listParts: ({ db, query }) =>
    whileUnchanged(db, `parts ${JSON.stringify(query)}`, async () => shared(await readList(db, query))),

  async readPart({ db, params, now }): Promise<PartPage> {
    const [found] = await describeParts(db, await db.select().from(part).where(eq(part.id, params.id)));
    if (!found) throw notFound('part');
    const [links, open, shelves] = await Promise.all([
      readLinks(db, params.id),
      openAt(db, [params.id], null),
      readShelves(db, found, now),
    ]);
    return { ...found, ...links, open: open.map(({ partId: _, ...o }) => o), ...shelves };
  },

  addPart: ({ body, write }) =>
    write(async (tx, audit) => {
      const { fitments, contents, links, ...rest } = body;
      const [row] = await tx.insert(part).values(rest).returning();
      await writeFitments(tx, row!.id, fitments);
      await writeCatalogue(tx, row!.id, { contents, links });
      await audit({ act: 'added', subject: 'part', subjectId: row!.id, title: row!.number, after: body });
      return { id: row!.id, version: row!.version };
    }),

  editPart: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { fitments, contents, links, version, ...rest } = body;
      const before = await lockVersion(tx, part, params.id, version, 'part');
      if (before.unit !== rest.unit) {
        const [moved] = await tx.select({ n: count() }).from(stockMovement).where(eq(stockMovement.partId, params.id));
        if (moved!.n > 0)
          throw faulty('unit', 'This part has movements in the ledger, its unit has to stay. Add a new part instead.');
      }
      const fits = await tx.select().from(fitment).where(eq(fitment.partId, params.id));
      const [row] = await tx
        .update(part)
        .set({ ...rest, ...nextVersion(part) })
        .where(eq(part.id, params.id))
        .returning();
      await writeFitments(tx, params.id, fitments);
      await writeCatalogue(tx, params.id, { contents, links });
      await audit({
        act: 'changed',
        subject: 'part',
        subjectId: row!.id,
        title: row!.number,
        before: { ...before, fitments: fits },
        after: body,
      });
      return { id: row!.id, version: row!.version };
    }),

  async ledger({ db, params, query }) {
    const here = query.baseId === undefined ? sql`true` : sql`base_id = ${query.baseId}`;
    const found = await rowsOf(
      db,
      z.object({
        id: z.number(),
        at: z.union([z.date(), z.string()]),
        base_id: z.number(),
        base_name: z.string(),
        quantity: z.string(),
        balance: z.string(),
        reason: z.enum(stockMovement.reason.enumValues),
        job_id: z.number().nullable(),
        taken_by: z.string().nullable(),
        by: z.string().nullable(),
        note: z.string().nullable(),
        below_zero: z.boolean(),
        lot: z.string().nullable(),
        expires: z.string().nullable(),
        cost_minor: z.number().nullable(),
        total: z.number(),
      }),
      sql`
        select l.*, b.name as base_name, p.name as by, t.name as taken_by from (
          select id, at, base_id, quantity, reason, job_id, person_id, taken_by as taken_id, note, below_zero, lot, expires::text as expires,
                 cost_minor,
                 sum(quantity) over (partition by base_id order by id) as balance, count(*) over ()::int as total
          from stock_movement where part_id = ${params.id} and ${here}
        ) l join base b on b.id = l.base_id left join person p on p.id = l.person_id left join person t on t.id = l.taken_id
        order by l.id desc limit ${query.size} offset ${(query.page - 1) * query.size}`,
    );
    return {
      rows: found.map((r) => ({
        id: r.id,
        at: new Date(r.at).toISOString(),
        baseId: r.base_id,
        baseName: r.base_name,
        quantity: Number(r.quantity),
        balance: Number(r.balance),
        reason: r.reason,
        jobId: r.job_id,
        takenBy: r.taken_by,
        by: r.by,
        note: r.note,
        belowZero: r.below_zero,
        lot: r.lot,
        expires: r.expires,
        costMinor: r.cost_minor,
      })),
      total: found[0]?.total ?? 0,
      page: query.page,
      size: query.size,
    };
  },
};
