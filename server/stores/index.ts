import { servicesLeft, type ServicesLeft } from '@diurna/core/stores';
import { TASK_KINDS, taskApplies, TASKS } from '@diurna/core/service';
import { toMillilitres } from '@diurna/core/units';
import type { ModelShelf } from '@diurna/contract/stores';
import { asc, eq, inArray, or, count, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { listModels } from '../fleet/index.ts';
import type { FleetCache } from '../service/index.ts';
import { keptBack } from './kept-back.ts';
import { fitmentsOf, lockShelves, onHandByPart, refuseHalves, takeParts } from './store.ts';

export { fitmentsOf, lockShelves, onHandByPart, refuseHalves, takeParts } from './store.ts';
export { arrivalHandlers } from './arrivals.ts';
export { wantedHandlers } from './wanted.ts';
export { keptBack } from './kept-back.ts';
export { partsOfAll, partsOfTasks } from './parts-of-tasks.ts';
export { keepPlace, placeHandlers, placesAt } from './places.ts';

const { part, fitment, stockMovement, base, shelfPlace } = tables;
type Names = 'listParts' | 'readPart' | 'addPart' | 'editPart' | 'ledger' | 'modelShelves' | 'moveStock';

async function describeParts(db: Db, rows: (typeof part.$inferSelect)[]) {
  const ids = rows.map((p) => p.id);
  if (ids.length === 0) return [];
  const [fitments, kept, places, shelves] = await Promise.all([
    db.select().from(fitment).where(inArray(fitment.partId, ids)).orderBy(asc(fitment.id)),
    keptBack(db),
    db.select().from(shelfPlace).where(inArray(shelfPlace.partId, ids)).orderBy(asc(shelfPlace.baseId)),
    rowsOf(
      db,
      z.object({ part_id: z.number(), base_id: z.number(), n: z.string() }),
      sql`
      select part_id, base_id, sum(quantity) as n from stock_movement where part_id = any(${sql.param(ids)}::int[])
        group by part_id, base_id order by base_id`,
    ),
  ]);
  return rows.map((p) => ({
    ...p,
    fitments: fitments
      .filter((f) => f.partId === p.id)
      .map((f) => ({
        modelId: f.modelId,
        task: f.task,
        quantity: f.quantity,
        from: f.serialFrom,
        to: f.serialTo,
        transom: f.transom,
      })),
    onHand: shelves.filter((s) => s.part_id === p.id).map((s) => ({ baseId: s.base_id, quantity: Number(s.n) })),
    places: places.filter((s) => s.partId === p.id).map((s) => ({ baseId: s.baseId, place: s.place })),
    keptBack: [...kept].flatMap(([key, quantity]) => {
      const [part, at] = key.split(' ').map(Number);
      return part === p.id ? [{ baseId: at!, quantity: Math.round(quantity * 100) / 100 }] : [];
    }),
  }));
}

interface FitmentEdit {
  modelId: number;
  task: (typeof fitment.$inferSelect)['task'];
  quantity: number | null;
  from: string | null;
  to: string | null;
  transom?: (typeof fitment.$inferSelect)['transom'] | undefined;
}

export async function writeFitments(tx: Tx, partId: number, fitments: readonly FitmentEdit[]): Promise<void> {
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

export function storesHandlers(fleet: FleetCache): Handlers<Names> {
  return {
    async listParts({ db, query }) {
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
    },

    async readPart({ db, params }) {
      const [found] = await describeParts(db, await db.select().from(part).where(eq(part.id, params.id)));
      if (!found) throw notFound('part');
      return found;
    },

    addPart: ({ body, write }) =>
      write(async (tx, audit) => {
        const { fitments, ...rest } = body;
        const [row] = await tx.insert(part).values(rest).returning();
        await writeFitments(tx, row!.id, fitments);
        await audit({ act: 'added', subject: 'part', subjectId: row!.id, title: row!.number, after: body });
        return { id: row!.id, version: row!.version };
      }),

    editPart: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { fitments, version, ...rest } = body;
        const before = await lockVersion(tx, part, params.id, version, 'part');
        if (before.unit !== rest.unit) {
          const [moved] = await tx
            .select({ n: count() })
            .from(stockMovement)
            .where(eq(stockMovement.partId, params.id));
          if (moved!.n > 0)
            throw faulty(
              'unit',
              'This part has movements in the ledger, its unit has to stay. Add a new part instead.',
            );
        }
        const fits = await tx.select().from(fitment).where(eq(fitment.partId, params.id));
        const [row] = await tx
          .update(part)
          .set({ ...rest, ...nextVersion(part) })
          .where(eq(part.id, params.id))
          .returning();
        await writeFitments(tx, params.id, fitments);
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
          by: z.string().nullable(),
          note: z.string().nullable(),
          below_zero: z.boolean(),
          total: z.number(),
        }),
        sql`
        select l.*, b.name as base_name, p.name as by from (
          select id, at, base_id, quantity, reason, job_id, person_id, note, below_zero,
                 sum(quantity) over (partition by base_id order by id) as balance, count(*) over ()::int as total
          from stock_movement where part_id = ${params.id} and ${here}
        ) l join base b on b.id = l.base_id left join person p on p.id = l.person_id
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
          by: r.by,
          note: r.note,
          belowZero: r.below_zero,
        })),
        total: found[0]?.total ?? 0,
        page: query.page,
        size: query.size,
      };
    },

    async modelShelves({ db, query, now }) {
      await fleet.refresh(now);
      const [models, fitments, onHand, parts] = await Promise.all([
        listModels(db),
        fitmentsOf(db),
        onHandByPart(db, query.baseId ?? null),
        db.select().from(part).limit(10_000),
      ]);
      const name = new Map(parts.map((p) => [p.id, { id: p.id, number: p.number, name: p.name }]));
      const here = [...fleet.allDue(now)].filter(
        ({ facts }) => query.baseId === undefined || facts.baseId === query.baseId,
      );
      const engines = new Map<number, Set<number>>();
      for (const { facts } of here) engines.set(facts.modelId, (engines.get(facts.modelId) ?? new Set()).add(facts.id));
      return models
        .filter((m) => (engines.get(m.id)?.size ?? 0) > 0)
        .map((m): ModelShelf => {
          const volumes = {
            sumpMl: m.sump ? toMillilitres(m.sump.value, m.sump.unit) : null,
            gearCaseMl: m.gearCase ? toMillilitres(m.gearCase.value, m.gearCase.unit) : null,
          };
          const own = fitments.filter((f) => f.modelId === m.id);
          const rows: ServicesLeft[] = TASK_KINDS.filter(
            (t) =>
              taskApplies(t, m.stroke) &&
              TASKS[t].usesParts &&
              (own.some((f) => f.task === t) || m.rules.some((r) => r.task === t)),
          ).flatMap((t) => servicesLeft(t, own, volumes, onHand));
          return {
            modelId: m.id,
            modelName: `${m.maker} ${m.name}`,
            stroke: m.stroke,
            engines: engines.get(m.id)?.size ?? 0,
            tasks: rows.map((r) => ({
              task: r.task,
              serials: r.serials,
              count: r.count,
              limitedBy: r.limitedBy === null ? null : (name.get(r.limitedBy) ?? null),
              dueSoon: here.filter(
                ({ facts, due }) =>
                  facts.modelId === m.id && due.task === r.task && ['over', 'due', 'soon'].includes(due.state),
              ).length,
            })),
          };
        });
    },

    moveStock: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        const [found] = await tx.select().from(part).where(eq(part.id, body.partId));
        const bases = await tx
          .select()
          .from(base)
          .where(inArray(base.id, body.act === 'move' ? [body.baseId, body.toBaseId] : [body.baseId]));
        if (!found) throw notFound('part');
        if (bases.length === 0 || (body.act === 'move' && bases.length < 2))
          throw faulty('baseId', body.act === 'move' ? 'Choose two different bases.' : 'Choose a base.');
        const amount = body.act === 'count' ? body.counted : body.quantity;
        refuseHalves(found, amount, body.act === 'count' ? 'counted' : 'quantity');
        await lockShelves(tx, body.baseId, [found.id]);
        const before = (await onHandByPart(tx, body.baseId, [found.id])).get(found.id) ?? 0;
        const line = { partId: found.id, baseId: body.baseId, personId: who.id, note: body.note, at: now };
        if (body.act === 'receive')
          await tx.insert(stockMovement).values({ ...line, quantity: body.quantity, reason: 'received' });
        if (body.act === 'count')
          await tx.insert(stockMovement).values({ ...line, quantity: body.counted - before, reason: 'counted' });
        if (body.act === 'write off') {
          await takeParts(tx, [{ partId: found.id, quantity: body.quantity }], {
            baseId: body.baseId,
            jobId: null,
            personId: who.id,
            reason: 'written off',
            note: body.note,
            belowZero: false,
            now: now,
          });
        }
        if (body.act === 'move') {
          if (before < body.quantity)
            throw new HttpProblem(
              409,
              `The shelf has ${before}, ${body.quantity} cannot leave it. Count it first if that is wrong.`,
              [{ path: 'quantity', text: `only ${before} on the shelf` }],
              'short',
            );
          await tx.insert(stockMovement).values([
            { ...line, quantity: -body.quantity, reason: 'moved' },
            { ...line, baseId: body.toBaseId, quantity: body.quantity, reason: 'moved' },
          ]);
        }
        const after = (await onHandByPart(tx, body.baseId, [found.id])).get(found.id) ?? 0;
        await audit({
          act: 'changed',
          subject: 'stock',
          subjectId: found.id,
          title: found.number,
          before: { onHand: before },
          after: { ...body, onHand: after },
        });
        return { onHand: after };
      }),
  };
}
