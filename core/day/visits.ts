import type { Position } from '../fleet/index.ts';
import { shortNames } from '../people/index.ts';
import { Board, hindrancesText, type PlannedVisit } from '../planner/index.ts';
import { ACCESS_MINUTES, accessOf, TASKS, type EngineWork, type TaskKind } from '../service/index.ts';
import {
  minutesText,
  secondMinutes,
  VISIT_SETUP_MINUTES,
  visitMinutes,
  type Step,
  type VisitTask,
} from '../visit/index.ts';
import type { DayVisit } from './types.ts';

/** A card as the day shows it. */
export interface CardOfDay {
  id: number;
  version: number;
  boatId: number;
  boatName: string;
  baseId: number;
  baseName: string;
  berth: string | null;
  status: 'open' | 'done' | 'cancelled';
  pinned: boolean;
  startMinute: number | null;
  /** When it was worked on this day, by its ticks, in minutes after midnight; null = nobody began. */
  worked: { from: number; to: number } | null;
  tasks: { engineId: number; task: TaskKind; position: Position; state: 'open' | 'done' | 'left' }[];
  works: EngineWork[];
}

/**
 * What keeps cards of the day from being done as they stand, by card.
 *
 * @param say the plan's names of tasks, parts and skills in words
 */
export function troublesOf(
  problem: ConstructorParameters<typeof Board>[0],
  standing: readonly (PlannedVisit & { jobId: number; started: boolean })[],
  names: ReadonlyMap<string, string>,
  say: (at: string) => string,
): Map<number, string> {
  const board = new Board(
    problem,
    standing.filter((v) => !v.started),
  );
  const called = shortNames(names);
  return new Map(
    board.refused.map(({ visit, why }) => {
      const text = hindrancesText(why, called.get(visit.technician) ?? 'this person', say);
      return [
        standing.find((s) => s.boat === visit.boat && s.day === visit.day && s.technician === visit.technician)
          ?.jobId ?? 0,
        text.charAt(0).toUpperCase() + text.slice(1),
      ];
    }),
  );
}

/** A card on somebody's line, with the minutes it takes this person; `steps`: as it was issued. */
export function visitOf(
  j: CardOfDay,
  {
    work,
    steps,
    pace,
    trouble,
    beside,
  }: { work: readonly VisitTask[]; steps: readonly Step[]; pace: number; trouble: string | null; beside: string[] },
): DayVisit {
  const planned = visitMinutes(work, pace);
  const { busy } = planned;
  // What is finished stands where it was, as long as it took.
  const elapsed = j.status === 'done' && j.worked ? j.worked.to - j.worked.from : planned.elapsed;
  // The longest drain begins when its engine is open; the order of steps comes with the card.
  const waitOf = (t: VisitTask) => t.wait ?? TASKS[t.task].wait;
  const longest = work.filter((t) => waitOf(t) > 0).sort((a, b) => waitOf(b) - waitOf(a))[0];
  const draining = longest && {
    wait: waitOf(longest),
    access: accessOf(longest.task, longest.engine?.facts.traits).filter((a) => a !== 'run'),
  };
  const opened = draining
    ? pace * (VISIT_SETUP_MINUTES + draining.access.reduce((sum, a) => sum + ACCESS_MINUTES[a], 0))
    : 0;
  return {
    jobId: j.id,
    version: j.version,
    boatId: j.boatId,
    boatName: j.boatName,
    baseId: j.baseId,
    baseName: j.baseName,
    berth: j.berth,
    status: j.status,
    pinned: j.pinned,
    start: j.worked?.from ?? j.startMinute,
    worked: j.worked !== null,
    minutes: elapsed,
    pause: null,
    hands: busy,
    drain: draining
      ? { from: Math.min(opened, Math.max(0, elapsed - draining.wait)), to: Math.min(elapsed, opened + draining.wait) }
      : null,
    needsLift: j.tasks.some((t) => TASKS[t.task].needsLift),
    secondMinutes: secondMinutes(steps),
    beside,
    tasks: j.tasks,
    works: j.works,
    trouble: j.status === 'open' ? trouble : null,
  };
}

/** When a visit that has its time is over, its break inside it counted. */
export const endOf = ({ start, minutes, pause }: Pick<DayVisit, 'start' | 'minutes' | 'pause'>): number =>
  (start ?? 0) + minutes + (pause ? pause.to - pause.from : 0);

/** What a visit wants of other people, in words; null = nothing. */
export function secondText({
  secondMinutes: minutes,
  beside,
}: Pick<DayVisit, 'secondMinutes' | 'beside'>): string | null {
  if (minutes === 0) return null;
  const who = beside.length === 0 ? 'nobody else is on the bench there that day' : `there: ${beside.join(', ')}`;
  return `two people for ${minutesText(minutes)}, ${who}`;
}
