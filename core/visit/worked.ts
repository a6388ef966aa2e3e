import type { PrintedVolume } from '../units/index.ts';
import type { TimesDone } from '../service/index.ts';
import type { VisitTask } from './minutes.ts';
import type { BuiltEngine } from '../fleet/index.ts';

/**
 * What a finished card was worked by, as it was then: the steps it shows ten years on are those that were
 * ticked, whatever was learned since of the model, the engine or the minutes.
 */
export interface WorkedBy {
  pace: number;
  /** By engine. */
  engines: Record<
    string,
    {
      model: BuiltEngine;
      unknownHistory: boolean;
      /** How often its work had been done; left out on cards from before it was counted. */
      times?: TimesDone;
      sump: PrintedVolume | null;
      gearCase: PrintedVolume | null;
    }
  >;
  /** Hands-on minutes by "engine task". */
  hands: Record<string, number>;
  /** Unattended minutes by "engine task"; left out on cards from before they were learned. */
  waits?: Record<string, number>;
}

/** The minutes of a card's tasks as they are kept with it. */
export const handsOf = (tasks: readonly VisitTask[]): WorkedBy['hands'] =>
  Object.fromEntries(tasks.flatMap((t) => (t.hands === undefined ? [] : [[`${t.engineId} ${t.task}`, t.hands]])));

/** The same of what drains by itself. */
export const waitsOf = (tasks: readonly VisitTask[]): NonNullable<WorkedBy['waits']> =>
  Object.fromEntries(tasks.flatMap((t) => (t.wait === undefined ? [] : [[`${t.engineId} ${t.task}`, t.wait]])));
