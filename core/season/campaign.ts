import type { Day } from '../calendar/index.ts';
import { traitsOf, type BuiltEngine, type ModelTraits } from '../fleet/index.ts';
import {
  answerTo,
  taskApplies,
  TASKS,
  type SchoolChoices,
  type SchoolKey,
  type Stroke,
  type TaskKind,
} from '../service/index.ts';

/**
 * When work of a season is done: before the last hire or outing, after it, and when boats are brought out again.
 */
export const SEASON_VISITS = ['before', 'after', 'spring'] as const;
export type SeasonVisit = (typeof SEASON_VISITS)[number];
/** What people call them. */
export const VISIT_WORDS: Readonly<Record<SeasonVisit, string>> = {
  before: 'before the last hire',
  after: 'lay-up',
  spring: 'recommission',
};

/** A piece of the season's work at one engine, and why it is on the list. */
export interface SeasonItem {
  visit: SeasonVisit;
  task: TaskKind;
  because: string;
}
/** What is not on the list, and why not. */
export interface LeftOut {
  task: TaskKind;
  because: string;
}

/** What somebody decided for one engine in one time of standing. */
export interface SeasonChange {
  task: TaskKind;
  /** Left out of the list, or added to it at that visit. */
  visit: SeasonVisit | null;
  reason: string;
}

export interface SeasonList {
  items: SeasonItem[];
  leftOut: LeftOut[];
}

/** Where the engine stands: whether frost comes there while it does. */
export interface Climate {
  frost: boolean;
}

/** What of an engine's build shapes its list. */
export interface SeasonEngine {
  stroke: Stroke;
  traits: Pick<ModelTraits, 'induction' | 'drainsPoorly' | 'recoil'>;
}

type Ask = (school: SchoolKey) => string;
interface Engine {
  built: SeasonEngine;
  frost: boolean;
  answer: Ask;
}
/** On the list at a visit, or not; each with its reason. */
type Verdict = [SeasonVisit, string] | [null, string];

const always =
  (visit: SeasonVisit, because: string): ((engine: Engine) => Verdict) =>
  () => [visit, because];

const oil = ({ built, answer }: Engine): Verdict =>
  built.stroke === 2
    ? [null, 'a two-stroke has no sump']
    : answer('last oil') === 'before'
      ? ['before', 'clean oil is carried round once before it stands']
      : ['after', 'the yard changes it at lay-up, then runs it shortly'];

/**
 * Every piece of work of a season in the order of the work, and when it is done or why not. Common practice, no source;
 * the engine maker's manual outranks it.
 */
const WORK: [TaskKind, (engine: Engine) => Verdict][] = [
  ['engine-oil', oil],
  ['oil-filter', oil],
  ['stabiliser', always('before', 'treated fuel has to be run through before it stands')],
  ['flush', always('after', 'salt and sand go before they dry')],
  ['second-dose', always('after', 'a full tank draws no damp; what is added is treated too')],
  ['gear-lube', always('after', 'water in it freezes and cracks the case; found now, there are months for the repair')],
  ['anodes', always('after', 'looked at while the leg is up')],
  ['grease', always('after', 'old grease does not sit')],
  ['prop-shaft', always('after', 'fishing line cuts the seal while it stands')],
  ['steering-rod', always('after', 'drawn in, or it corrodes fast')],
  [
    'fogging',
    ({ built, answer }) =>
      built.stroke === 2
        ? ['after', 'a two-stroke keeps no film of oil']
        : answer('fogging') === 'all'
          ? ['after', 'the yard fogs every engine']
          : [null, 'a four-stroke keeps its film of oil'],
  ],
  [
    'bowls',
    ({ built }) =>
      built.traits.induction === 'carburettor'
        ? ['after', 'what stands in a bowl gums, stabiliser or not']
        : [null, 'it has no carburettor'],
  ],
  [
    'antifreeze',
    ({ built, frost, answer }) =>
      answer('antifreeze') === 'never'
        ? [null, 'the yard never uses it']
        : !frost
          ? [null, 'no frost comes while it stands']
          : built.traits.drainsPoorly
            ? ['after', 'frost comes, and it drains poorly']
            : [null, 'stored upright it drains by itself'],
  ],
  [
    'battery',
    ({ built }) => (built.traits.recoil ? [null, 'it is started by its rope'] : ['after', 'isolated, out and charged']),
  ],
  ['hull', always('after', 'dry inside, bungs out, covered; once for the boat')],
  [
    'battery-check',
    ({ built }) =>
      built.traits.recoil ? [null, 'it is started by its rope'] : ['spring', 'months pass by a battery too'],
  ],
  [
    'oil-level',
    ({ built }) =>
      built.stroke === 2 ? [null, 'a two-stroke has no sump'] : ['spring', 'read before it is started at all'],
  ],
  ['look-over', always('spring', 'hoses, nests and corrosion under the cowl')],
  ['spring-run', always('spring', 'stream, shift and idle before a customer finds out')],
];

/**
 * What an engine gets in one time of standing: at which visit, why, and what is left out for which reason. What
 * somebody
 * decided for this engine outranks the list.
 */
export function seasonList(
  built: SeasonEngine,
  choices: SchoolChoices,
  { frost }: Climate,
  changes: readonly SeasonChange[] = [],
): SeasonList {
  const answer: Ask = (school) => answerTo(school, choices).key;
  const list: SeasonList = { items: [], leftOut: [] };
  for (const [task, verdict] of WORK) {
    const change = changes.find((c) => c.task === task);
    const [visit, because] = change ? [change.visit, change.reason] : verdict({ built, frost, answer });
    if (visit === null) list.leftOut.push({ task, because });
    else if (taskApplies(task, built.stroke)) list.items.push({ visit, task, because });
  }
  const known = new Set(WORK.map(([task]) => task));
  for (const { task, visit, reason } of changes)
    if (visit !== null && !known.has(task) && taskApplies(task, built.stroke))
      list.items.push({ visit, task, because: reason });
  return list;
}

/** What is done at an engine at one visit of a season, in the order of the work; frost comes where nobody says else. */
export function tasksAt(
  visit: SeasonVisit,
  built: BuiltEngine,
  choices: SchoolChoices,
  climate: Climate = { frost: true },
): TaskKind[] {
  const { items } = seasonList({ stroke: built.stroke, traits: traitsOf(built) }, choices, climate);
  return items.flatMap((i) => (i.visit === visit ? [i.task] : []));
}

/** Whether a task can be put on an engine's list of a season by hand. */
export const mayBeAdded = (task: TaskKind): boolean => TASKS[task].group !== 'repair';

/** Work of the boat, not of each of its engines: it stands on the list of the first one. */
export const ofTheBoat = (task: TaskKind): boolean => task === 'hull';

/** An engine that has not run for longer than this stood through a season. Common practice, no source. */
const STOOD_DAYS = 400;

/**
 * What an engine gets besides in spring that stood for longer than a season: its old fuel out and the fuel's way looked
 * through before anything is started. Common practice, no source.
 *
 * @param days since it last ran; null = nobody knows
 */
export function afterStanding(days: number | null): SeasonChange[] {
  if (days === null || days < STOOD_DAYS) return [];
  const reason = `it stood for ${days < 700 ? 'more than a year' : `${Math.floor(days / 365)} years`}: old fuel out and the fuel’s way looked through before any start`;
  return (['tank-check', 'fuel-filter'] as const).map((task) => ({ task, visit: 'spring', reason }));
}

/** When the work of a visit counts as this season's: done on that day or later. */
export interface VisitFrom {
  before: Day;
  after: Day;
  spring: Day;
}
