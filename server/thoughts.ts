import type { DayReply } from '@diurna/contract/day';
import type { FileKind, ImportResult } from '@diurna/contract/exchange';
import type { BoardReply } from '@diurna/contract/planner';
import type { RuleChange, RulePreview } from '@diurna/contract/rules';
import type { Day } from '@diurna/core/calendar';
import { workOutDay } from './day/index.ts';
import type { Db } from './db/index.ts';
import { previewFile } from './exchange/index.ts';
import { readBoard } from './planner/index.ts';
import { workOutRules } from './rules/index.ts';
import type { FleetCache } from './service/index.ts';

/** What a thought is worked out from. */
export interface Mind {
  db: Db;
  fleet: FleetCache;
}

/** What takes long to work out of the whole fleet; arguments are plain values, `now` in ms since 1970. */
export const THOUGHTS = {
  /** Only brings the cache up to date, so that the first who asks does not wait for it. */
  warm: async ({ fleet }: Mind, { now }: { now: number }) => {
    await fleet.refresh(new Date(now));
    return {};
  },
  day: ({ db, fleet }: Mind, asked: { now: number; today: Day; mayDecide: boolean; day: Day; baseId: number | null }) =>
    workOutDay(db, fleet, { ...asked, now: new Date(asked.now) }),
  board: (
    { db, fleet }: Mind,
    { now, ...asked }: { now: number; from: Day | undefined; days: number; baseId: number | null },
  ) => readBoard(db, fleet, new Date(now), asked),
  rules: ({ db, fleet }: Mind, { now, change }: { now: number; change: RuleChange }) =>
    workOutRules(db, fleet, new Date(now), change),
  file: ({ db }: Mind, asked: { now: number; kind: FileKind; text: string; personId: number }) =>
    previewFile(db, { ...asked, now: new Date(asked.now) }),
};

/** What may take many seconds: it is worked out apart from what people wait for all day. */
export const LONG: readonly ThoughtName[] = ['rules', 'file'];

interface Thoughts {
  warm: object;
  day: DayReply;
  board: BoardReply;
  rules: RulePreview;
  file: ImportResult;
}
export type ThoughtName = keyof Thoughts & keyof typeof THOUGHTS;
export type Asked<N extends ThoughtName> = Parameters<(typeof THOUGHTS)[N]>[1];

/** Works thoughts out, here or in a thread beside the loop; what comes back is sent as it is. */
export type Think = <N extends ThoughtName>(name: N, asked: Asked<N>) => Promise<Thoughts[N]>;

/** Works thoughts out here. */
export const thinkHere =
  (mind: Mind): Think =>
  async <N extends ThoughtName>(name: N, asked: Asked<N>) => {
    const thought = THOUGHTS[name] as unknown as (mind: Mind, asked: Asked<N>) => Promise<Thoughts[N]>;
    return thought(mind, asked);
  };
