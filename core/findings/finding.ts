import type { Day } from '../calendar/index.ts';
import type { ModelTraits } from '../fleet/index.ts';
import type { TaskKind } from '../service/index.ts';
import type { PrintedVolume } from '../units/index.ts';
import type { ReadingValue } from './readings.ts';

/** What a finding asks for. Nothing of it happens before a person says so. */
export type Proposal =
  /** Further work: now, once the one before it in the list is done, or in so many days. */
  | { kind: 'follow-up'; task: TaskKind; when: 'now' | 'after the one before' | number }
  /** The engine must not go out before these are in the service log and a person lets it go. */
  | { kind: 'hold'; checks: TaskKind[] }
  /** The task's interval on this boat is cut to so many percent. */
  | { kind: 'shorten'; task: TaskKind; percent: number }
  /** The task's parts are put on order for this engine; `what`: not all of them, this one. */
  | { kind: 'order'; task: TaskKind; what?: string | undefined };

export const WEIGHTS = ['normal', 'watch', 'act', 'hold', 'stop'] as const;
export type Weight = (typeof WEIGHTS)[number];

export interface Finding {
  /** Stable while its readings say the same: engine and code. */
  key: string;
  engineId: number;
  code: string;
  /** The readings it rests on. */
  from: string[];
  weight: Weight;
  /** What was seen, what it means, what is best done, each a sentence. */
  seen: string;
  means: string;
  does: string;
  proposals: Proposal[];
}

/** A reading of a card that is finished. */
export interface PastReading {
  /** As `readingKey` names it. */
  key: string;
  day: Day;
  /** Life hours of the engine then; null = nobody wrote them down. */
  hours: number | null;
  value: ReadingValue;
}

/** What the judgement of readings hangs on. */
export interface FindingEngine {
  id: number;
  cylinders: number;
  traits: ModelTraits;
  sump: PrintedVolume | null;
  gearCase: PrintedVolume | null;
  /** Nothing was changed in it before: a little swarf is normal then. */
  firstOil: boolean;
  /** Nobody knows that there is oil in it. */
  oilUnknown: boolean;
  /** What stands on this card for it. */
  planned: ReadonlySet<TaskKind>;
  /** What this card has done on it so far, at least begun: it is not proposed once more. */
  worked: ReadonlySet<TaskKind>;
  /** What was read of it on cards before this one, oldest first. */
  past: readonly PastReading[];
  /** The card's day, and the engine's life hours as last written down. */
  day: Day;
  hours: number | null;
}

export type Readings = Readonly<Record<string, ReadingValue>>;
