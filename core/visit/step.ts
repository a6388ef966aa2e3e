import type { ReadingKind } from '../findings/index.ts';
import type { TaskKind } from '../service/index.ts';
import type { Fact, Need, Turns } from './state/facts.ts';
import type { Torque } from '../fleet/index.ts';
import type { Gate, Stance } from './template.ts';

/** One thing a technician does, in the words of the yard. */
export interface Step {
  id: string;
  /** Null = of the whole visit. */
  engineId: number | null;
  task: TaskKind | null;
  text: string;
  /** Tools and hints. */
  detail: string | null;
  /** Minutes of hands. */
  minutes: number;
  /** Of those, minutes the engine runs: as long whoever stands beside it. */
  running: number;
  /** Minutes that then pass by themselves: draining, settling. */
  wait: number;
  /** Steps that have to be over before, their waiting too; `... started` = their hands only. */
  after: string[];
  /** How the engine has to stand; null = as it stands. */
  stance: Stance | null;
  /** Done soon after the warm run, before the engine cools. */
  warm: boolean;
  /** Takes a second pair of hands. */
  twoPeople: boolean;
  /** Confirmed by a person, one by one, before the boat goes back on hire. */
  gate: Gate | null;
  /** Shown at the step, where the work can hurt someone or the engine. */
  caution: string | null;
  torque: Torque | null;
  /** What to take in hand, in words with the model's size. */
  tools: readonly string[];
  /** The size of the tool that has to be exact, in mm; null = none, or the manual has it. */
  toolMm: number | null;
  /** What is seen or measured here. */
  readings: readonly ReadingKind[];
  /** The parts of its task are shown here. */
  parts: boolean;
  /** What it opens on its engine, and what it closes. */
  opens: readonly Fact[];
  closes: readonly Fact[];
  /** What has to be whole, or open, while it is done; besides what running or cranking needs. */
  needs: readonly Need[];
  /** It runs the engine, or cranks it. */
  turns: Turns | null;
}
