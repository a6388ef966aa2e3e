import type { ModelTraits } from '../fleet/index.ts';

/**
 * The kinds of service work, with the minutes of one practised technician.
 * Common practice, no source; the engine maker's manual outranks all of it.
 */
export const TASK_KINDS = [
  'engine-oil',
  'oil-filter',
  'fuel-filter',
  'separator',
  'gear-lube',
  'spark-plugs',
  'impeller',
  'thermostat',
  'anodes',
  'grease',
  'prop-shaft',
  'compression',
  'look-over',
  'first-outing',
  'oil-level',
  'battery-check',
  'running-in',
  // What findings ask for.
  'gear-seals',
  'gear-inspection',
  'fuel-repair',
  'leak-down',
  'oil-trace',
  'oil-pressure',
  'passages',
  'bonding',
  'tank-check',
  // Of the season.
  'flush',
  'stabiliser',
  'fogging',
  'bowls',
  'antifreeze',
  'steering-rod',
  'battery',
  'second-dose',
  'spring-run',
  'hull',
] as const;
export type TaskKind = (typeof TASK_KINDS)[number];

/** Routine service by interval; repair and testing that a finding asks for; work of lay-up and recommission. */
export const TASK_GROUPS = ['service', 'repair', 'season'] as const;
export type TaskGroup = (typeof TASK_GROUPS)[number];

/** What must be opened or taken off first; opened once and shared by all tasks of a visit that need it. */
export const ACCESS_KINDS = ['cowl', 'side cover', 'tilt', 'propeller', 'lower unit', 'run'] as const;
export type AccessKind = (typeof ACCESS_KINDS)[number];

/**
 * Minutes to open and close again; `run` is the run on cooling water after the work with its look for leaks, once for
 * the engine.
 */
export const ACCESS_MINUTES: Record<AccessKind, number> = {
  cowl: 8,
  'side cover': 15,
  tilt: 5,
  propeller: 12,
  'lower unit': 45,
  run: 7,
};

/** A run, warming up too, takes its five minutes whoever stands beside it. Common practice, no source. */
export const RUN_MINUTES = 5;

/** What a person must be able to do beyond everyday work, in the words of the yard. */
export const SKILLS = ['lower units'] as const;
export type Skill = (typeof SKILLS)[number];

export interface TaskInfo {
  /** The word of the yard. */
  word: string;
  group: TaskGroup;
  /** Minutes of work at one engine; per cylinder where `perCylinder` is set. */
  handsOn: number;
  perCylinder: boolean;
  /** Of its hands, minutes the engine runs: as long whoever stands beside it. */
  running: number;
  /** Unattended minutes, such as draining. */
  wait: number;
  access: readonly AccessKind[];
  /** The volume this task fills, where it fills one: of the model, or the dose for the boat's tank. */
  fills: 'sump' | 'gear case' | 'tank' | null;
  /** Two-strokes have no sump: these tasks are for four-strokes only. */
  fourStrokeOnly: boolean;
  twoStrokeOnly: boolean;
  needsLift: boolean;
  skills: readonly Skill[];
  /** Takes parts or fluids from the shelf: where no fitment says which, a person has to. */
  usesParts: boolean;
  /**
   * What a day past the limit is taken to cost, in units of money, on average over all that do run over: an estimate,
   * weighed by the book's setting.
   */
  riskPerDay: number;
  /** The usual caution at this step. */
  caution: string;
}

/** Most tasks: no unattended minutes, nothing filled, both strokes, no lift, no particular skill. */
function task(
  word: string,
  handsOn: number,
  riskPerDay: number,
  caution: string,
  more: Partial<TaskInfo> = {},
): TaskInfo {
  return {
    word,
    group: 'service',
    handsOn,
    perCylinder: false,
    running: 0,
    wait: 0,
    access: [],
    fills: null,
    fourStrokeOnly: false,
    twoStrokeOnly: false,
    needsLift: false,
    skills: [],
    usesParts: false,
    riskPerDay,
    caution,
    ...more,
  };
}

const LANYARD = 'Kill-switch lanyard off and battery isolated before hands go near the propeller.';
const FUEL = 'Fuel vapour: no flame, no spark, battery isolated, in the open.';
const RUN = 'Never run the engine without cooling water, and only outdoors; nobody near the propeller.';

export const TASKS: Record<TaskKind, TaskInfo> = {
  'engine-oil': task(
    'Engine oil',
    25,
    9,
    'Hot oil: gloves. Never run the engine without cooling water, and only outdoors. Read the level again after the run.',
    { running: RUN_MINUTES, wait: 20, access: ['cowl', 'run'], fills: 'sump', fourStrokeOnly: true, usesParts: true },
  ),
  'oil-filter': task('Oil filter', 10, 4, 'Start the thread by hand. Old filter and rags go to their own waste.', {
    access: ['cowl', 'run'],
    fourStrokeOnly: true,
    usesParts: true,
  }),
  'fuel-filter': task('Fuel filter', 12, 4, FUEL, { access: ['cowl'], usesParts: true }),
  separator: task('Fuel separator', 12, 4, FUEL, { usesParts: true }),
  'gear-lube': task('Gear lube', 20, 8, `${LANYARD} Count the old gaskets out.`, {
    wait: 18,
    access: ['tilt'],
    fills: 'gear case',
    usesParts: true,
  }),
  'spark-plugs': task(
    'Spark plugs',
    5,
    3,
    'Lanyard off before cranking with plugs out. Start threads by hand; do not over-tighten into aluminium.',
    { perCylinder: true, access: ['cowl'], usesParts: true },
  ),
  impeller: task(
    'Impeller',
    50,
    16,
    'The lower unit is a two-person lift: one bolt stays in until it is held. Lanyard off, battery isolated.',
    { access: ['tilt', 'lower unit', 'run'], needsLift: true, skills: ['lower units'], usesParts: true },
  ),
  thermostat: task('Thermostat', 25, 3, 'Let the engine cool: hot water under the cover.', {
    access: ['cowl', 'run'],
    usesParts: true,
  }),
  anodes: task('Anodes', 15, 2, LANYARD, { access: ['tilt'] }),
  grease: task('Grease points', 12, 2, 'Keep fingers out of the bracket while the leg moves.'),
  'prop-shaft': task('Propeller shaft', 12, 3, LANYARD, { access: ['propeller'] }),
  compression: task(
    'Compression',
    6,
    3,
    'Lanyard off: no spark while plugs are out. Do not crank longer than the maker allows.',
    { perCylinder: true, access: ['cowl'] },
  ),
  'look-over': task('Look-over', 5, 1, 'Engine off, lanyard off while hands are under the cowl.', { access: ['cowl'] }),
  'first-outing': task('First-outing check', 5, 4, 'Engine off and let cool a little: hot parts under the cowl.', {
    access: ['cowl'],
  }),
  'oil-level': task('Oil level', 4, 2, 'Engine off and cold; wipe up what drips.', { fourStrokeOnly: true }),
  'battery-check': task('Battery looked at', 8, 2, 'No spark near a battery: negative off first, on last.'),
  'running-in': task(
    'Running in',
    20,
    6,
    'On the water: kill-switch lanyard on whoever steers, cooling stream watched from the start, nobody near the propeller.',
  ),
  'gear-seals': task('Gear-case seals', 60, 20, `${LANYARD} Let the pressure off before anything is opened.`, {
    group: 'repair',
    access: ['tilt', 'propeller'],
    needsLift: true,
    skills: ['lower units'],
  }),
  'gear-inspection': task(
    'Gears looked into',
    75,
    20,
    'The lower unit is a two-person lift: one bolt stays in until it is held.',
    { group: 'repair', access: ['tilt', 'lower unit'], needsLift: true, skills: ['lower units'] },
  ),
  'fuel-repair': task('Fuel-system repair', 60, 20, FUEL, { group: 'repair', access: ['cowl', 'run'] }),
  'leak-down': task(
    'Leak-down test',
    10,
    8,
    'The crank can turn under air pressure: lanyard off, propeller free, nobody near it.',
    { group: 'repair', perCylinder: true, access: ['cowl'] },
  ),
  'oil-trace': task('Metal traced', 45, 15, 'Hot oil and sharp edges: gloves.', {
    group: 'repair',
    access: ['cowl'],
    fourStrokeOnly: true,
  }),
  'oil-pressure': task('Oil pressure measured', 30, 20, RUN, {
    group: 'repair',
    access: ['cowl'],
    fourStrokeOnly: true,
  }),
  passages: task('Cooling passages', 40, 15, RUN, {
    group: 'repair',
    access: ['cowl', 'tilt', 'lower unit', 'run'],
    needsLift: true,
    skills: ['lower units'],
  }),
  bonding: task('Bonding looked at', 20, 2, 'Battery isolated before cables are loosened.', { group: 'repair' }),
  'tank-check': task('Tank and fuel', 30, 6, FUEL, { group: 'repair' }),
  flush: task('Flush and rinse', 15, 2, RUN, { group: 'season', wait: 5 }),
  stabiliser: task('Fuel stabiliser', 6, 2, FUEL, { group: 'season', access: ['run'], fills: 'tank' }),
  fogging: task('Fogging', 15, 2, `${RUN} Plugs and leads go straight back.`, { group: 'season', access: ['cowl'] }),
  bowls: task('Carburettor bowls', 15, 2, `${FUEL} Battery off before a bowl is opened.`, {
    group: 'season',
    access: ['cowl'],
  }),
  antifreeze: task('Antifreeze', 20, 2, `${RUN} Only after the oil is in, and with the thermostat open and hot.`, {
    group: 'season',
  }),
  'steering-rod': task('Steering rod', 12, 2, 'Keep fingers out of the bracket while the rod moves.', {
    group: 'season',
  }),
  battery: task('Battery', 10, 2, 'Negative off first, on last; no spark near a battery on charge.', {
    group: 'season',
  }),
  'second-dose': task('Filled, second dose', 10, 2, FUEL, { group: 'season' }),
  'spring-run': task('First run of the year', 12, 6, RUN, { group: 'season', access: ['cowl', 'run'] }),
  hull: task(
    'Hull and cover',
    30,
    1,
    'Bungs come out only where the boat stands ashore; two people for a large cover.',
    { group: 'season' },
  ),
};

/** How the old part was when it was renewed, where somebody looked. */
export const OLD_PART = ['sound', 'spent'] as const;
/** Parts whose condition is looked at when they are renewed. */
export const LOOKED_AT = [
  'impeller',
  'spark-plugs',
  'thermostat',
  'fuel-filter',
  'anodes',
] as const satisfies TaskKind[];

/** Whether somebody looks at the old part when this is done. */
export const isLookedAt = (task: TaskKind): boolean => (LOOKED_AT as readonly TaskKind[]).includes(task);

/** The line that stands under every caution. */
export const MANUAL_FIRST = 'Follow the engine maker’s manual, your local codes and licensed practice.';

export type Stroke = 2 | 4;

/** Whether an engine of that stroke has this task at all. */
export function taskApplies(kind: TaskKind, stroke: Stroke): boolean {
  return stroke === 4 ? !TASKS[kind].twoStrokeOnly : !TASKS[kind].fourStrokeOnly;
}

/**
 * What has to be opened for a task on an engine so built: a big engine's side cover for its oil, the propeller
 * where it blocks the gear-case screws.
 */
export function accessOf(
  kind: TaskKind,
  traits?: Pick<ModelTraits, 'sideCover' | 'gearNeedsPropOff'>,
): readonly AccessKind[] {
  const { access } = TASKS[kind];
  if (kind === 'engine-oil' && traits?.sideCover) return [...access, 'side cover'];
  if (kind === 'gear-lube' && traits?.gearNeedsPropOff) return [...access, 'propeller'];
  return access;
}

/** Hands-on minutes of the task at one engine. */
export function handsOnMinutes(kind: TaskKind, cylinders: number): number {
  const task = TASKS[kind];
  return task.perCylinder ? task.handsOn * cylinders : task.handsOn;
}
