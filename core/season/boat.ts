import type { EngineFacts, OpenJob } from '../ahead/index.ts';
import { addDays, dayNumber, type Day } from '../calendar/index.ts';
import type { SchoolChoices, TaskKind } from '../service/index.ts';
import type { Position } from '../fleet/index.ts';
import {
  afterStanding,
  ofTheBoat,
  SEASON_VISITS,
  seasonList,
  type Climate,
  type LeftOut,
  type SeasonChange,
  type SeasonVisit,
} from './campaign.ts';
import { countsFrom, doneOn } from './progress.ts';
import { phaseOf, type OffSeason } from './season.ts';

/** A piece of the season's work on a boat, and how it stands. */
export interface SeasonTask {
  engineId: number;
  position: Position;
  task: TaskKind;
  because: string;
  doneOn: Day | null;
  job: OpenJob | null;
}

/** A boat in its time of standing. */
export interface SeasonBoat {
  visits: { visit: SeasonVisit; tasks: SeasonTask[]; open: number; done: number }[];
  leftOut: (LeftOut & { engineId: number; position: Position })[];
  /** The last day of its lay-up, of its recommission; null while something is open. */
  laidUpOn: Day | null;
  readyOn: Day | null;
  next: SeasonVisit | null;
  /** What has to be known before the next visit. */
  note: string | null;
}

/** What decides about a boat's season besides its engines. */
export interface BoatInSeason {
  engines: readonly EngineFacts[];
  staysOut: boolean;
  /** Its last hire before the closing; null = none is left. */
  last: { out: Day; back: Day } | null;
}

/**
 * What a boat gets in a time of standing, what of it is done, and which visit comes next. Without a hire left, or where
 * it went out without them, oil and first dose go in at lay-up and a run of five minutes carries them through.
 */
export function seasonBoat(
  { engines, staysOut, last }: BoatInSeason,
  off: OffSeason,
  climate: Climate,
  choices: SchoolChoices,
  changesOf: (engineId: number) => readonly SeasonChange[],
  today: Day,
): SeasonBoat {
  if (staysOut)
    return {
      visits: [],
      leftOut: [],
      laidUpOn: null,
      readyOn: null,
      next: null,
      note: 'It stays out: calendar work only.',
    };
  const from = countsFrom(off, last?.back ?? null);
  const lists = engines.map((e, i) => {
    const changes = changesOf(e.id);
    // What a person decided about it outranks it.
    const stood = afterStanding(stoodFor(e, today)).filter((s) => !changes.some((c) => c.task === s.task));
    const list = seasonList(e, choices, climate, [...changes, ...stood]);
    return { e, ...list, items: i === 0 ? list.items : list.items.filter((item) => !ofTheBoat(item.task)) };
  });
  const visits = SEASON_VISITS.map((visit) => {
    const tasks = lists.flatMap(({ e, items }) =>
      items
        .filter((i) => i.visit === visit)
        .map(({ task, because }): SeasonTask => {
          const done = doneOn({ visit, task }, e.lastDone, from);
          return {
            engineId: e.id,
            position: e.position,
            task,
            because,
            doneOn: done,
            job: done === null ? (e.openJobs.get(task) ?? null) : null,
          };
        }),
    );
    const open = tasks.filter((t) => t.doneOn === null).length;
    return { visit, tasks, open, done: tasks.length - open };
  });
  const [before, after, spring] = visits as [(typeof visits)[0], (typeof visits)[0], (typeof visits)[0]];
  const ahead = last !== null && today <= last.out;
  const next = nextOf({ before: before.open, after: after.open, spring: spring.open }, ahead, phaseOf(off, today));
  return {
    visits,
    leftOut: lists.flatMap(({ e, leftOut }) => leftOut.map((l) => ({ ...l, engineId: e.id, position: e.position }))),
    laidUpOn: lastOf([...before.tasks, ...after.tasks]),
    readyOn: lastOf(spring.tasks),
    next,
    note: noteOf(engines, next, before.open > 0, last),
  };
}

/** Readings that differ by less are the same one read twice. */
const SAME_HOURS = 0.2;

/** Days since its meter last moved; null where too little was read to tell. */
function stoodFor({ readings: { days, hours } }: EngineFacts, today: Day): number | null {
  const last = days.length - 1;
  if (last < 1) return null;
  let at = last;
  while (at > 0 && hours[last]! - hours[at - 1]! < SAME_HOURS) at--;
  return dayNumber(today) - days[at]!;
}

function nextOf(open: Record<SeasonVisit, number>, ahead: boolean, phase: string): SeasonVisit | null {
  if (phase === 'opening') return open.spring > 0 ? 'spring' : null;
  if (open.before > 0 && ahead) return 'before';
  return open.before + open.after > 0 ? 'after' : null;
}

function noteOf(
  engines: readonly EngineFacts[],
  next: SeasonVisit | null,
  dry: boolean,
  last: BoatInSeason['last'],
): string | null {
  const held = engines.flatMap((e) => e.held.map((why) => (e.position === 'single' ? why : `${e.position}: ${why}`)));
  if (held.length > 0) return `Held. ${held.join(' ')} The repair has until the opening.`;
  if (next !== 'after' || !dry) return null;
  return last === null
    ? 'No hire is left: oil and first dose go in at lay-up, then it runs five minutes.'
    : 'Its last hire goes without them: oil and first dose go in at lay-up, then it runs five minutes.';
}

/** The day on which the last of them was done; null while one is open, or there are none. */
function lastOf(tasks: readonly SeasonTask[]): Day | null {
  if (tasks.length === 0) return null;
  return tasks.reduce<Day | null>(
    (most, { doneOn: on }) => (most === null || on === null ? null : on > most ? on : most),
    tasks[0]!.doneOn,
  );
}

/** Boats done in each week from a day to another, the oldest week first. */
export function byWeek(done: readonly Day[], from: Day, to: Day): { from: Day; done: number }[] {
  const weeks = Math.max(1, Math.ceil((dayNumber(to) - dayNumber(from) + 1) / 7));
  return Array.from({ length: Math.min(weeks, 60) }, (_, i) => {
    const [first, next] = [addDays(from, 7 * i), addDays(from, 7 * (i + 1))];
    return { from: first, done: done.filter((day) => day >= first && day < next).length };
  });
}
