import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';

const { person, personException } = tables;

export const exceptionHandlers: Handlers<'addException' | 'removeException'> = {
  addException: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const [who] = await tx.select().from(person).where(eq(person.id, params.id));
      if (!who) throw notFound('person');
      const [row] = await tx
        .insert(personException)
        .values({ personId: params.id, ...body, reason: body.reason || null })
        .returning();
      await audit({ act: 'added', subject: 'work', subjectId: params.id, title: who.name, after: body });
      return { id: row!.id };
    }),

  removeException: ({ params, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx.delete(personException).where(eq(personException.id, params.id)).returning();
      if (!row) throw notFound('entry');
      await audit({ act: 'taken back', subject: 'work', subjectId: row.personId, before: row });
      return { ok: true as const };
    }),
};
