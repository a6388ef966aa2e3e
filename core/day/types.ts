import type { EngineDue } from '../ahead/index.ts';
import type { Day } from '../calendar/index.ts';
import type { Position } from '../fleet/index.ts';
import type { PlannedVisit, YardFacts } from '../planner/index.ts';
import type { DueState, EngineWork, TaskKind } from '../service/index.ts';

/** A card on a person's line of the day. Minutes after midnight at the base. */
export interface DayVisit {
  jobId: number;
  version: number;
  boatId: number;
  boatName: string;
  baseId: number;
  baseName: string;
  berth: string | null;
  status: 'open' | 'done' | 'cancelled';
  pinned: boolean;
  /** Null = it found no time beside the rest. */
  start: number | null;
  /** Begun or finished: it stands where it was. */
  worked: boolean;
  minutes: number;
  /** The person's break, where it lies inside: the visit is over that much later. */
  pause: { from: number; to: number } | null;
  hands: number;
  /** Unattended minutes, from the visit's start. */
  drain: { from: number; to: number } | null;
  needsLift: boolean;
  /** Minutes a second person is wanted for; 0 = none. */
  secondMinutes: number;
  /** Who else is on the bench at its base that day. */
  beside: string[];
  tasks: { engineId: number; task: TaskKind; position: Position; state: 'open' | 'done' | 'left' }[];
  /** The work of each engine in the yard's words. */
  works: EngineWork[];
  /** Why it cannot be done as it stands. */
  trouble: string | null;
}

/** Somebody of the yard with the cards of the day. */
export interface DayPerson {
  id: number;
  name: string;
  visits: DayVisit[];
}

/** A boat that goes out or comes back, and whether it may. */
export interface DayBoat {
  boatId: number;
  boatName: string;
  baseId: number;
  berth: string | null;
  way: 'out' | 'back';
  /** Minutes after midnight of the day; beyond 1440 = the next day. */
  at: number;
  state: 'held' | 'ready' | 'work first' | 'over' | 'hours wanted' | 'fine' | 'gone';
  text: string;
}

/** A task of the next days; the words for its limit are found when they are told. */
export interface BoardTask {
  engineId: number;
  position: Position;
  due: EngineDue['due'];
  likely: Day | null;
}

/** The yard of the next days as a plan is made from it, what stands on it, and the names to tell it by. */
export interface PlanBoard {
  firstDay: Day;
  days: number;
  yard: YardFacts;
  standing: (PlannedVisit & { jobId: number; version: number; started: boolean })[];
  /** By boat; hires out and back in minutes from the first day's midnight at its base. */
  boats: Record<string, { name: string; baseId: number; classKey: string; held: string[]; hires: [number, number][] }>;
  people: Record<string, { name: string }>;
  bases: Record<string, { name: string }>;
  /** By the plan's names for them. */
  tasks: ReadonlyMap<string, BoardTask>;
  parts: Record<string, { partId: number; name: string; unit: 'each' | 'mL' }>;
}

type TaskOfEngine = { engineId: number; task: TaskKind };
interface Where {
  day: Day;
  technicianId: number;
  startMinute: number | null;
}

/** What one click does. */
export type DayAct =
  | ({ kind: 'move'; jobId: number; version: number; tasks: TaskOfEngine[] } & Where)
  | ({ kind: 'add'; boatId: number; tasks: TaskOfEngine[] } & Where)
  | { kind: 'call off'; jobId: number; version: number }
  | { kind: 'order'; partId: number; baseId: number; quantity: number; day: Day }
  | { kind: 'stand in'; hireId: number; version: number; boatId: number }
  | { kind: 'message'; text: string }
  | { kind: 'look'; to: string }
  | { kind: 'leave' };

/** In the order they are shown. */
export const MATTER_GROUPS = [
  'held',
  'going out',
  'cards',
  'hires',
  'findings',
  'parts',
  'readings',
  'calendars',
] as const;
export type MatterGroup = (typeof MATTER_GROUPS)[number];

/** A matter that needs a person, with what can be done about it and what that costs. */
export interface Matter {
  key: string;
  group: MatterGroup;
  /** What leaving it costs against the best that can be done, in units of money; null = nobody can say. */
  waiting: number | null;
  weight: 'now' | 'soon';
  title: string;
  text: string;
  state: DueState | null;
  options: {
    label: string;
    /** Against things as they stand, in units of money; null = nobody can say. */
    cost: number | null;
    act: DayAct;
  }[];
}

/** An engine that is held, with the checks it still wants. */
export interface HeldEngine {
  id: number;
  engineId: number;
  boatId: number;
  boatName: string;
  position: Position;
  why: string;
  missing: TaskKind[];
}

/** A hire of a held boat that has not begun. */
export interface HireAhead {
  id: number;
  version: number;
  boatId: number;
  /** Minutes from the board's first midnight at the base. */
  out: number;
  back: number;
  reference: string | null;
}

/** A finding that would hold an engine, which nobody has decided. */
export interface UndecidedHold {
  id: number;
  jobId: number;
  boatId: number;
  boatName: string;
  position: Position;
  seen: string;
  does: string;
}

/** A part that should have come. */
export interface LatePart {
  id: number;
  partId: number;
  name: string;
  quantity: string;
  baseName: string;
  day: Day;
}

/** A calendar of hires that could not be read. */
export interface FailedCalendar {
  id: number;
  name: string;
  outcome: string;
}

/** Engines whose meters were not read for long, and findings nobody has decided that do not hold a boat. */
export interface Unread {
  engines: number;
  /** Some of them by name. */
  names: readonly string[];
}
export interface WaitingFinding {
  jobId: number;
  boatName: string;
  seen: string;
}

/** A card of a day gone by that nobody finished. */
export interface OldCard {
  id: number;
  version: number;
  boatId: number;
  boatName: string;
  day: Day;
  technician: string;
  tasks: { engineId: number; task: TaskKind; state: 'open' | 'done' | 'left' }[];
}
