import { chooseContainers, type ContainerSize } from '@diurna/core/fluids';
import { toMillilitres } from '@diurna/core/units';
import type { OpenContainer } from '@diurna/contract/stores';
import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Db, type Tx } from '../db/index.ts';
import { faulty, HttpProblem } from '../http/problem.ts';

const { openContainer, part, pour } = tables;

type PartRow = typeof part.$inferSelect;
export type PrintedContainer = PartRow['containers'][number];

/** A container with less in it is empty. */
const EMPTY_ML = 0.5;

/** "1 US qt bottle": as it is printed. */
export const labelOf = ({ value, unit, kind }: PrintedContainer): string => `${value} ${unit} ${kind}`;

/** What a fluid is sold in, with what one costs by the price of a litre. */
export const sizesOf = (p: Pick<PartRow, 'containers' | 'priceMinor'>): ContainerSize[] =>
  p.containers.map((c) => {
    const ml = Math.round(toMillilitres(c.value, c.unit) * 100) / 100;
    return { id: labelOf(c), ml, priceMinor: Math.round(((p.priceMinor ?? 0) * ml) / 1000), most: null };
  });

/** Open containers of these parts, oldest first. @param baseId null = at all bases */
export async function openAt(
  db: Db | Tx,
  partIds: readonly number[],
  baseId: number | null,
): Promise<(OpenContainer & { partId: number })[]> {
  if (partIds.length === 0) return [];
  const rows = await rowsOf(
    db,
    z.object({
      id: z.number(),
      part_id: z.number(),
      base_id: z.number(),
      label: z.string(),
      size_ml: z.string(),
      poured: z.string(),
      opened_at: z.union([z.date(), z.string()]),
    }),
    sql`
    select c.id, c.part_id, c.base_id, c.label, c.size_ml, c.opened_at, coalesce(sum(p.ml), 0) as poured
    from open_container c left join pour p on p.container_id = c.id
    where c.ended_at is null and c.part_id = any(${sql.param([...partIds])}::int[])
      and (${baseId}::int is null or c.base_id = ${baseId}::int)
    group by c.id order by c.opened_at, c.id limit 5000`,
  );
  return rows.map((r) => ({
    id: r.id,
    partId: r.part_id,
    baseId: r.base_id,
    label: r.label,
    sizeMl: Number(r.size_ml),
    // A card undone after a count may pour back more than it holds.
    leftMl: Math.min(Number(r.size_ml), Math.max(0, Math.round((Number(r.size_ml) - Number(r.poured)) * 100) / 100)),
    openedAt: new Date(r.opened_at).toISOString(),
  }));
}

interface By {
  personId: number;
  now: Date;
}

async function pourFrom(
  tx: Tx,
  c: { id: number; leftMl: number },
  ml: number,
  movementId: number | null,
  { personId, now }: By,
): Promise<void> {
  const poured = Math.round(ml * 100) / 100;
  if (poured === 0) return;
  await tx.insert(pour).values({ containerId: c.id, ml: poured, movementId, personId, at: now });
  if (c.leftMl - poured <= EMPTY_ML)
    await tx.update(openContainer).set({ endedAt: now }).where(eq(openContainer.id, c.id));
}

async function openOne(
  tx: Tx,
  partId: number,
  baseId: number,
  size: { label: string; ml: number },
  { personId, now }: By,
): Promise<{ id: number; leftMl: number }> {
  const [row] = await tx
    .insert(openContainer)
    .values({ partId, baseId, sizeMl: size.ml, label: size.label, openedAt: now, personId })
    .returning();
  return { id: row!.id, leftMl: size.ml };
}

/** A movement of fluid that left a shelf. */
export interface FluidOut {
  partId: number;
  baseId: number;
  movementId: number;
  ml: number;
}

/**
 * Pours what a movement takes: open containers first, the oldest of them first, then new ones by what costs least; what
 * is left in these stands open from now on. Parts that nobody said the containers of are poured from nothing.
 */
export async function pourOut(tx: Tx, outs: readonly FluidOut[], onHand: ReadonlyMap<number, number>, by: By) {
  if (outs.length === 0) return;
  const parts = await tx
    .select()
    .from(part)
    .where(
      inArray(
        part.id,
        outs.map((o) => o.partId),
      ),
    );
  for (const { partId, baseId, movementId, ml } of outs) {
    const p = parts.find((x) => x.id === partId)!;
    const open = await openAt(tx, [partId], baseId);
    const sizes = sizesOf(p);
    const chosen =
      chooseContainers({ needMl: ml, open: open.map((o) => ({ id: String(o.id), leftMl: o.leftMl })), sizes }) ??
      // More than there is in what stands open, and nobody said what else there is.
      chooseContainers({
        needMl: open.reduce((sum, o) => sum + o.leftMl, 0),
        open: open.map((o) => ({ id: String(o.id), leftMl: o.leftMl })),
        sizes: [],
      });
    if (chosen === null) continue;
    let rest = ml;
    for (const { id, ml: poured } of chosen.pour) {
      await pourFrom(
        tx,
        open.find((o) => String(o.id) === id)!,
        poured,
        movementId,
        by,
      );
      rest -= poured;
    }
    for (const { id, count } of chosen.take)
      for (let k = 0; k < count; k++) {
        const size = sizes.find((s) => s.id === id)!;
        const c = await openOne(tx, partId, baseId, { label: id, ml: size.ml }, by);
        const poured = Math.min(rest, size.ml);
        await pourFrom(tx, c, poured, movementId, by);
        rest -= poured;
      }
    await keepWithin(tx, partId, baseId, onHand.get(partId) ?? 0, by);
  }
}

/** No more stands open than lies there: the newest is poured down to it. */
async function keepWithin(tx: Tx, partId: number, baseId: number, onHand: number, by: By): Promise<void> {
  const open = await openAt(tx, [partId], baseId);
  let over = open.reduce((sum, o) => sum + o.leftMl, 0) - Math.max(0, onHand);
  for (const c of open.reverse()) {
    if (over <= 0) return;
    const ml = Math.min(over, c.leftMl);
    await pourFrom(tx, c, ml, null, by);
    over -= ml;
  }
}

/** What was poured for movements goes back into its containers, which stand open again. */
export async function pourBack(
  tx: Tx,
  undone: readonly { movementId: number; by: number }[],
  { personId, now }: By,
): Promise<void> {
  for (const { movementId, by } of undone) {
    const poured = await tx.select().from(pour).where(eq(pour.movementId, movementId));
    if (poured.length === 0) continue;
    await tx
      .insert(pour)
      .values(poured.map((p) => ({ containerId: p.containerId, ml: -p.ml, movementId: by, personId, at: now })));
    await tx
      .update(openContainer)
      .set({ endedAt: null })
      .where(
        inArray(
          openContainer.id,
          poured.map((p) => p.containerId),
        ),
      );
  }
}

/** Opens one of the sizes the part is sold in. @throws 409 when no full one can be there */
export async function openNew(
  tx: Tx,
  p: PartRow,
  baseId: number,
  container: PrintedContainer,
  onHand: number,
  by: By,
): Promise<void> {
  const label = labelOf(container);
  const size = sizesOf(p).find((s) => s.id === label);
  if (!size) throw faulty('container', `${p.number} is not sold in that. Say under Edit what it is sold in.`);
  const open = (await openAt(tx, [p.id], baseId)).reduce((sum, o) => sum + o.leftMl, 0);
  if (onHand - open < size.ml - EMPTY_ML)
    throw new HttpProblem(
      409,
      `Of ${Math.round(onHand)} mL there, ${Math.round(open)} stand open already: no full ${label} can be left. Count it first.`,
      [],
      'short',
    );
  await openOne(tx, p.id, baseId, { label, ml: size.ml }, by);
}

/** Pours from one open container into another of the same part and base. @throws 409 when that does not go */
export async function decant(
  tx: Tx,
  { partId, baseId, fromId, toId, ml }: { partId: number; baseId: number; fromId: number; toId: number; ml: number },
  by: By,
): Promise<void> {
  await tx
    .select({ id: openContainer.id })
    .from(openContainer)
    .where(and(inArray(openContainer.id, [fromId, toId]), isNull(openContainer.endedAt)))
    .orderBy(asc(openContainer.id))
    .for('update');
  const open = await openAt(tx, [partId], baseId);
  const from = open.find((o) => o.id === fromId);
  const to = open.find((o) => o.id === toId);
  if (!from || !to || fromId === toId) throw new HttpProblem(409, 'Choose two open containers that stand here.');
  if (ml > from.leftMl + EMPTY_ML)
    throw faulty('ml', `There are only ${Math.round(from.leftMl)} mL in the ${from.label}.`);
  if (to.leftMl + ml > to.sizeMl + EMPTY_ML)
    throw faulty('ml', `The ${to.label} takes no more than ${Math.round(to.sizeMl - to.leftMl)} mL.`);
  await pourFrom(tx, from, Math.min(ml, from.leftMl), null, by);
  await pourFrom(tx, { id: to.id, leftMl: to.sizeMl }, -Math.min(ml, from.leftMl), null, by);
}

/** What a count found in the open containers, and how much stands open after it. @throws 422 at the line */
export async function countOpen(
  tx: Tx,
  {
    partId,
    baseId,
    counted,
    found,
  }: { partId: number; baseId: number; counted: number; found: readonly { id: number; leftMl: number }[] },
  by: By,
): Promise<void> {
  const open = await openAt(tx, [partId], baseId);
  for (const [i, { id, leftMl }] of found.entries()) {
    const c = open.find((o) => o.id === id);
    if (!c) throw faulty(`open.${i}.id`, 'This container does not stand open here any more.');
    if (leftMl > c.sizeMl + EMPTY_ML)
      throw faulty(`open.${i}.leftMl`, `More than the ${c.label} holds. What is printed on it?`);
    await pourFrom(tx, c, c.leftMl - leftMl, null, by);
  }
  await keepWithin(tx, partId, baseId, counted, by);
}
