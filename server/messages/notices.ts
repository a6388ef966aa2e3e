import { and, asc, eq, isNull, lte } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';

const { notice } = tables;

/** What somebody was told in the book, until it is put away. */
export const noticeHandlers: Handlers<'listNotices' | 'readNotices'> = {
  async listNotices({ db, who }) {
    const rows = await db
      .select()
      .from(notice)
      .where(and(eq(notice.personId, who.id), isNull(notice.readAt)))
      .orderBy(asc(notice.id))
      .limit(200);
    return rows.map(({ id, at, kind, text, jobId }) => ({ id, at: at.toISOString(), kind, text, jobId }));
  },

  readNotices: ({ body, write, who, now }) =>
    write(async (tx) => {
      await tx
        .update(notice)
        .set({ readAt: now })
        .where(and(eq(notice.personId, who.id), isNull(notice.readAt), lte(notice.id, body.upTo)));
      return { ok: true as const };
    }),
};
