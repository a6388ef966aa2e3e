import { newestOf, runsInRing, type PartLink } from '@diurna/core/stores';
import type { z } from 'zod';
import type { partEdit } from '@diurna/contract/stores';
import { asc, countDistinct, desc, eq, inArray, or } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import { faulty } from '../http/problem.ts';

const { part, partLink, kitContent, fitment } = tables;

export type LinkRow = typeof partLink.$inferSelect;
type Edit = z.output<typeof partEdit>;

/** All links between numbers, with who says so. There are few: a fleet of a thousand engines has some hundred. */
export const linksOf = (db: Db | Tx): Promise<LinkRow[]> => db.select().from(partLink).limit(50_000);

/** "older number", "newer number" or "equivalent", by whom and where it is written. */
export function whyText(link: LinkRow, older: boolean): string {
  const what = link.kind === 'equivalent' ? 'equivalent' : older ? 'older number' : 'newer number';
  return `${what}: ${link.evidence} (${link.saidBy})`;
}

/** What lies there by the newest number: what is left of the older ones counted in with it. */
export function withOlder(onHand: ReadonlyMap<number, number>, links: readonly PartLink[]): Map<number, number> {
  const sum = new Map(onHand);
  for (const older of new Set(links.filter((l) => l.kind === 'superseded by' && l.approved).map((l) => l.partId))) {
    const left = onHand.get(older) ?? 0;
    const newest = newestOf(older, links);
    if (left > 0 && newest !== older) sum.set(newest, (sum.get(newest) ?? 0) + left);
  }
  return sum;
}

/**
 * What is wrong with a link among the others of the book, in words; null where nothing is. A number stands not for
 * itself, has one newer number, and none that leads back.
 */
export function linkFault(link: Pick<LinkRow, 'partId' | 'otherId' | 'kind'>, rest: readonly LinkRow[]): string | null {
  if (link.otherId === link.partId) return 'A part cannot stand for itself. Choose the other one.';
  if (link.kind !== 'superseded by') return null;
  if (rest.some((l) => l.partId === link.partId && l.kind === 'superseded by'))
    return 'A number has one that came after it. Put the chain at the parts it leads through.';
  return runsInRing(link, rest) ? 'That leads back to this number. One of the two is the newer.' : null;
}

/** Writes what stands for a part. @throws 422 at the line that leads in a ring or to nothing */
export async function writeLinks(tx: Tx, partId: number, links: NonNullable<Edit['links']>): Promise<void> {
  const ids = links.map((l) => l.otherId);
  const known = ids.length === 0 ? [] : await tx.select({ id: part.id }).from(part).where(among(part.id, ids));
  const rest = (await linksOf(tx)).filter((l) => l.partId !== partId);
  links.forEach((l, i) => {
    if (ids.indexOf(l.otherId) < i) throw faulty(`links.${i}.otherId`, 'This number stands here twice.');
    const before = links.slice(0, i).map((o) => ({ ...o, partId }));
    const fault = linkFault({ ...l, partId }, [...rest, ...before]);
    if (fault) throw faulty(`links.${i}.otherId`, fault);
    if (!known.some((k) => k.id === l.otherId)) throw faulty(`links.${i}.otherId`, 'Choose a part of the shelf list.');
  });
  await tx.delete(partLink).where(eq(partLink.partId, partId));
  if (links.length > 0) await tx.insert(partLink).values(links.map((l) => ({ ...l, partId })));
  for (const l of links) if (l.kind === 'superseded by' && l.approved) await fitsAsWell(tx, partId, l.otherId);
}

/** A newer number fits what the older does, unless somebody said what it fits. */
async function fitsAsWell(tx: Tx, olderId: number, newerId: number): Promise<void> {
  const own = await tx.select({ id: fitment.id }).from(fitment).where(eq(fitment.partId, newerId)).limit(1);
  if (own.length > 0) return;
  const older = await tx.select().from(fitment).where(eq(fitment.partId, olderId));
  if (older.length > 0) await tx.insert(fitment).values(older.map(({ id: _, ...f }) => ({ ...f, partId: newerId })));
}

/** Writes what is in a kit. @throws 422 at the line */
export async function writeContents(tx: Tx, kitId: number, contents: NonNullable<Edit['contents']>): Promise<void> {
  const ids = contents.map((c) => c.partId);
  const known = ids.length === 0 ? [] : await tx.select().from(part).where(among(part.id, ids));
  contents.forEach((c, i) => {
    const p = known.find((k) => k.id === c.partId);
    if (!p || c.partId === kitId) throw faulty(`contents.${i}.partId`, 'Choose another part of the shelf list.');
    if (ids.indexOf(c.partId) < i) throw faulty(`contents.${i}.partId`, 'This part stands here twice.');
    if (p.unit === 'each' && !Number.isInteger(c.quantity))
      throw faulty(`contents.${i}.quantity`, `${p.number} is counted in whole pieces.`);
  });
  await tx.delete(kitContent).where(eq(kitContent.kitId, kitId));
  if (contents.length > 0) await tx.insert(kitContent).values(contents.map((c) => ({ ...c, kitId })));
}

/** What a part's page shows of other numbers. */
export async function readLinks(db: Db, partId: number) {
  const [links, contents] = await Promise.all([
    db
      .select()
      .from(partLink)
      .where(or(eq(partLink.partId, partId), eq(partLink.otherId, partId))),
    db.select().from(kitContent).where(eq(kitContent.kitId, partId)),
  ]);
  const supersedes = links.filter((l) => l.otherId === partId && l.kind === 'superseded by').map((l) => l.partId);
  const named = [...contents.map((c) => c.partId), ...links.flatMap((l) => [l.partId, l.otherId])];
  const others =
    named.length === 0
      ? []
      : await db
          .select({ id: part.id, number: part.number, name: part.name, unit: part.unit })
          .from(part)
          .where(among(part.id, named));
  const fits =
    contents.length === 0
      ? []
      : await db
          .select({ modelId: fitment.modelId, n: countDistinct(fitment.partId) })
          .from(fitment)
          .where(
            inArray(
              fitment.partId,
              contents.map((c) => c.partId),
            ),
          )
          .groupBy(fitment.modelId)
          .orderBy(desc(countDistinct(fitment.partId)), asc(fitment.modelId));
  return {
    kitModels: fits.map((f) => f.modelId),
    links: links.filter((l) => l.partId === partId).map(({ partId: _, ...l }) => l),
    contents: contents.map(({ kitId: _, ...c }) => c),
    supersedes,
    others: others.filter((o) => o.id !== partId),
  };
}
