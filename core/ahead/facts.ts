import type { Day } from '../calendar/index.ts';
import { POSITIONS, type ModelTraits, type Position, type Transom } from '../fleet/index.ts';
import type { HireSpan } from '../hires/index.ts';
import type {
  BreakInState,
  Deferral,
  Due,
  FollowUp,
  LastDone,
  OilWatch,
  TimesDone,
  ProgrammeRule,
  RuleInForce,
  RuleOverride,
  Stroke,
  TaskKind,
} from '../service/index.ts';
import type { BoatForecast, BoatUse, ReadingSeries } from '../usage/index.ts';

/** What the due dates of one engine are made of. */
export interface EngineFacts {
  id: number;
  serial: string;
  transom: Transom | null;
  position: Position;
  boatId: number;
  boatName: string;
  baseId: number;
  timeZone: string;
  hemisphere: 'north' | 'south';
  sand: boolean;
  salt: boolean;
  modelId: number;
  modelName: string;
  stroke: Stroke;
  cylinders: number;
  meterId: number | null;
  meterOffset: number;
  inServiceOn: Day | null;
  boughtNew: boolean;
  lifeHours: number | null;
  lastReadDay: Day | null;
  hoursPerWeek: number | null;
  /** The last reading of each week in life hours, as far back as habits are learned. */
  readings: ReadingSeries;
  lastDone: Map<TaskKind, LastDone>;
  /** How often each task was done; null = nothing is known of its past. */
  times: TimesDone;
  rules: RuleInForce[];
  /** What the rules in force were made of, for looking at changes. */
  programme: ProgrammeRule[];
  overrides: RuleOverride[];
  openJobs: Map<TaskKind, OpenJob>;
  traits: ModelTraits;
  /** Why it must not go out, one line each; what nobody has decided yet counts. */
  held: string[];
  /** Work asked for besides the programme that can be done now. */
  followUps: FollowUp[];
  /** Work that waits for other work of the engine, which would undo it. */
  waits: ReadonlyMap<TaskKind, TaskKind>;
  /** What was put off and has not come back or been done. */
  deferrals: Deferral[];
  /** How far a new engine is run in; null = it is over, or it was never new here. */
  runIn: BreakInState | null;
  /** It was found to use oil; null = it was not. */
  oilWatch: OilWatch | null;
}

/** The card a task stands on. */
export interface OpenJob {
  id: number;
  day: Day;
  technician: string;
}

/** A boat with engines, its hires that are not cancelled, and how its engines will run. */
export interface BoatFacts {
  id: number;
  engines: EngineFacts[];
  hires: HireSpan[];
  /** Those of them that end at or after that instant (ms): years are kept for habits, most looks want these. */
  recent: { from: number; hires: readonly HireSpan[] };
  use: BoatUse;
  forecast: BoatForecast | null;
  /** What the time of standing wants of its engines now, by engine; worked out when the boat is read. */
  seasonWork: ReadonlyMap<number, readonly SeasonWork[]>;
  /** All that the time of standing still wants of it, now or later. */
  seasonAhead: readonly SeasonAhead[];
  /** Why it must not go out before its recommission is done, as a sentence; null = nothing of the season keeps it. */
  notReady: string | null;
  /** The first day of its base's next season; null = nobody entered one, or it never closes. */
  opensOn: Day | null;
}

/** A piece of work of a season that is still to be done: some time between these days. */
export interface SeasonAhead {
  engineId: number;
  task: TaskKind;
  from: Day;
  by: Day;
}

/** Work of lay-up or recommission that can be done now: by when, and why. */
export interface SeasonWork {
  task: TaskKind;
  by: Day;
  why: string;
}

/** A task of an engine with its rule and when it falls due. */
export interface EngineDue {
  facts: EngineFacts;
  rule: RuleInForce;
  due: Due;
  /** Why it is wanted besides the programme, whichever of the two counts; left out = it is not. */
  asked?: string;
  /** It was put off: how it would stand otherwise. */
  deferral?: Deferral & { otherwise: Due };
}

/** Numbers in names count as numbers: Tern 2 comes before Tern 10. */
export const names = new Intl.Collator('en', { numeric: true });

/** Boats by name, engines from port to starboard. */
export function byBoat(a: EngineFacts, b: EngineFacts): number {
  return (
    names.compare(a.boatName, b.boatName) ||
    POSITIONS.indexOf(a.position) - POSITIONS.indexOf(b.position) ||
    a.id - b.id
  );
}
