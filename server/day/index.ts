import type { DayPerson, DayReply, DayVisit } from '@diurna/contract/day';
import type { JobSummary } from '@diurna/contract/jobs';
import { minuteInZone } from '@diurna/core/calendar';
import { Board, dayLine, hindranceText, workOn, type LineVisit, type PlannedVisit } from '@diurna/core/planner';
import { ACCESS_MINUTES, accessOf, TASKS } from '@diurna/core/service';
import { visitMinutes, VISIT_SETUP_MINUTES, type VisitTask } from '@diurna/core/visit';
import { and, asc, eq, isNull, ne } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import { holdsWhere, undecidedHolds } from '../findings/index.ts';
import type { Handlers } from '../http/api.ts';
import { jobSummaries } from '../jobs/index.ts';
import { partsOfTasks } from '../stores/index.ts';
import { readBoard, readYard, todayOfBook } from '../planner/index.ts';
import { workers, type FleetMemory } from '../service/index.ts';
import { visitTasks } from '../visit/index.ts';
import { boatsOf } from './boats.ts';
import { mattersOf } from './matters.ts';

const { base, job } = tables;
/** What is to be decided looks at places so many days ahead. */
export const LOOK_AHEAD = 14;
const MOST_JOBS = 500;

export function dayHandlers(memory: FleetMemory): Handlers<'readDay'> {
  return {
    async readDay({ db, query, who, now }) {
      await memory.refresh(now);
      const baseId = query.baseId ?? null;
      const today = await todayOfBook(db, now, baseId);
      const ahead = query.day >= today;
      const mayDecide = (who.role === 'coordinator' || who.role === 'administrator') && query.day === today;
      const [{ facts }, bases, cards, people, settings] = await Promise.all([
        readYard(db, memory, now, query.day, 1, baseId, false),
        db.select().from(base).orderBy(asc(base.id)),
        jobSummaries(db, now, and(eq(job.day, query.day), ne(job.status, 'cancelled')), MOST_JOBS, 0),
        workers(db),
        db.select({ currency: tables.setting.currency }).from(tables.setting),
      ]);
      const jobs = cards.filter((j) => baseId === null || j.baseId === baseId);
      const zone = bases.find((b) => b.id === (baseId ?? bases[0]?.id))?.timeZone ?? 'UTC';
      const clock = minuteInZone(now.getTime(), zone);
      const minute = query.day === today ? clock.minute : null;
      const board = mayDecide
        ? await readBoard(db, memory, now, { from: query.day, days: LOOK_AHEAD, baseId, fromNow: true })
        : null;
      const whole = ahead
        ? await readBoard(db, memory, now, { from: query.day, days: 1, baseId, fromNow: false })
        : null;
      const troubles = whole
        ? troublesOf(whole.problem, whole.standing, new Map(people.map((p) => [String(p.id), p.name])))
        : new Map<number, string>();
      const tasksOf = await visitTasks(
        db,
        now,
        jobs.flatMap((j) => j.tasks.map((t) => t.engineId)),
      );
      const holds = mayDecide
        ? await holdsWhere(
            db,
            and(isNull(tables.hold.releasedAt), baseId === null ? undefined : eq(tables.boat.baseId, baseId)),
          )
        : [];
      const paceOf = new Map(people.map((p) => [p.id, p.pace]));
      const yardBases = new Map(facts.bases.map((b) => [b.id, b]));
      const windowsOf = new Map(whole?.problem.boats.map((b) => [Number(b.id), b.free[0] ?? []]) ?? []);
      const lines = people
        .filter((p) => baseId === null || facts.people.some((f) => f.id === p.id))
        .map((p): DayPerson => {
          const own = jobs.filter((j) => j.technicianId === p.id);
          const f = facts.people.find((x) => x.id === p.id);
          const work = f ? workOn(f, yardBases, query.day) : null;
          const visits = own.map((j) =>
            visitOf(j, tasksOf(j.tasks), paceOf.get(p.id) ?? 1, troubles.get(j.id) ?? null),
          );
          const at = work
            ? { from: work.shift.from, to: work.shift.to, hard: work.shift.to + (f?.overtimeMinutes ?? 0) }
            : { from: 480, to: 1020, hard: 1440 };
          const line = dayLine(
            visits.map((v): LineVisit => ({
              id: String(v.jobId),
              minutes: v.minutes,
              start: v.start,
              windows: v.trouble || !ahead ? [{ from: at.from, to: 1440 }] : (windowsOf.get(v.boatId) ?? []),
            })),
            at,
          );
          for (const v of visits) v.start = line.starts.get(String(v.jobId)) ?? null;
          visits.sort((a, b) => (a.start ?? 9999) - (b.start ?? 9999));
          return {
            id: p.id,
            name: p.name,
            baseId: p.baseId,
            baseName: bases.find((b) => b.id === (work?.baseId ?? p.baseId))?.name ?? null,
            skills: p.skills,
            shift: work?.shift ?? null,
            pause: line.breakAt,
            visits,
          };
        });
      const kits = await Promise.all(
        lines.flatMap((p) =>
          p.visits
            .filter((v) => v.status === 'open')
            .map(async (v) => {
              const { parts, partsUnknown } = await partsOfTasks(
                db,
                v.tasks.filter((t) => t.state === 'open'),
                v.baseId,
              );
              return {
                jobId: v.jobId,
                boatName: v.boatName,
                technician: p.name,
                start: v.start,
                lines: parts,
                unknown: [...new Set(partsUnknown.map((u) => u.task))],
              };
            }),
        ),
      );
      const boats = boatsOf(memory, now, query.day, baseId, lines, minute);
      const reply: DayReply = {
        day: query.day,
        today,
        now: minute,
        currency: settings[0]!.currency,
        people: lines,
        lifts: bases
          .filter((b) => baseId === null || b.id === baseId)
          .map((b) => {
            const f = yardBases.get(b.id)!;
            const slots = f.liftOut
              .filter((o) => o.first <= query.day && query.day <= o.last)
              .reduce((least, o) => Math.min(least, o.slots), f.liftSlots);
            return {
              baseId: b.id,
              baseName: b.name,
              slots,
              used: lines.flatMap((p) => p.visits).filter((v) => v.baseId === b.id && v.needsLift).length,
            };
          }),
        boats: boats.list,
        boatsOut: boats.out,
        kits: kits
          .filter((k) => k.lines.length > 0 || k.unknown.length > 0)
          .sort((a, b) => (a.start ?? 9999) - (b.start ?? 9999)),
        matters: board
          ? await mattersOf(db, now, board, lines, today, holds, mayDecide ? await undecidedHolds(db, baseId) : [])
          : null,
      };
      return reply;
    },
  };
}

/** What keeps cards of the day from being done as they stand, by card. */
function troublesOf(
  problem: ConstructorParameters<typeof Board>[0],
  standing: readonly (PlannedVisit & { jobId: number; started: boolean })[],
  names: ReadonlyMap<string, string>,
): Map<number, string> {
  const board = new Board(
    problem,
    standing.filter((v) => !v.started),
  );
  return new Map(
    board.refused.map(({ visit, why }) => {
      const text = hindranceText(why, names.get(visit.technician)?.split(' ')[0] ?? 'this person');
      return [
        standing.find((s) => s.boat === visit.boat && s.day === visit.day && s.technician === visit.technician)
          ?.jobId ?? 0,
        text.charAt(0).toUpperCase() + text.slice(1),
      ];
    }),
  );
}

function visitOf(j: JobSummary, work: readonly VisitTask[], pace: number, trouble: string | null): DayVisit {
  const { hands, elapsed } = visitMinutes(work, pace);
  // The longest drain begins when its engine is open; the order of steps comes with the card.
  const longest = work.filter((t) => TASKS[t.task].wait > 0).sort((a, b) => TASKS[b.task].wait - TASKS[a.task].wait)[0];
  const draining = longest && {
    wait: TASKS[longest.task].wait,
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
    start: j.startMinute,
    minutes: elapsed,
    hands: pace * hands,
    drain: draining
      ? { from: Math.min(opened, Math.max(0, elapsed - draining.wait)), to: Math.min(elapsed, opened + draining.wait) }
      : null,
    needsLift: j.tasks.some((t) => TASKS[t.task].needsLift),
    twoPeople: j.tasks.some((t) => TASKS[t.task].skills.includes('lower units')),
    tasks: j.tasks,
    trouble: j.status === 'open' ? trouble : null,
  };
}
