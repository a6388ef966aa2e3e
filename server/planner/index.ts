import { and, asc, eq, isNull, lte } from 'drizzle-orm';
import { poolOf, tables } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import { shared, textOf } from '../http/shared.ts';
import type { FleetCache } from '../service/index.ts';
import type { Think } from '../think.ts';
import { acceptPlan } from './accept.ts';
import { streamPlan } from './run-plan.ts';

export { outlineOf, readBoard, todayOfBook } from './board.ts';
export { planSettingsHandlers } from './settings.ts';
export { readYard, type YardBook } from './facts.ts';

const { notice } = tables;
type Names = 'readBoard' | 'computePlan' | 'acceptPlan' | 'listNotices' | 'readNotices';

export function plannerHandlers(fleet: FleetCache, think: Think): Handlers<Names> {
  return {
    readBoard({ db, query, now }) {
      const baseId = query.baseId ?? null;
      const minute = Math.floor(now.getTime() / 60_000);
      return whileUnchanged(db, `board ${query.from ?? 'today'} ${query.days} ${baseId ?? 'all'} ${minute}`, async () =>
        shared(await think('board', { now: now.getTime(), from: query.from, days: query.days, baseId })),
      );
    },

    async computePlan({ db, body, res, log, now }) {
      const { firstDay, days, baseId, standing, pins, fresh, seconds } = body;
      const board = textOf(await think('board', { now: now.getTime(), from: firstDay, days, baseId }));
      await streamPlan(res, { board, standing, pins, fresh, seconds }, poolOf(db), log);
      return null;
    },

    acceptPlan: ({ body, write, who, now }) => write((tx, audit) => acceptPlan(tx, fleet, audit, body, who, now)),

    async listNotices({ db, who }) {
      const rows = await db
        .select()
        .from(notice)
        .where(and(eq(notice.personId, who.id), isNull(notice.readAt)))
        .orderBy(asc(notice.id))
        .limit(200);
      return rows.map((n) => ({ id: n.id, at: n.at.toISOString(), text: n.text, jobId: n.jobId }));
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
}
