import type { Position } from '../fleet/index.ts';
import type { ServiceRule } from './due.ts';
import { TASKS, type TaskKind } from './tasks.ts';

/** A list of work a yard calls by one name: "100 h service". */
export interface NamedService {
  /** "100 h", "12 months", "first". */
  key: string;
  /** "100 h service". */
  word: string;
  /** In the order of the task list. */
  tasks: readonly TaskKind[];
}

type Limits = Pick<ServiceRule, 'task' | 'everyHours' | 'everyMonths' | 'firstHours'>;

/** A ladder is named as far as its big service; beyond six rungs it only repeats itself. */
const MOST_RUNGS = 6;
/** Work that comes round more often than this is a look in between, and makes no service. */
const LEAST_HOURS = 75;

/**
 * The named services that a programme makes: one at every rung of its hours up to the longest of them, the yearly one,
 * and the first of a new engine. A rung takes all whose limit comes before the next rung, so nothing runs over in
 * between. What is a part of other work of the same list is left out.
 *
 * @param rules those in force for an engine, or a model's programme
 */
export function namedServices(rules: readonly Limits[]): NamedService[] {
  const hours = rules.flatMap((r) => (r.everyHours !== null && r.everyHours >= LEAST_HOURS ? [r.everyHours] : []));
  const services: NamedService[] = [];
  const add = (key: string, word: string, of: (rule: Limits) => boolean) => {
    const tasks = rules.filter(of).map((r) => r.task);
    const whole = tasks.filter((t) => !(t === 'oil-level' && tasks.includes('engine-oil')));
    if (whole.length > 1) services.push({ key, word, tasks: whole });
  };
  const first = rules.flatMap((r) => r.firstHours ?? [])[0];
  if (first !== undefined) add('first', `first service, at ${first} h`, (r) => r.firstHours != null);
  const step = stepOf(hours);
  if (step !== null) {
    const top = Math.max(...hours);
    for (let n = 1; n <= MOST_RUNGS && (n - 1) * step < top; n++) {
      const [from, to] = [n * step, (n + 1) * step];
      add(
        `${from} h`,
        `${from} h service`,
        (r) => r.everyHours !== null && Math.ceil(from / r.everyHours - 1e-9) * r.everyHours < to - 1e-9,
      );
    }
  }
  const months = rules.flatMap((r) => r.everyMonths ?? []);
  if (months.length > 0) add('yearly', 'yearly service', (r) => r.everyMonths !== null && r.everyMonths <= 12);
  return services;
}

/** The rungs stand as far apart as most tasks want; of two equal crowds the shorter. Null without hours. */
function stepOf(hours: readonly number[]): number | null {
  const crowd = new Map<number, number>();
  for (const h of hours) crowd.set(h, (crowd.get(h) ?? 0) + 1);
  const [first] = [...crowd].sort(([a, n], [b, m]) => m - n || a - b);
  return first?.[0] ?? null;
}

/** The largest named service that these tasks hold whole; null = none. Of two as large, the first in the list. */
export function serviceOf(tasks: Iterable<TaskKind>, services: readonly NamedService[]): NamedService | null {
  const has = new Set(tasks);
  let found: NamedService | null = null;
  for (const s of services)
    if (s.tasks.every((t) => has.has(t)) && s.tasks.length > (found?.tasks.length ?? 0)) found = s;
  return found;
}

/**
 * The work of one engine in the yard's words: "300 h service", "100 h service and anodes", "100 h service and 3 more";
 * without a whole service each task by its own name.
 */
export function workName(tasks: readonly TaskKind[], services: readonly NamedService[]): string {
  const service = serviceOf(tasks, services);
  const rest = tasks.filter((t) => !service?.tasks.includes(t));
  const words = rest.map((t, i) => (i === 0 && service === null ? TASKS[t].word : TASKS[t].word.toLowerCase()));
  if (service === null) return words.join(', ');
  if (rest.length === 0) return service.word;
  return rest.length <= 2 ? `${service.word}, ${words.join(' and ')}` : `${service.word} and ${rest.length} more`;
}

/** What is done at one engine of a visit, in the yard's words. */
export interface EngineWork {
  engineId: number;
  position: Position;
  word: string;
}

/** The work of each engine of a visit, in the order of the tasks. */
export function worksOf(
  tasks: readonly { engineId: number; task: TaskKind; position: Position }[],
  servicesOf: (engineId: number) => readonly NamedService[],
): EngineWork[] {
  return [...new Set(tasks.map((t) => t.engineId))].map((engineId) => {
    const own = tasks.filter((t) => t.engineId === engineId);
    return {
      engineId,
      position: own[0]!.position,
      word: workName(
        own.map((t) => t.task),
        servicesOf(engineId),
      ),
    };
  });
}

/** "port + starboard: 100 h service; kicker: anodes"; one engine alone is not named. */
export function worksText(works: readonly EngineWork[]): string {
  if (works.length === 1) return works[0]!.word;
  const words = [...new Set(works.map((w) => w.word))];
  return words
    .map((word) => {
      const at = works.filter((w) => w.word === word).map((w) => w.position);
      return `${at.map((p) => (p === 'single' ? 'main' : p)).join(' + ')}: ${word}`;
    })
    .join('; ');
}
