import type { plannerRoutes } from '@diurna/contract/planner';
import { dayNumber, dayWord, type Day } from '@diurna/core/calendar';
import { changeKind, matchCards, type CardChange } from '@diurna/core/changes';
import {
  Board,
  elapsedMinutes,
  hindrancesText,
  keysOf,
  planPartId,
  planTaskId,
  pricePlan,
  problemOf,
  wordsIn,
  type PlanCost,
  type PlannedVisit,
  type YardFacts,
  type YardTask,
} from '@diurna/core/planner';
import { lackingIn, lackingText, TASKS, taskApplies } from '@diurna/core/service';
import { eq } from 'drizzle-orm';
import type { z } from 'zod';
import { cardStands, standOf, type PlannedChange, type StandingCard } from '../changes/index.ts';
import { tables, type Db, type Tx } from '../db/index.ts';
import { HttpProblem } from '../http/problem.ts';
import type { FleetCache } from '../service/index.ts';
import { versionsInForce } from '../visit/index.ts';
import { lastAccepted, taskKeys } from './board.ts';
import { dayAt, openJobs, readYard } from './facts.ts';

const { boat, engine, engineModel, part, person } = tables;
export type AcceptBody = z.output<(typeof plannerRoutes)['acceptPlan']['body']>;
type Body = AcceptBody;
type Visit = Body['visits'][number];
type Stand = PlannedChange['after'];
const LEFT_OUT = 'Left out of the plan.';

/**
 * What the plan costs, priced by the judge that is written apart from the search, on the book as it is now.
 *
 * @throws 409 with every rule the plan breaks
 */
function judged(
  facts: YardFacts,
  body: Body,
  names: { boat: (id: string) => string; person: (id: string) => string; at: (name: string) => string },
): { cost: PlanCost; elapsedOf: (v: Visit) => number } {
  const problem = problemOf(facts);
  const taskOf = new Map(problem.tasks.map((t) => [t.id, t]));
  const paceOf = new Map(problem.technicians.map((t) => [t.id, t.pace ?? 1]));
  // What is ticked meanwhile is no work any more.
  const still = (v: Visit) => v.tasks.flatMap((t) => taskOf.get(t) ?? []);
  const workOf = (v: Visit) => elapsedMinutes(problem, still(v), paceOf.get(v.technician) ?? 1);
  // Ticked so far meanwhile that it is over before the break, the break lies behind it.
  const pauseIn = (v: Visit) => (v.pause && v.pause.from <= v.start + workOf(v) ? v.pause : undefined);
  const elapsedOf = (v: Visit) => {
    const pause = pauseIn(v);
    return workOf(v) + (pause ? pause.to - pause.from : 0);
  };
  const visits = body.visits
    .map((v) => ({ ...v, elapsed: elapsedOf(v), pause: pauseIn(v), tasks: still(v).map((t) => t.id) }))
    .filter((v) => v.tasks.length > 0);
  const { cost, faults } = pricePlan(problem, { visits });
  if (faults.length > 0) {
    // The board knows the reason in words; what only the judge sees is told as it is.
    const words = new Board(problem, visits).refused.map(
      ({ visit, why }) =>
        `${names.boat(visit.boat)} on ${dayWord(dayAt(body.firstDay, visit.day))}: ${hindrancesText(why, names.person(visit.technician), names.at)}`,
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

/** What accepting a plan would do to the cards, and what it costs. */
export interface PlanChanges {
  changes: PlannedChange[];
  cost: PlanCost;
  /** Cards that stay as they are. */
  kept: number;
  /** The visits as they are kept with the plan. */
  visits: PlannedVisit[];
}

/**
 * What becomes of the cards when a plan is accepted: a card is matched to the visit of its boat that shares most of its
 * tasks, so that it keeps its number; cards of these days without a visit are called off.
 *
 * @throws 409 `stale` when a newer plan was accepted or a card changed since the person loaded them; `impossible` when
 *   the plan breaks a rule
 * @param lock for who writes them: the cards stand still until that is done
 */
export async function changesOfPlan(
  tx: Tx | Db,
  fleet: FleetCache,
  sent: Body,
  now: Date,
  { lock = false }: { lock?: boolean } = {},
): Promise<PlanChanges> {
  const before = await lastAccepted(tx);
  if ((before?.id ?? null) !== sent.basedOn) throw stale();
  const boats = await tx.select().from(boat).where(eq(boat.retired, false));
  const boatOf = new Map(boats.map((b) => [String(b.id), b]));
  const boatIds = boats.filter((b) => sent.baseId === null || b.baseId === sent.baseId).map((b) => b.id);
  const people = new Map((await tx.select().from(person).where(eq(person.active, true))).map((p) => [String(p.id), p]));
  const open = await openJobs(tx, boatIds, { lock });
  const first = dayNumber(sent.firstDay);
  const inPlan = within(first, sent.days);
  refuseOld(sent, open, inPlan);
  await checkVisits(tx, sent.visits, boatOf, people);
  // From the day's beginning: what began this morning stands where it began.
  const { facts } = await readYard(tx, fleet, now, sent.firstDay, sent.days, sent.baseId);
  const visits = unticked(whole(sent.visits, facts.tasks), open);
  refuseLacking(visits, open);
  const { cost, elapsedOf } = judged(facts, sent, {
    boat: (id) => boatOf.get(id)?.name ?? 'a boat',
    person: (id) => people.get(id)?.name ?? 'this person',
    at: await partWords(tx, facts),
  });
  const stands = await cardStands(
    tx,
    open.filter((j) => dayNumber(j.day) - first < sent.days).map((j) => j.id),
  );
  const versions = await versionsInForce(tx);
  const pairs = matchCards(
    visits.map((v) => ({ ...v, tasks: taskKeys(v), at: v })),
    [...stands.values()],
  );
  const all = pairs.map(({ visit, card }): PlannedChange => {
    const old = card && standOf(card);
    const boatId = visit ? Number(visit.boat) : card!.boatId;
    const after = visit
      ? cardOf(visit, dayAt(sent.firstDay, visit.day), card, versions)
      : withoutVisit(card!, old!, inPlan(card!.day));
    return { jobId: card?.id ?? null, boatId, before: old, after };
  });
  const changes = all.filter((c) => changeKind(c) !== 'none');
  return {
    changes,
    cost,
    kept: all.filter((c) => ['none', 'hour'].includes(changeKind(c)) && c.after.open).length,
    visits: sent.visits.map((v) => ({
      boat: v.boat,
      day: v.day,
      technician: v.technician,
      start: v.start,
      elapsed: elapsedOf(v),
      tasks: v.tasks,
      ...(v.pause && { pause: v.pause }),
    })),
  };
}

const within = (first: number, days: number) => (day: Day) =>
  dayNumber(day) - first >= 0 && dayNumber(day) - first < days;

/** @throws 409 `stale` when a card of the plan's days is another than the person loaded */
function refuseOld(
  sent: Body,
  open: readonly { id: number; version: number; day: Day }[],
  inPlan: (day: Day) => boolean,
): void {
  const known = new Map(sent.jobs.map((j) => [j.id, j.version]));
  const mine = open.filter((j) => inPlan(j.day));
  if (mine.some((j) => known.get(j.id) !== j.version) || sent.jobs.some((j) => !open.some((o) => o.id === j.id)))
    throw stale();
}

/** Where a card without a visit goes: what was begun, and what waits from days before the plan, stays where it is. */
const withoutVisit = (card: StandingCard, old: Stand, inPlan: boolean): Stand =>
  card.tasks.some((t) => t.state === 'done') || !inPlan ? old : { ...old, open: false, remark: LEFT_OUT };

/** The plan's names of tasks and parts in words. */
async function partWords(tx: Tx | Db, facts: YardFacts): Promise<(at: string) => string> {
  const nameOf = new Map((await tx.select({ id: part.id, name: part.name }).from(part)).map((p) => [p.id, p.name]));
  return wordsIn(
    Object.fromEntries(
      facts.parts.map((p) => [planPartId(p.partId, p.baseId), { name: nameOf.get(p.partId) ?? 'a part' }]),
    ),
  );
}

/** The card a visit becomes. */
function cardOf(
  visit: Omit<Visit, 'tasks'> & { tasks: ReturnType<typeof taskKeys> },
  day: Day,
  card: StandingCard | null,
  versions: Awaited<ReturnType<typeof versionsInForce>>,
): CardChange['after'] {
  const technicianId = Number(visit.technician);
  const was = (t: { engineId: number; task: string }) =>
    card?.tasks.find((o) => o.engineId === t.engineId && o.task === t.task);
  const stays = card !== null && card.day === day && card.technicianId === technicianId;
  return {
    technicianId,
    day,
    startMinute: Math.floor(visit.start),
    pinned: visit.pinned,
    open: true,
    remark: card?.remark ?? null,
    // Why it was handed out where it stood says nothing of another place.
    insisted: stays ? card.insisted : null,
    tasks: [
      // A task keeps the steps it was issued with; one that joins gets those of today.
      ...visit.tasks.map((t) => ({
        ...t,
        state: 'open' as const,
        templateVersion: was(t)?.templateVersion ?? versions.get(t.task) ?? 1,
      })),
      // A task ticked on the card stays on it, whatever the plan says of the rest.
      ...(card?.tasks ?? []).filter((t) => t.state === 'done'),
    ],
  };
}

/** What is never done alone needs the other on the same visit, unless it stands on a card so already. */
function refuseLacking(visits: readonly Visit[], open: Awaited<ReturnType<typeof openJobs>>): void {
  // What stands on a card so already, its oil ticked or never there, is not this plan's doing.
  const carded = new Set(
    open.flatMap((j) => lackingIn(j.tasks.filter((t) => t.state !== 'done')).map((l) => planTaskId(l.engineId, l.of))),
  );
  const lacking = visits.flatMap((v) => lackingIn(taskKeys(v))).find((l) => !carded.has(planTaskId(l.engineId, l.of)));
  if (lacking) throw new HttpProblem(409, `${lackingText(lacking)} Plan again, then accept.`);
}

/** Visits without what was ticked since the plan was made: that stays on its card as it is. */
function unticked(visits: readonly Visit[], open: Awaited<ReturnType<typeof openJobs>>): Visit[] {
  const done = new Set(
    open.flatMap((j) => j.tasks.flatMap((t) => (t.state === 'done' ? [planTaskId(t.engineId, t.task)] : []))),
  );
  return visits.map((v) => ({ ...v, tasks: v.tasks.filter((t) => !done.has(t)) })).filter((v) => v.tasks.length > 0);
}

/** Visits with what their tasks bring along, as the cards have it. */
const whole = (visits: readonly Visit[], tasks: readonly YardTask[]): Visit[] =>
  visits.map((v) => ({ ...v, tasks: keysOf(tasks, v.tasks).map((t) => planTaskId(t.engineId, t.task)) }));

async function checkVisits(
  tx: Tx | Db,
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
