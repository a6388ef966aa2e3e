import { and, asc, eq, isNull, lte } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import type { FleetMemory } from '../service/index.ts';
import { acceptPlan } from './accept.ts';
import { readBoard } from './board.ts';

export { readBoard, todayOfBook } from './board.ts';
export { dayAt, readYard } from './facts.ts';

const { notice } = tables;
type Names = 'readBoard' | 'acceptPlan' | 'listNotices' | 'readNotices';

export function plannerHandlers(memory: FleetMemory): Handlers<Names> {
  return {
    readBoard: ({ db, query }) => readBoard(db, memory, { from: query.from, days: query.days, baseId: query.baseId ?? null }),

    acceptPlan: ({ body, write, who }) => write((tx, audit) => acceptPlan(tx, audit, body, who, memory.now())),

    async listNotices({ db, who }) {
      const rows = await db.select().from(notice).where(and(eq(notice.personId, who.id), isNull(notice.readAt))).orderBy(asc(notice.id)).limit(200);
      return rows.map((n) => ({ id: n.id, at: n.at.toISOString(), text: n.text, jobId: n.jobId }));
    },

    readNotices: ({ body, write, who }) =>
      write(async (tx) => {
        await tx.update(notice).set({ readAt: memory.now() }).where(and(eq(notice.personId, who.id), isNull(notice.readAt), lte(notice.id, body.upTo)));
        return { ok: true as const };
      }),
  };
}
