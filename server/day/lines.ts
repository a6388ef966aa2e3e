import type { DayPerson, DayVisit } from '@diurna/contract/day';
import type { JobSummary } from '@diurna/contract/jobs';
import type { Day } from '@diurna/core/calendar';
import { troublesOf, visitOf } from '@diurna/core/day';
import { dayLine, problemOf, restOn, wordsIn, workOn, type LineVisit, type YardFacts } from '@diurna/core/planner';
import type { outlineOf, YardBook } from '../planner/index.ts';
import type { workers } from '../service/index.ts';
import type { visitTasks, workOfJobs } from '../visit/index.ts';

type Board = Awaited<ReturnType<typeof outlineOf>>;

interface Lines {
  /** When a card was worked on that day, by its ticks. */
  workedOf: (jobId: number) => { from: number; to: number } | null;
  /** Now, when the day is today. */
  minute: number | null;
  day: Day;
  yard: YardBook;
  board: Board | null;
  jobs: readonly JobSummary[];
  tasksOf: Awaited<ReturnType<typeof visitTasks>>;
  workOf: Awaited<ReturnType<typeof workOfJobs>>;
  bases: readonly { id: number; name: string }[];
  baseId: number | null;
  people: Awaited<ReturnType<typeof workers>>;
}

/** Everybody's line of the day: cards in the order they are worked, each at an hour where it finds one. */
export function linesOf({
  workedOf,
  minute,
  day,
  yard,
  board,
  jobs,
  tasksOf,
  workOf,
  bases,
  baseId,
  people,
}: Lines): DayPerson[] {
  const { facts } = yard;
  const today = board ? problemOf({ ...facts, days: 1 }) : null;
  const troubles = troublesIn(board, today, people);
  const yardBases = new Map(facts.bases.map((b) => [b.id, b]));
  const onDuty = onDutyOn(yard.facts, yardBases, people, day);
  const windowsOf = new Map(today?.boats.map((b) => [Number(b.id), b.free[0] ?? []]) ?? []);
  return people
    .filter((p) => baseId === null || facts.people.some((f) => f.id === p.id))
    .map((p): DayPerson => {
      const f = facts.people.find((x) => x.id === p.id);
      const work = f ? workOn(f, yardBases, day) : null;
      const visits = jobs
        .filter((j) => j.technicianId === p.id)
        .map((j) =>
          visitOf(
            { ...j, worked: workedOf(j.id) },
            {
              work: tasksOf(j.tasks),
              steps: workOf.get(j.id)?.steps ?? [],
              pace: p.pace,
              trouble: troubles.get(j.id) ?? null,
              beside: onDuty.filter((o) => o.id !== p.id && o.baseId === j.baseId).map((o) => o.name),
            },
          ),
        );
      const shift = shiftOf(work, f?.overtimeMinutes ?? 0, yardBases);
      const windows = (v: DayVisit) =>
        v.trouble || !board ? [{ from: shift.from, to: 1440 }] : (windowsOf.get(v.boatId) ?? []);
      const line = timed(visits, windows, shift, minute);
      return {
        id: p.id,
        name: p.name,
        baseId: p.baseId,
        baseName: bases.find((b) => b.id === (work?.baseId ?? p.baseId))?.name ?? null,
        skills: p.skills,
        shift: work?.shift ?? null,
        pause: line.breakAt,
        visits: visits.sort((a, b) => (a.start ?? 9999) - (b.start ?? 9999)),
      };
    });
}

/** Why cards of the day cannot be done as they stand; of a day gone by nothing is told. */
const troublesIn = (board: Board | null, today: ReturnType<typeof problemOf> | null, people: Lines['people']) =>
  board && today
    ? troublesOf(
        today,
        board.standing.filter((s) => s.day === 0),
        new Map(people.map((p) => [String(p.id), p.name])),
        wordsIn(board.parts),
      )
    : new Map<number, string>();

/** Who works that day, and where. */
const onDutyOn = (
  facts: YardFacts,
  bases: Parameters<typeof restOn>[1],
  people: Lines['people'],
  day: Day,
): { id: number; name: string; baseId: number }[] =>
  people.flatMap(({ id, name }) => {
    const f = facts.people.find((x) => x.id === id);
    const work = f && workOn(f, bases, day);
    return work ? [{ id, name, baseId: work.baseId }] : [];
  });

/** A person's hours with overtime and break; of whoever is off, the hours a card is shown in all the same. */
const shiftOf = (
  work: ReturnType<typeof workOn>,
  overtimeMinutes: number,
  bases: Parameters<typeof restOn>[1],
): Parameters<typeof dayLine>[1] =>
  work
    ? { ...work.shift, hard: work.shift.to + overtimeMinutes, rest: restOn(work, bases) }
    : { from: 480, to: 1020, hard: 1440, rest: null };

/**
 * Puts a person's visits to their hours.
 *
 * @param minute what nobody began and nobody gave an hour begins then at the earliest; null = the day has not begun
 */
function timed(
  visits: readonly DayVisit[],
  windows: (v: DayVisit) => readonly { from: number; to: number }[],
  shift: Parameters<typeof dayLine>[1],
  minute: number | null,
) {
  const line = dayLine(
    visits.map((v): LineVisit => ({
      id: String(v.jobId),
      minutes: v.minutes,
      start: v.start,
      stands: v.worked,
      windows: windows(v).map((w) => ({ from: Math.max(w.from, minute ?? 0), to: w.to })),
    })),
    shift,
  );
  for (const v of visits) {
    v.start = line.starts.get(String(v.jobId)) ?? null;
    if (line.pausedIn === String(v.jobId)) v.pause = line.breakAt;
  }
  return line;
}
