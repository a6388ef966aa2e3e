import { and, eq } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, notFound } from '../http/problem.ts';

const { shelfPlace, part, base } = tables;

/** Where these parts lie at a base, by part; a part with no place is not in it. */
export async function placesAt(db: Db | Tx, baseId: number, partIds: readonly number[]): Promise<Map<number, string>> {
  if (partIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(shelfPlace)
    .where(and(eq(shelfPlace.baseId, baseId), among(shelfPlace.partId, partIds)));
  return new Map(rows.map((r) => [r.partId, r.place]));
}

/** Puts a part's place down, or takes it away with null. */
export async function keepPlace(tx: Tx, partId: number, baseId: number, place: string | null): Promise<void> {
  if (place === null)
    await tx.delete(shelfPlace).where(and(eq(shelfPlace.partId, partId), eq(shelfPlace.baseId, baseId)));
  else
    await tx
      .insert(shelfPlace)
      .values({ partId, baseId, place })
      .onConflictDoUpdate({ target: [shelfPlace.partId, shelfPlace.baseId], set: { place } });
}

export const placeHandlers: Handlers<'putPlace'> = {
  putPlace: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const [found] = await tx.select().from(part).where(eq(part.id, params.id)).for('update');
      if (!found) throw notFound('part');
      const [where] = await tx.select().from(base).where(eq(base.id, body.baseId));
      if (!where) throw faulty('baseId', 'Choose a base.');
      const before = (await placesAt(tx, body.baseId, [params.id])).get(params.id) ?? null;
      await keepPlace(tx, params.id, body.baseId, body.place);
      await audit({
        act: 'changed',
        subject: 'part',
        subjectId: params.id,
        title: found.number,
        before: { base: where.name, place: before },
        after: { base: where.name, place: body.place },
      });
      return { ok: true as const };
    }),
};
