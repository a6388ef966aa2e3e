import type { DayReply } from '@diurna/contract/day';
import type { FileKind, ImportResult } from '@diurna/contract/exchange';
import type { OrderBook, ShelfCover } from '@diurna/contract/ordering';
import type { BoardReply } from '@diurna/contract/planner';
import type { RuleChange, RulePreview } from '@diurna/contract/rules';
import type { BatteryRound } from '@diurna/contract/batteries';
import type { SeasonPlan } from '@diurna/contract/season-plan';
import type { SeasonRoom } from '@diurna/contract/season';
import type { StoreWorth } from '@diurna/contract/stores';
import type { Day, DayOrder } from '@diurna/core/calendar';

/**
 * What takes long to work out of the whole fleet: what is asked, in plain values, and what it gives. `now` in ms since
 * 1970.
 */
interface Thoughts {
  /** Only brings the cache up to date, so that the first who asks does not wait for it. */
  warm: { asked: { now: number }; gives: object };
  day: { asked: { now: number; today: Day; mayDecide: boolean; day: Day; baseId: number | null }; gives: DayReply };
  board: { asked: { now: number; from: Day | undefined; days: number; baseId: number | null }; gives: BoardReply };
  orders: { asked: { now: number; baseId: number; days: number }; gives: OrderBook };
  worth: { asked: { now: number; baseId: number | null }; gives: StoreWorth };
  cover: { asked: { now: number; baseId: number; days: number }; gives: ShelfCover };
  rules: { asked: { now: number; change: RuleChange }; gives: RulePreview };
  'battery round': { asked: { now: number; baseId: number }; gives: BatteryRound };
  season: { asked: { now: number; baseId: number }; gives: SeasonRoom };
  campaign: { asked: { now: number; baseId: number; share: number }; gives: SeasonPlan };
  file: {
    asked: {
      now: number;
      kind: FileKind;
      text: string;
      days?: DayOrder | undefined;
      supplierId?: number | undefined;
      match?: string | undefined;
      personId: number;
    };
    gives: ImportResult;
  };
}
export type ThoughtName = keyof Thoughts;
export type Asked<N extends ThoughtName> = Thoughts[N]['asked'];
export type Thought<N extends ThoughtName> = Thoughts[N]['gives'];

/** What may take many seconds: it is worked out apart from what people wait for all day. */
export const LONG: readonly ThoughtName[] = ['orders', 'rules', 'file', 'campaign'];

/** Works thoughts out, here or in a thread beside the loop; what comes back is sent as it is. */
export type Think = <N extends ThoughtName>(name: N, asked: Asked<N>) => Promise<Thought<N>>;
