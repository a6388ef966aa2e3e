import { dayInZone } from '@diurna/core/calendar';
import { asc, eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { base } = tables;

export function baseHandlers(): Handlers<'listBases' | 'addBase' | 'editBase'> {
  return {
    async listBases({ db, now }) {
      const rows = await db.select().from(base).orderBy(asc(base.name)).limit(500);
      return rows.map((b) => ({ ...b, today: dayInZone(now, b.timeZone) }));
    },

    addBase: ({ body, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.insert(base).values(body).returning();
        await audit({ act: 'added', subject: 'base', subjectId: row!.id, title: row!.name, after: body });
        return { id: row!.id, version: row!.version };
      }),

    editBase: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, base, params.id, version, 'base');
        const [row] = await tx
          .update(base)
          .set({ ...rest, ...nextVersion(base) })
          .where(eq(base.id, params.id))
          .returning();
        await audit({ act: 'changed', subject: 'base', subjectId: row!.id, title: row!.name, before, after: rest });
        return { id: row!.id, version: row!.version };
      }),
  };
}
