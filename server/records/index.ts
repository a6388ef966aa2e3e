import { and, count, desc, eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { namesIn } from './names.ts';

const { audit, person } = tables;

export const recordsHandlers: Handlers<'audit'> = {
  async audit({ db, query }) {
    const where = and(
      query.subject ? eq(audit.subject, query.subject) : undefined,
      query.subjectId ? eq(audit.subjectId, query.subjectId) : undefined,
      query.personId ? eq(audit.personId, query.personId) : undefined,
    );
    const [rows, [total]] = await Promise.all([
      db
        .select({
          id: audit.id,
          at: audit.at,
          person: person.name,
          act: audit.act,
          subject: audit.subject,
          subjectId: audit.subjectId,
          title: audit.title,
          before: audit.before,
          after: audit.after,
        })
        .from(audit)
        .leftJoin(person, eq(person.id, audit.personId))
        .where(where)
        .orderBy(desc(audit.id))
        .limit(query.size)
        .offset((query.page - 1) * query.size),
      db.select({ n: count() }).from(audit).where(where),
    ]);
    return {
      rows: rows.map((r) => ({ ...r, at: r.at.toISOString() })),
      names: await namesIn(db, rows),
      total: total!.n,
      page: query.page,
      size: query.size,
    };
  },
};
