import { SEASON_END, type ServiceRule } from './due.ts';
import { answerTo, schoolOf, type SchoolChoices, type SchoolKey } from './schools.ts';
import type { TaskKind } from './tasks.ts';

/**
 * Whose figures a model's rule has: the engine maker's, the yard's own, or the usual ones until somebody enters better.
 */
export const RULE_BASES = ['usual', 'own', 'maker'] as const;
export type RuleBasis = (typeof RULE_BASES)[number];

export interface ProgrammeRule extends Omit<ServiceRule, 'anchor'> {
  basis: RuleBasis;
  /** Besides its interval, done at every season's end. */
  seasonEnd?: boolean;
  /**
   * Where the boat works in sand and shallows, its hours are this percentage of the usual; null or left out =
   * SAND_PERCENT for the pump, else 100.
   */
  sandPercent?: number | null;
  /**
   * Where the boat lies in salt water, its months are this percentage of the usual, whole months, at least one; null or
   * left out = 100.
   */
  saltPercent?: number | null;
}

/** Where an override holds; the nearer to the engine, the stronger. */
export const OVERRIDE_SCOPES = ['base', 'boat', 'engine'] as const;
export type OverrideScope = (typeof OVERRIDE_SCOPES)[number];

export interface RuleOverride {
  id: number;
  scope: OverrideScope;
  task: TaskKind;
  everyHours: number | null;
  everyMonths: number | null;
  reason: string;
  author: string | null;
}

/** Why a rule is as it is. */
export type RuleSource =
  | { is: RuleBasis }
  | { is: 'school'; school: SchoolKey; answer: string }
  /** Asked for by a finding or after a service, besides the programme. */
  | { is: 'asked'; why: string }
  | { is: 'override'; id: number; scope: OverrideScope; reason: string; author: string | null };

export interface RuleInForce extends ServiceRule {
  source: RuleSource;
  /** The hours were shortened to this share, because the boat works in sand; null = not. */
  shortened: number | null;
  /** The months were shortened to this share, because it lies in salt water; null = not. */
  shortenedMonths: number | null;
}

/** The rule of a task that is not in the programme: none, until somebody asks for it. */
export const noRule = (task: TaskKind): RuleInForce => ({
  task,
  everyHours: null,
  everyMonths: null,
  source: { is: 'own' },
  shortened: null,
  shortenedMonths: null,
});

/** Where an engine is, as far as its rules hang on it. */
export interface EnginePlace {
  /** Of its base: seasons end half a year apart. */
  hemisphere: 'north' | 'south';
  /** Its boat works in sand and shallows. */
  sand: boolean;
  /** Its boat lies in salt water. */
  salt?: boolean;
}

const ANYWHERE: EnginePlace = { hemisphere: 'north', sand: false };

/** Sand eats a pump in half the hours. Common practice, no source. */
export const SAND_PERCENT: Partial<Record<TaskKind, number>> = { impeller: 50 };

const STRENGTH: Record<OverrideScope, number> = { base: 1, boat: 2, engine: 3 };
const FIRST_OIL = new Set<TaskKind>(['engine-oil', 'oil-filter']);

/**
 * The rule that holds for one task of one engine: the override nearest to the engine, else the school where
 * the model has only the usual figures, else the model's programme. The first oil change and the way of
 * counting are asked of the schools in every case.
 *
 * @param overrides those of this engine, its boat and its base, for any task
 */
export function ruleInForce(
  programme: ProgrammeRule,
  choices: SchoolChoices,
  overrides: readonly RuleOverride[],
  place: EnginePlace = ANYWHERE,
): RuleInForce {
  const { task } = programme;
  const counting = answerTo('counting', choices).key === 'ladder' ? ('ladder' as const) : ('rolling' as const);
  const first = FIRST_OIL.has(task) ? firstHours(choices) : null;
  const shared = {
    task,
    counting,
    firstHours: first,
    anchor: programme.seasonEnd ? seasonAnchor(task, choices, place) : null,
    earlyPercent: programme.earlyPercent ?? null,
    latePercent: programme.latePercent ?? null,
  };
  const nearest = overrides.filter((o) => o.task === task).sort((a, b) => STRENGTH[b.scope] - STRENGTH[a.scope])[0];
  if (nearest) {
    const { id, scope, reason, author, everyHours, everyMonths } = nearest;
    // Who sets a rule for a boat knows where it works.
    return {
      ...shared,
      everyHours,
      everyMonths,
      shortened: null,
      shortenedMonths: null,
      source: { is: 'override', id, scope, reason, author },
    };
  }
  const bySchool = programme.basis === 'usual' ? limitsOf(task, choices) : null;
  const limits = bySchool?.limits ?? programme;
  const shortened =
    limits.everyHours === null || !place.sand ? null : shareOf(programme.sandPercent ?? SAND_PERCENT[task]);
  const shortenedMonths = limits.everyMonths === null || !place.salt ? null : shareOf(programme.saltPercent);
  return {
    ...shared,
    shortened,
    shortenedMonths,
    everyHours: shortened === null ? limits.everyHours : limits.everyHours! * shortened,
    everyMonths:
      shortenedMonths === null ? limits.everyMonths : Math.max(1, Math.floor(limits.everyMonths! * shortenedMonths)),
    source: bySchool ? { is: 'school', school: bySchool.school, answer: bySchool.answer } : { is: programme.basis },
  };
}

/** Oil is changed before the last outing or at lay-up; a fortnight lies between. Common practice, no source. */
const BEFORE_LAST_OUTING = { north: '10-17', south: '04-16' } as const;

function seasonAnchor(task: TaskKind, choices: SchoolChoices, { hemisphere }: EnginePlace): string {
  const before = FIRST_OIL.has(task) && answerTo('last oil', choices).key === 'before';
  return before ? BEFORE_LAST_OUTING[hemisphere] : SEASON_END[hemisphere];
}

/** Null where nothing is shortened. */
const shareOf = (percent: number | null | undefined) => (percent == null || percent >= 100 ? null : percent / 100);

function firstHours(choices: SchoolChoices): number | null {
  const { key } = answerTo('first oil', choices);
  return key === '10 h' ? 10 : key === '20 h' ? 20 : null;
}

const LIMITS: Partial<Record<SchoolKey, Record<string, { everyHours: number | null; everyMonths: number | null }>>> = {
  impeller: {
    '12 months or 200 h': { everyHours: 200, everyMonths: 12 },
    '24 months': { everyHours: null, everyMonths: 24 },
    '300 h': { everyHours: 300, everyMonths: null },
    // Somebody has to look: once a year, the unit off.
    'by inspection': { everyHours: null, everyMonths: 12 },
  },
  plugs: {
    '100 h': { everyHours: 100, everyMonths: null },
    yearly: { everyHours: null, everyMonths: 12 },
    '300 h': { everyHours: 300, everyMonths: null },
  },
};
const SCHOOL_OF_TASK: Partial<Record<TaskKind, SchoolKey>> = { impeller: 'impeller', 'spark-plugs': 'plugs' };

function limitsOf(task: TaskKind, choices: SchoolChoices) {
  if (task === 'gear-lube') {
    const answer = answerTo('gear lube visit', choices).key;
    // With the unit off: as often as the pump is done.
    const limits = LIMITS.impeller![answerTo('impeller', choices).key];
    return answer === 'with unit' && limits ? { school: 'gear lube visit' as const, answer, limits } : null;
  }
  const school = SCHOOL_OF_TASK[task];
  if (!school) return null;
  const answer = answerTo(school, choices).key;
  const limits = LIMITS[school]?.[answer];
  return limits ? { school, answer, limits } : null;
}

/** The tasks whose due dates an answer to this question can move. */
export function tasksOfSchool(school: SchoolKey, all: readonly TaskKind[]): TaskKind[] {
  if (school === 'counting') return [...all];
  if (school === 'last oil') return all.filter((t) => FIRST_OIL.has(t));
  if (school === 'gear lube visit') return all.filter((t) => t === 'gear-lube');
  if (school === 'first oil') return all.filter((t) => FIRST_OIL.has(t));
  return all.filter((t) => SCHOOL_OF_TASK[t] === school);
}

/** Where the interval comes from, as a sentence. */
export function sourceText(
  { source, shortened, shortenedMonths }: Pick<RuleInForce, 'source' | 'shortened' | 'shortenedMonths'>,
  modelName: string,
): string {
  const sand =
    shortened === null
      ? ''
      : ` Its hours are ${shortened === 0.5 ? 'halved' : `shortened to ${Math.round(shortened * 100)} %`}, because the boat works in sand and shallows.`;
  const salt =
    shortenedMonths === null
      ? ''
      : ` Its months are shortened to ${Math.round(shortenedMonths * 100)} %, because the boat lies in salt water.`;
  return `${plainSource(source, modelName)}${sand}${salt}`;
}

function plainSource(source: RuleSource, modelName: string): string {
  if (source.is === 'asked') return `Asked for besides the programme: ${source.why}`;
  if (source.is === 'override')
    return `Set for this ${source.scope}${source.author ? ` by ${source.author}` : ''}: ${source.reason}. The engine maker’s manual outranks it.`;
  if (source.is === 'school') {
    const { question, options } = schoolOf(source.school);
    return `From the rules: “${question}” is answered “${options.find((o) => o.key === source.answer)?.word.toLowerCase() ?? source.answer}”. The engine maker’s manual outranks it.`;
  }
  if (source.is === 'maker') return `The maker’s limit for the ${modelName}.`;
  return `${source.is === 'own' ? 'The yard’s own figure' : 'The usual figure'} in the programme of the ${modelName}. The engine maker’s manual outranks it.`;
}

/**
 * The maker's limits a new programme would pass: tasks whose hours or months get longer, that may run later, or that
 * are left out.
 */
export function makersLimitsPassed(
  before: readonly Pick<ProgrammeRule, 'task' | 'everyHours' | 'everyMonths' | 'basis' | 'latePercent'>[],
  after: readonly Pick<ProgrammeRule, 'task' | 'everyHours' | 'everyMonths' | 'latePercent'>[],
): TaskKind[] {
  const longer = (was: number | null, is: number | null) => was !== null && (is === null || is > was);
  return before
    .filter((b) => b.basis === 'maker')
    .filter((b) => {
      const a = after.find((r) => r.task === b.task);
      return (
        a === undefined ||
        longer(b.everyHours, a.everyHours) ||
        longer(b.everyMonths, a.everyMonths) ||
        (a.latePercent ?? 0) > (b.latePercent ?? 0)
      );
    })
    .map((b) => b.task);
}
