import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { notFound, stale } from '../http/problem.ts';

const { base, baseSeason } = tables;

/** When a base closes and opens. */
export const yearHandlers: Handlers<'editBaseSeason'> = {
  editBaseSeason: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { version, ...rest } = body;
      const [place] = await tx.select().from(base).where(eq(base.id, params.id)).for('update');
      if (!place) throw notFound('base');
      const [before] = await tx.select().from(baseSeason).where(eq(baseSeason.baseId, params.id));
      if ((before?.version ?? 0) !== version) throw stale('season');
      const [row] = await tx
        .insert(baseSeason)
        .values({ baseId: params.id, ...rest })
        .onConflictDoUpdate({ target: baseSeason.baseId, set: { ...rest, version: version + 1 } })
        .returning({ version: baseSeason.version });
      await audit({
        act: 'changed',
        subject: 'season',
        subjectId: params.id,
        title: place.name,
        ...(before && { before }),
        after: rest,
      });
      return { version: row!.version };
    }),
};
