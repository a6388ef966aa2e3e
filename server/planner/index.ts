import { poolOf } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import { shared, textOf } from '../http/shared.ts';
import type { FleetCache } from '../service/index.ts';
import type { Think } from '../think.ts';
import { acceptPlan, lookAtPlan } from './accept.ts';
import { streamPlan } from './run-plan.ts';

export { outlineOf, readBoard, todayOfBook } from './board.ts';
export { planSettingsHandlers } from './settings.ts';
export { readYard, type YardBook } from './facts.ts';

type Names = 'readBoard' | 'computePlan' | 'lookAtPlan' | 'acceptPlan';

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

    lookAtPlan: ({ db, body, who, now }) => lookAtPlan(db, fleet, body, who, now),

    acceptPlan: ({ body, write, who, now }) => write((tx, audit) => acceptPlan(tx, fleet, audit, body, who, now)),
  };
}
