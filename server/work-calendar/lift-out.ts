import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';

const { liftOut } = tables;

export const liftOutHandlers: Handlers<'addLiftOut' | 'removeLiftOut'> = {
  addLiftOut: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx
        .insert(liftOut)
        .values({ baseId: params.id, ...body })
        .returning();
      await audit({ act: 'added', subject: 'lift', subjectId: row!.id, title: body.reason, after: row });
      return { id: row!.id };
    }),

  removeLiftOut: ({ params, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx.delete(liftOut).where(eq(liftOut.id, params.id)).returning();
      if (!row) throw notFound('entry');
      await audit({ act: 'taken back', subject: 'lift', subjectId: row.id, title: row.reason, before: row });
      return { ok: true as const };
    }),
};
