import { newestOf, takeFromShelf, type Fitment, type PartLink } from '@diurna/core/stores';
import type { Fault } from '@diurna/contract';
import { taskKind } from '@diurna/contract/fleet';
import { eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { among, tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { pourOut } from './containers.ts';
import { linksOf } from './links.ts';

/** On hand by part id, at one base or over all; the sum of the ledger. */
export async function onHandByPart(
  db: Db | Tx,
  baseId: number | null,
  partIds?: number[],
): Promise<Map<number, number>> {
  const found = await rowsOf(
    db,
    z.object({ part_id: z.number(), n: z.string() }),
    sql`
    select part_id, sum(quantity) as n from stock_movement
    where (${baseId}::int is null or base_id = ${baseId}::int)
      and (${partIds === undefined} or part_id = any(${sql.param(partIds ?? [])}::int[]))
    group by part_id`,
  );
  return new Map(found.map((r) => [r.part_id, Number(r.n)]));
}

const newestOrNull = (partId: number, links: readonly PartLink[]) => {
  const newest = newestOf(partId, links);
  return newest === partId ? null : newest;
};

/** Fitments of these models, or of all. */
export async function fitmentsOf(db: Db | Tx, modelIds?: number[]): Promise<Fitment[]> {
  const { fitment, part } = tables;
  if (modelIds?.length === 0) return [];
  const rows = await db
    .select({ f: fitment, kind: part.kind, make: part.make, priceMinor: part.priceMinor })
    .from(fitment)
    .innerJoin(part, eq(part.id, fitment.partId))
    .where(modelIds ? among(fitment.modelId, modelIds) : undefined)
    .limit(50_000);
  // Asked of fluids alone: of two that fit, the one that most models take.
  const fluids = [...new Set(rows.flatMap((r) => (r.kind === 'oil' || r.kind === 'gear lube' ? [r.f.partId] : [])))];
  const spread =
    fluids.length === 0
      ? []
      : await rowsOf(
          db,
          z.object({ part_id: z.number(), task: taskKind, n: z.number() }),
          sql`select part_id, task, count(distinct model_id)::int as n from fitment
            where part_id = any(${sql.param(fluids)}::int[]) group by part_id, task`,
        );
  const models = new Map(spread.map((s) => [`${s.part_id} ${s.task}`, s.n]));
  const links = await linksOf(db);
  return rows.map(({ f, ...of }) => ({
    ...of,
    newestId: newestOrNull(f.partId, links),
    models: models.get(`${f.partId} ${f.task}`) ?? 0,
    partId: f.partId,
    modelId: f.modelId,
    task: f.task,
    quantity: f.quantity,
    from: f.serialFrom,
    to: f.serialTo,
    transom: f.transom,
  }));
}

/**
 * Holds the shelves of these parts at a base until the transaction ends, so that two people cannot both
 * take the last one. Always in the same order, so that nobody waits crosswise.
 */
export async function lockShelves(tx: Tx, baseId: number, partIds: number[]): Promise<void> {
  for (const partId of [...new Set(partIds)].sort((a, b) => a - b)) {
    await tx.execute(sql`select pg_advisory_xact_lock(${partId}::int, ${baseId}::int)`);
  }
}

/** Filters come in whole pieces, oil in millilitres. */
export function refuseHalves(part: { number: string; unit: 'each' | 'mL' }, quantity: number, path: string): void {
  if (part.unit === 'each' && !Number.isInteger(quantity))
    throw faulty(path, `${part.number} is counted in whole pieces.`);
}

/** Said where a list names a part twice. */
export const TWICE = 'The same part stands in the list twice. Put it in one line.';

export interface Taking {
  partId: number;
  quantity: number;
}

/**
 * Books parts out of a base. When the shelf has less, it is refused with type `short`, or marked where
 * the person says the part was there and the book allows it.
 *
 * @returns the parts that went below zero.
 */
export async function takeParts(
  tx: Tx,
  taking: readonly Taking[],
  how: {
    baseId: number;
    jobId: number | null;
    personId: number;
    reason: 'used' | 'written off' | 'moved';
    note: string | null;
    belowZero: boolean;
    takenBy?: number;
    now: Date;
  },
): Promise<number[]> {
  if (taking.length === 0) return [];
  const ids = taking.map((t) => t.partId);
  if (new Set(ids).size < ids.length) throw new HttpProblem(422, TWICE);
  const parts = await tx.select().from(tables.part).where(among(tables.part.id, ids));
  const missing = ids.find((id) => !parts.some((p) => p.id === id));
  if (missing !== undefined)
    throw new HttpProblem(422, 'One of the parts is not on the shelf list any more. Load the card again.');
  await lockShelves(tx, how.baseId, ids);
  const onHand = await onHandByPart(tx, how.baseId, ids);
  const [settings] = await tx.select({ policy: tables.setting.shelfPolicy }).from(tables.setting);
  const faults: Fault[] = [];
  const short: number[] = [];
  taking.forEach(({ partId, quantity }, i) => {
    const part = parts.find((p) => p.id === partId)!;
    const have = onHand.get(partId) ?? 0;
    refuseHalves(part, quantity, `parts.${i}.quantity`);
    if (takeFromShelf(have, quantity).short > 0) {
      short.push(partId);
      faults.push({
        path: `parts.${i}.quantity`,
        text: `${part.number} ${part.name}: the shelf has ${Math.max(0, have)}, ${quantity} wanted`,
      });
    }
  });
  if (short.length > 0 && !(how.belowZero && settings?.policy === 'mark')) {
    const next =
      settings?.policy === 'mark'
        ? 'Count the shelf, use less, or say that the parts were there and go on; it will be marked.'
        : 'Count the shelf or use less; this book does not let a shelf go below zero.';
    throw new HttpProblem(
      409,
      `The shelf has too little: ${faults.map((f) => f.text).join('; ')}. ${next}`,
      faults,
      'short',
    );
  }
  const booked = await tx
    .insert(tables.stockMovement)
    .values(
      taking.map((t) => ({
        partId: t.partId,
        baseId: how.baseId,
        quantity: -t.quantity,
        reason: how.reason,
        jobId: how.jobId,
        personId: how.personId,
        takenBy: how.takenBy ?? null,
        note: how.note,
        belowZero: short.includes(t.partId),
        at: how.now,
      })),
    )
    .returning({ id: tables.stockMovement.id, partId: tables.stockMovement.partId });
  const fluids = booked.flatMap(({ id, partId }) =>
    parts.find((p) => p.id === partId)!.unit === 'mL'
      ? [{ partId, baseId: how.baseId, movementId: id, ml: taking.find((t) => t.partId === partId)!.quantity }]
      : [],
  );
  const left = new Map(taking.map((t) => [t.partId, (onHand.get(t.partId) ?? 0) - t.quantity]));
  await pourOut(tx, fluids, left, { personId: how.personId, now: how.now });
  return short;
}
