import type { plannerRoutes } from '@diurna/contract/planner';
import { dayNumber, dayWord, type Day } from '@diurna/core/calendar';
import {
  Board,
  elapsedMinutes,
  hindranceText,
  keysOf,
  planTaskId,
  pricePlan,
  problemOf,
  type PlanCost,
  type YardFacts,
  type YardTask,
} from '@diurna/core/planner';
import { lackingIn, lackingText, TASKS, taskApplies, type TaskKind } from '@diurna/core/service';
import { eq, inArray } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { nextVersion } from '../http/version.ts';
import { issuedWith, versionsInForce } from '../visit/index.ts';
import { lastAccepted, taskKeys } from './board.ts';
import type { FleetCache } from '../service/index.ts';
import { dayAt, openJobs, readYard, type OpenJobRow } from './facts.ts';

const { acceptedPlan, boat, engine, engineModel, job, jobTask, notice, person } = tables;
type Body = z.output<(typeof plannerRoutes)['acceptPlan']['body']>;
type Visit = Body['visits'][number];

interface Outcome {
  id: number;
  added: number;
  moved: number;
  calledOff: number;
  kept: number;
}

/**
 * What the plan costs, priced by the judge that is written apart from the search, on the book as it is now.
 *
 * @throws 409 with every rule the plan breaks
 */
function judged(
  facts: YardFacts,
  body: Body,
  names: { boat: (id: string) => string; person: (id: string) => string },
): { cost: PlanCost; elapsedOf: (v: Visit) => number } {
  const problem = problemOf(facts);
  const taskOf = new Map(problem.tasks.map((t) => [t.id, t]));
  const paceOf = new Map(problem.technicians.map((t) => [t.id, t.pace ?? 1]));
  // What is ticked meanwhile is no work any more.
  const still = (v: Visit) => v.tasks.flatMap((t) => taskOf.get(t) ?? []);
  const elapsedOf = (v: Visit) => elapsedMinutes(problem, still(v), paceOf.get(v.technician) ?? 1);
  const visits = body.visits
    .map((v) => ({ ...v, elapsed: elapsedOf(v), tasks: still(v).map((t) => t.id) }))
    .filter((v) => v.tasks.length > 0);
  const { cost, faults } = pricePlan(problem, { visits });
  if (faults.length > 0) {
    // The board knows the reason in words; what only the judge sees is told as it is.
    const words = new Board(problem, visits).refused.map(
      ({ visit, why }) =>
        `${names.boat(visit.boat)} on ${dayWord(dayAt(body.firstDay, visit.day))}: ${hindranceText(why, names.person(visit.technician))}`,
    );
    const told = words.length > 0 ? words : faults;
    throw new HttpProblem(
      409,
      `This plan cannot be done as it stands. ${told.slice(0, 3).join('; ')}${
        told.length > 3 ? `; and ${told.length - 3} more` : ''
      }. Plan again, then accept.`,
      told.slice(0, 100).map((text) => ({ path: 'visits', text })),
      'impossible',
    );
  }
  return { cost, elapsedOf };
}

const stale = () =>
  new HttpProblem(
    409,
    'Somebody else accepted a plan or changed a card while you planned. What you made is kept: put both together and accept again.',
    [],
    'stale',
  );

/**
 * Makes a plan the book's: its visits become open cards, in one transaction. A card is matched to the visit of
 * its boat that shares most of its tasks, so that it keeps its number; cards of these days without a visit are
 * called off. Everybody whose work changed is told.
 *
 * @throws 409 `stale` when a newer plan was accepted or a card changed since the person loaded them
 */
export async function acceptPlan(
  tx: Tx,
  fleet: FleetCache,
  audit: (line: AuditLine) => Promise<void>,
  sent: Body,
  who: Who,
  now: Date,
): Promise<Outcome> {
  // One plan is accepted after the other.
  await tx.execute(`select pg_advisory_xact_lock(hashtext('accepted_plan'))`);
  const before = await lastAccepted(tx);
  if ((before?.id ?? null) !== sent.basedOn) throw stale();
  const boats = await tx.select().from(boat).where(eq(boat.retired, false));
  const boatOf = new Map(boats.map((b) => [String(b.id), b]));
  const boatIds = boats.filter((b) => sent.baseId === null || b.baseId === sent.baseId).map((b) => b.id);
  const people = new Map((await tx.select().from(person).where(eq(person.active, true))).map((p) => [String(p.id), p]));
  const open = await openJobs(tx, boatIds);
  const first = dayNumber(sent.firstDay);
  const inPlan = (day: Day) => dayNumber(day) - first >= 0 && dayNumber(day) - first < sent.days;
  const known = new Map(sent.jobs.map((j) => [j.id, j.version]));
  const mine = open.filter((j) => inPlan(j.day));
  if (mine.some((j) => known.get(j.id) !== j.version) || sent.jobs.some((j) => !open.some((o) => o.id === j.id)))
    throw stale();
  await checkVisits(tx, sent.visits, boatOf, people);
  // From the day's beginning: what began this morning stands where it began.
  const { facts } = await readYard(tx, fleet, now, sent.firstDay, sent.days, sent.baseId);
  const body = { ...sent, visits: whole(sent.visits, facts.tasks) };
  // What stands on a card so already, its oil ticked or never there, is not this plan's doing.
  const carded = new Set(
    open.flatMap((j) => lackingIn(j.tasks.filter((t) => t.state !== 'done')).map((l) => planTaskId(l.engineId, l.of))),
  );
  const lacking = body.visits
    .flatMap((v) => lackingIn(taskKeys(v)))
    .find((l) => !carded.has(planTaskId(l.engineId, l.of)));
  if (lacking) throw new HttpProblem(409, `${lackingText(lacking)} Plan again, then accept.`);
  const { cost, elapsedOf } = judged(facts, sent, {
    boat: (id) => boatOf.get(id)?.name ?? 'a boat',
    person: (id) => people.get(id)?.name.split(' ')[0] ?? 'this person',
  });

  const pairs = match(
    body.visits,
    open.filter((j) => dayNumber(j.day) - first < body.days),
  );
  const told = new Map<number, string[]>();
  const tell = (personId: number, text: string) => told.set(personId, [...(told.get(personId) ?? []), text]);
  const outcome: Outcome = { id: 0, added: 0, moved: 0, calledOff: 0, kept: 0 };

  // Tasks leave their old cards first: a task stands on one open card only.
  const changing = pairs.filter((p) => p.job && p.visit && !sameCard(p.job, p.visit, body.firstDay));
  const ending = pairs.filter((p) => p.job && !p.visit && inPlan(p.job.day));
  const leaving = [...changing, ...ending].map((p) => p.job!.id);
  // A task ticked on the card stays on it, whatever the plan says of the rest.
  const ticked = new Map(open.map((j) => [j.id, j.tasks.filter((t) => t.state === 'done')]));
  const cancelled = ending.filter((p) => ticked.get(p.job!.id)!.length === 0);
  if (changing.length > 0)
    await tx.delete(jobTask).where(
      inArray(
        jobTask.jobId,
        changing.map((p) => p.job!.id),
      ),
    );
  if (cancelled.length > 0)
    await tx
      .update(jobTask)
      .set({ onOpenJob: false })
      .where(
        inArray(
          jobTask.jobId,
          cancelled.map((p) => p.job!.id),
        ),
      );
  for (const { job: old } of cancelled) {
    await tx
      .update(job)
      .set({ status: 'cancelled', remark: 'Left out of the plan.', ...nextVersion(job) })
      .where(eq(job.id, old!.id));
    await audit({
      act: 'cancelled',
      subject: 'job',
      subjectId: old!.id,
      title: boatOf.get(String(old!.boatId))?.name ?? null,
      before: old,
      after: { reason: 'left out of the plan' },
    });
    tell(
      old!.technicianId,
      `${boatOf.get(String(old!.boatId))?.name ?? 'A boat'} on ${dayWord(old!.day)} is called off.`,
    );
    outcome.calledOff++;
  }
  const versions = await versionsInForce(tx);
  const keeps = await issuedWith(tx, versions);
  for (const { job: old, visit } of pairs) {
    if (!visit) continue;
    const where = boatOf.get(visit.boat)!;
    const day = dayAt(body.firstDay, visit.day);
    const technicianId = Number(visit.technician);
    const values = { technicianId, day, startMinute: Math.floor(visit.start), pinned: visit.pinned };
    const keys = taskKeys(visit);
    if (!old) {
      const [row] = await tx
        .insert(job)
        .values({ boatId: where.id, ...values, ...keeps })
        .returning();
      await tx
        .insert(jobTask)
        .values(keys.map((t) => ({ jobId: row!.id, ...t, templateVersion: versions.get(t.task) ?? 1 })));
      await audit({
        act: 'added',
        subject: 'job',
        subjectId: row!.id,
        title: where.name,
        after: { ...values, tasks: visit.tasks },
      });
      tell(technicianId, `${where.name} on ${dayWord(day)}: ${wordsOf(keys)}.`);
      outcome.added++;
      continue;
    }
    if (!leaving.includes(old.id)) {
      // Only the hour may differ: nobody needs to be told.
      if (old.startMinute !== values.startMinute || old.pinned !== values.pinned)
        await tx
          .update(job)
          .set({ startMinute: values.startMinute, pinned: values.pinned, ...nextVersion(job) })
          .where(eq(job.id, old.id));
      outcome.kept++;
      continue;
    }
    const done = ticked.get(old.id)!.filter((t) => !keys.some((k) => k.engineId === t.engineId && k.task === t.task));
    // A task keeps the steps it was issued with; one that joins gets those of today.
    const issued = (t: { engineId: number; task: TaskKind }) =>
      old.tasks.find((o) => o.engineId === t.engineId && o.task === t.task)?.templateVersion ??
      versions.get(t.task) ??
      1;
    await tx
      .insert(jobTask)
      .values([
        ...keys.map((t) => ({ jobId: old.id, ...t, state: 'open' as const, templateVersion: issued(t) })),
        ...done.map((t) => ({
          jobId: old.id,
          engineId: t.engineId,
          task: t.task,
          state: 'done' as const,
          templateVersion: issued(t),
        })),
      ]);
    await tx
      .update(job)
      .set({ ...values, ...nextVersion(job) })
      .where(eq(job.id, old.id));
    await audit({
      act: 'changed',
      subject: 'job',
      subjectId: old.id,
      title: where.name,
      before: old,
      after: { ...values, tasks: visit.tasks },
    });
    if (old.technicianId !== technicianId) {
      tell(old.technicianId, `${where.name} on ${dayWord(old.day)} goes to ${people.get(visit.technician)!.name}.`);
      tell(technicianId, `${where.name} on ${dayWord(day)}: ${wordsOf(keys)}.`);
    } else if (old.day !== day) tell(technicianId, `${where.name} moves from ${dayWord(old.day)} to ${dayWord(day)}.`);
    else tell(technicianId, `${where.name} on ${dayWord(day)} is now: ${wordsOf(keys)}.`);
    outcome.moved++;
  }
  const [row] = await tx
    .insert(acceptedPlan)
    .values({
      firstDay: body.firstDay,
      days: body.days,
      cost: cost,
      personId: who.id,
      at: now,
      visits: sent.visits.map((v) => ({
        boat: v.boat,
        day: v.day,
        technician: v.technician,
        start: v.start,
        elapsed: elapsedOf(v),
        tasks: v.tasks,
      })),
    })
    .returning({ id: acceptedPlan.id });
  outcome.id = row!.id;
  if (told.size > 0)
    await tx
      .insert(notice)
      .values([...told].flatMap(([personId, texts]) => texts.map((text) => ({ personId, text, at: now }))));
  await audit({
    act: 'changed',
    subject: 'plan',
    subjectId: row!.id,
    title: `${body.firstDay}, ${body.days} days`,
    before: before && { id: before.id, cost: before.cost.total },
    after: { ...outcome, cost: cost.total, visits: body.visits.length },
  });
  return outcome;
}

/** Visits with what their tasks bring along, as the cards have it. */
const whole = (visits: readonly Visit[], tasks: readonly YardTask[]): Visit[] =>
  visits.map((v) => ({ ...v, tasks: keysOf(tasks, v.tasks).map((t) => planTaskId(t.engineId, t.task)) }));

const wordsOf = (keys: readonly { task: keyof typeof TASKS }[]) =>
  [...new Set(keys.map((k) => TASKS[k.task].word.toLowerCase()))].join(', ');

function sameCard(old: OpenJobRow, visit: Visit, firstDay: Day): boolean {
  const left = old.tasks
    .filter((t) => t.state !== 'done')
    .map((t) => planTaskId(t.engineId, t.task))
    .sort();
  return (
    old.day === dayAt(firstDay, visit.day) &&
    String(old.technicianId) === visit.technician &&
    JSON.stringify(left) === JSON.stringify([...visit.tasks].sort())
  );
}

/** Each visit with the card that becomes it, null = a new one; and cards without a visit. */
function match(
  visits: readonly Visit[],
  jobs: readonly OpenJobRow[],
): { visit: Visit | null; job: OpenJobRow | null }[] {
  const pairs: { visit: Visit | null; job: OpenJobRow | null }[] = [];
  const byTask = new Map<string, OpenJobRow>();
  for (const j of jobs) for (const t of j.tasks) byTask.set(planTaskId(t.engineId, t.task), j);
  const wishes = visits
    .flatMap((visit) => {
      const shared = new Map<OpenJobRow, number>();
      for (const t of visit.tasks) {
        const j = byTask.get(t);
        if (j) shared.set(j, (shared.get(j) ?? 0) + 1);
      }
      return [...shared].map(([j, n]) => ({ visit, job: j, n }));
    })
    .sort((a, b) => b.n - a.n);
  const visited = new Set<Visit>();
  const taken = new Set<OpenJobRow>();
  for (const w of wishes) {
    if (visited.has(w.visit) || taken.has(w.job)) continue;
    visited.add(w.visit);
    taken.add(w.job);
    pairs.push({ visit: w.visit, job: w.job });
  }
  for (const visit of visits) if (!visited.has(visit)) pairs.push({ visit, job: null });
  for (const j of jobs) if (!taken.has(j)) pairs.push({ visit: null, job: j });
  return pairs;
}

async function checkVisits(
  tx: Tx,
  visits: readonly Visit[],
  boats: ReadonlyMap<string, typeof boat.$inferSelect>,
  people: ReadonlyMap<string, typeof person.$inferSelect>,
): Promise<void> {
  const engines = new Map(
    (
      await tx
        .select({ id: engine.id, boatId: engine.boatId, stroke: engineModel.stroke })
        .from(engine)
        .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
        .where(eq(engine.retired, false))
    ).map((e) => [e.id, e]),
  );
  const seen = new Set<string>();
  const days = new Set<string>();
  visits.forEach((v, i) => {
    const at = boats.get(v.boat);
    const fault = (text: string) =>
      new HttpProblem(422, `The plan cannot be accepted: ${text}`, [{ path: `visits.${i}`, text }]);
    if (!at) throw fault('one of its boats is not in the fleet any more. Load the plan again.');
    if (!people.has(v.technician))
      throw fault(`the person for ${at.name} is not in the yard any more. Load the plan again.`);
    if (days.has(`${v.boat} ${v.day}`)) throw fault(`${at.name} has two visits on one day.`);
    days.add(`${v.boat} ${v.day}`);
    for (const key of taskKeys(v)) {
      const e = engines.get(key.engineId);
      if (e?.boatId !== at.id || !(key.task in TASKS) || !taskApplies(key.task, e.stroke))
        throw fault(`a task is not on ${at.name} any more. Load the plan again.`);
      if (seen.has(`${key.engineId} ${key.task}`)) throw fault(`a task of ${at.name} stands twice.`);
      seen.add(`${key.engineId} ${key.task}`);
    }
  });
}
