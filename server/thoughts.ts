import { workOutDay } from './day/index.ts';
import type { Db } from './db/index.ts';
import { previewFile } from './exchange/index.ts';
import { readCover, readOrderBook } from './ordering/index.ts';
import { readBoard } from './planner/index.ts';
import { workOutRules } from './rules/index.ts';
import type { FleetCache } from './service/index.ts';
import { readBatteryRound, readSeason, readSeasonPlan } from './season/index.ts';
import { readWorth } from './stores/index.ts';
import type { Asked, Think, Thought, ThoughtName } from './think.ts';

/** What a thought is worked out from. */
interface Mind {
  db: Db;
  fleet: FleetCache;
}

const THOUGHTS: { [N in ThoughtName]: (mind: Mind, asked: Asked<N>) => Promise<Thought<N>> } = {
  warm: async ({ fleet }, { now }) => {
    await fleet.refresh(new Date(now));
    return {};
  },
  day: ({ db, fleet }, asked) => workOutDay(db, fleet, { ...asked, now: new Date(asked.now) }),
  board: ({ db, fleet }, { now, ...asked }) => readBoard(db, fleet, new Date(now), asked),
  orders: ({ db, fleet }, { now, ...asked }) => readOrderBook(db, fleet, new Date(now), asked),
  cover: ({ db, fleet }, { now, ...asked }) => readCover(db, fleet, new Date(now), asked),
  worth: ({ db }, { now, baseId }) => readWorth(db, new Date(now), { baseId }),
  'battery round': ({ db, fleet }, { now, baseId }) => readBatteryRound(db, fleet, baseId, new Date(now)),
  season: ({ db, fleet }, { now, baseId }) => readSeason(db, fleet, baseId, new Date(now)),
  campaign: ({ db, fleet }, { now, ...asked }) => readSeasonPlan(db, fleet, new Date(now), asked),
  rules: ({ db, fleet }, { now, change }) => workOutRules(db, fleet, new Date(now), change),
  file: ({ db }, asked) => previewFile(db, { ...asked, now: new Date(asked.now) }),
};

/** Works thoughts out here. */
export const thinkHere =
  (mind: Mind): Think =>
  (name, asked) =>
    THOUGHTS[name](mind, asked);
