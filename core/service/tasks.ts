/**
 * The kinds of service work, with the minutes of one practised technician.
 * Common practice, no source; the engine maker's manual outranks all of it.
 */
export const TASK_KINDS = [
  'engine-oil',
  'oil-filter',
  'gear-lube',
  'spark-plugs',
  'impeller',
] as const;
export type TaskKind = (typeof TASK_KINDS)[number];

/** What must be opened or taken off first; opened once and shared by all tasks of a visit that need it. */
export const ACCESS_KINDS = ['cowl', 'tilt', 'lower unit'] as const;
export type AccessKind = (typeof ACCESS_KINDS)[number];

/** Minutes to open and close again. */
export const ACCESS_MINUTES: Record<AccessKind, number> = { cowl: 8, tilt: 5, 'lower unit': 45 };

/** What a person must be able to do beyond everyday work, in the words of the yard. */
export const SKILLS = ['lower units'] as const;
export type Skill = (typeof SKILLS)[number];

export interface TaskInfo {
  /** The word of the yard. */
  word: string;
  /** Minutes of work at one engine; per cylinder where `perCylinder` is set. */
  handsOn: number;
  perCylinder: boolean;
  /** Unattended minutes, such as draining. */
  wait: number;
  access: readonly AccessKind[];
  /** The volume of the model that this task fills, where it fills one. */
  fills: 'sump' | 'gear case' | null;
  /** Two-strokes have no sump: these tasks are for four-strokes only. */
  fourStrokeOnly: boolean;
  needsLift: boolean;
  skills: readonly Skill[];
  /** What a day past the limit is taken to cost, in units of money, on average over all that do run over: an estimate, weighed by the book's setting. */
  riskPerDay: number;
  /** The usual caution at this step. */
  caution: string;
}

export const TASKS: Record<TaskKind, TaskInfo> = {
  'engine-oil': {
    word: 'Engine oil',
    handsOn: 25,
    perCylinder: false,
    wait: 20,
    access: ['cowl'],
    fills: 'sump',
    fourStrokeOnly: true,
    needsLift: false,
    skills: [],
    riskPerDay: 9,
    caution:
      'Hot oil: gloves. Never run the engine without cooling water, and only outdoors. Read the level again after the run.',
  },
  'oil-filter': {
    word: 'Oil filter',
    handsOn: 10,
    perCylinder: false,
    wait: 0,
    access: ['cowl'],
    fills: null,
    fourStrokeOnly: true,
    needsLift: false,
    skills: [],
    riskPerDay: 4,
    caution: 'Start the thread by hand. Old filter and rags go to their own waste.',
  },
  'gear-lube': {
    word: 'Gear lube',
    handsOn: 20,
    perCylinder: false,
    wait: 18,
    access: ['tilt'],
    fills: 'gear case',
    fourStrokeOnly: false,
    needsLift: false,
    skills: [],
    riskPerDay: 8,
    caution:
      'Kill-switch lanyard off and battery isolated before hands go near the propeller. Count the old gaskets out.',
  },
  'spark-plugs': {
    word: 'Spark plugs',
    handsOn: 5,
    perCylinder: true,
    wait: 0,
    access: ['cowl'],
    fills: null,
    fourStrokeOnly: false,
    needsLift: false,
    skills: [],
    riskPerDay: 3,
    caution: 'Lanyard off before cranking with plugs out. Start threads by hand; do not over-tighten into aluminium.',
  },
  impeller: {
    word: 'Impeller',
    handsOn: 50,
    perCylinder: false,
    wait: 0,
    access: ['tilt', 'lower unit'],
    fills: null,
    fourStrokeOnly: false,
    needsLift: true,
    skills: ['lower units'],
    riskPerDay: 16,
    caution:
      'The lower unit is a two-person lift: one bolt stays in until it is held. Lanyard off, battery isolated.',
  },
};

/** The line that stands under every caution. */
export const MANUAL_FIRST = 'Follow the engine maker’s manual, your local codes and licensed practice.';

export type Stroke = 2 | 4;

/** Whether an engine of that stroke has this task at all. */
export function taskApplies(kind: TaskKind, stroke: Stroke): boolean {
  return stroke === 4 || !TASKS[kind].fourStrokeOnly;
}

/** Hands-on minutes of the task at one engine. */
export function handsOnMinutes(kind: TaskKind, cylinders: number): number {
  const task = TASKS[kind];
  return task.perCylinder ? task.handsOn * cylinders : task.handsOn;
}
