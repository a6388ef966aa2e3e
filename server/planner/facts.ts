import { chanceOfHire, hiresSince, type EngineDue } from '@diurna/core/ahead';
import {
  addDays,
  dayFromNumber,
  dayInZone,
  dayNumber,
  minuteInZone,
  type ClockFace,
  type Day,
} from '@diurna/core/calendar';
import { dueDays, followUpDue, handsOnMinutes, noRule, onlyWith, TASKS, type TaskKind } from '@diurna/core/service';
import { coupled, fromNow, type YardFacts, type YardTask } from '@diurna/core/planner';
import { partsForEngine } from '@diurna/core/stores';
import { toMillilitres } from '@diurna/core/units';
import { and, asc, eq, isNull, lte, sum } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import { readHands, readRuleBook, type FleetCache } from '../service/index.ts';
import { fitmentsOf, linksOf, withOlder } from '../stores/index.ts';
import { learnedMinutes } from '../visit/index.ts';

const { boat, part, engineModel, setting, partArrival, stockMovement, jobTask } = tables;

/** Tasks that fall due so many days after the plan may join a visit early. */
const BEYOND_DAYS = 45;
const MINUTES = 1440;
const DAY_MS = 86_400_000;

/** A task of an engine with the days on which it is likely due. */
interface DueOn extends EngineDue {
  on: ReturnType<typeof dueDays>;
}

export interface YardBook {
  facts: YardFacts;
  /** Every task of the plan, in the order of `facts.tasks`, with what its due date rests on. */
  dues: DueOn[];
  moveCost: number;
  currency: string;
  /** How the yard writes its hours. */
  clock: ClockFace;
  /** Time zones by base. */
  zoneOf: ReadonlyMap<number, string>;
  /** The same yard with nothing begun before that instant. */
  fromNow: (at: Date) => YardFacts;
}

/**
 * Reads what a plan is made from. The plan's days are calendar days at each base, the first one from its beginning.
 *
 * @param baseId only that base; null = all
 * @param beyond tasks that likely fall due so many days after the last one belong to it too
 */
export async function readYard(
  db: Db | Tx,
  fleet: FleetCache,
  now: Date,
  firstDay: Day,
  days: number,
  baseId: number | null,
  beyond = BEYOND_DAYS,
): Promise<YardBook> {
  await fleet.refresh(now);
  const lastDay = addDays(firstDay, days - 1);
  const [learned, settings, hands, boats, parts, models, fitments, arrivals, shelves, done] = await Promise.all([
    learnedMinutes(db, now),
    db.select().from(setting),
    readHands(db, firstDay, lastDay),
    db
      .select()
      .from(boat)
      .where(and(eq(boat.retired, false), baseId === null ? undefined : eq(boat.baseId, baseId)))
      .orderBy(asc(boat.id)),
    db.select({ id: part.id, priceMinor: part.priceMinor, unit: part.unit }).from(part),
    db.select().from(engineModel),
    fitmentsOf(db),
    db
      .select()
      .from(partArrival)
      .where(and(isNull(partArrival.arrivedAt), lte(partArrival.day, lastDay))),
    db
      .select({ partId: stockMovement.partId, baseId: stockMovement.baseId, quantity: sum(stockMovement.quantity) })
      .from(stockMovement)
      .where(baseId === null ? undefined : eq(stockMovement.baseId, baseId))
      .groupBy(stockMovement.partId, stockMovement.baseId),
    db
      .select({ engineId: jobTask.engineId, task: jobTask.task })
      .from(jobTask)
      .where(and(eq(jobTask.onOpenJob, true), eq(jobTask.state, 'done'))),
  ]);
  const { choices } = await readRuleBook(db);
  const ticked = new Set(done.map((t) => `${t.engineId} ${t.task}`));
  const { bases, people } = hands;
  const book = settings[0]!;
  const zoneOf = new Map(bases.map((b) => [b.id, b.timeZone]));
  const first = dayNumber(firstDay);
  const ids = new Set(boats.map((b) => b.id));
  const due = fleet.allDue(now).filter((d) => ids.has(d.facts.boatId));
  const here = [...due, ...cardedBesides(fleet, ids, due, now)].map((d) => ({ ...d, on: dueDays(d.due) }));
  const isWanted = ({ facts, due, on }: DueOn) => {
    const card = facts.openJobs.get(due.task);
    // What stands on a card after the plan's last day stays there.
    return card ? card.day <= lastDay : wanted(due, on, first + days + beyond);
  };
  // What is never done alone wants the other with it, however far off that is by itself.
  const asked = new Set(
    here.flatMap((d) => {
      if (!isWanted(d)) return [];
      const other = onlyWith(d.due.task);
      // What waits for a repair is done with it.
      const after = [...d.facts.waits].flatMap(([task, before]) => (before === d.due.task ? [task] : []));
      return [...(other === null ? [] : [other]), ...after].map((task) => `${d.facts.id} ${task}`);
    }),
  );
  const inTime = new Set(here.flatMap((d) => (isWanted(d) ? [`${d.facts.id} ${d.due.task}`] : [])));
  // Lube filled in before the seals are done is lube lost: what waits is planned with what it waits for, or not yet.
  const comesLater = ({ facts, due: { task } }: EngineDue) => {
    const before = facts.waits.get(task);
    return before !== undefined && !facts.openJobs.has(task) && !inTime.has(`${facts.id} ${before}`);
  };
  const every = here.filter(
    (d) =>
      !comesLater(d) &&
      (isWanted(d) || (asked.has(`${d.facts.id} ${d.due.task}`) && d.facts.openJobs.get(d.due.task) === undefined)),
  );
  const volumes = new Map(
    models.map((m) => [
      m.id,
      {
        sumpMl: m.sumpValue !== null && m.sumpUnit !== null ? toMillilitres(m.sumpValue, m.sumpUnit) : null,
        gearCaseMl: m.gearValue !== null && m.gearUnit !== null ? toMillilitres(m.gearValue, m.gearUnit) : null,
      },
    ]),
  );
  const fitmentsOfModel = grouped(fitments, (f) => f.modelId);
  const price = new Map(parts.map((p) => [p.id, p]));
  const handsOf = new Map<number, Map<TaskKind, number>>(models.map((m) => [m.id, new Map()]));
  const handsOn = ({ facts, due: { task } }: EngineDue) => {
    const own = handsOf.get(facts.modelId)!;
    if (!own.has(task))
      own.set(task, learned.minutesFor(task, facts.modelId, null, handsOnMinutes(task, facts.cylinders)).minutes);
    return own.get(task)!;
  };
  const single = every.map((d): YardTask => {
    const { facts, due, on } = d;
    const { needs } = partsForEngine(
      facts,
      volumes.get(facts.modelId)!,
      [due.task],
      fitmentsOfModel.get(facts.modelId) ?? [],
      { choices, times: facts.times, traits: facts.traits },
    );
    const partsCost = needs.reduce((sum, { partId, quantity }) => {
      const p = price.get(partId);
      return sum + (p?.priceMinor == null ? 0 : (p.priceMinor / 100) * (p.unit === 'mL' ? quantity / 1000 : quantity));
    }, 0);
    const offset = (day: Day | null) => (day === null ? null : dayNumber(day) - first);
    return {
      engineId: facts.id,
      boatId: facts.boatId,
      task: due.task,
      early: offset(on?.early ?? null),
      likely: offset(on?.likely ?? null),
      late: offset(on?.late ?? null),
      over: due.state === 'over',
      unknown: due.state === 'unknown',
      share: Math.max(0, due.share ?? 0),
      partsCost,
      parts: needs.map(({ partId, quantity }) => ({ partId, quantity })),
      hands: handsOn(d),
      wait: learned.drainFor(due.task, facts.modelId, TASKS[due.task].wait).minutes,
    };
  });
  const engineOf = new Map(every.map((d) => [d.facts.id, d.facts]));
  // A filter on a card without its oil stays there until somebody puts the two together; of two on one card, what is
  // ticked is no work any more.
  const hostIn = (engineId: number, task: TaskKind) => engineOf.get(engineId)!.waits.get(task) ?? onlyWith(task);
  const apart = (engineId: number, task: TaskKind) => {
    const cards = engineOf.get(engineId)!.openJobs;
    const own = cards.get(task);
    const host = hostIn(engineId, task)!;
    return (
      ticked.has(`${engineId} ${task}`) ||
      ticked.has(`${engineId} ${host}`) ||
      (own !== undefined && own.id !== cards.get(host)?.id)
    );
  };
  const joined = coupled(single, apart, hostIn);
  const tasks = joined.map((j) => j.task);
  const dues = joined.map((j) => every[j.at]!);
  // What is left of an older number is used up where the newer is asked for.
  const links = await linksOf(db);
  const onHand = new Map(
    [...grouped(shelves, (s) => s.baseId)].map(([at, own]) => [
      at,
      withOlder(new Map(own.map((s) => [s.partId, Number(s.quantity)])), links),
    ]),
  );
  const boatBase = new Map(boats.map((b) => [b.id, b.baseId]));
  const used = new Map<string, { partId: number; baseId: number }>();
  for (const t of tasks)
    for (const { partId } of t.parts)
      used.set(`${partId} ${boatBase.get(t.boatId)!}`, { partId, baseId: boatBase.get(t.boatId)! });
  const facts: YardFacts = {
    firstDay,
    days,
    lateWeight: book.lateWeightPercent / 100,
    bases: bases.map((b) => ({ ...b, now: null })),
    people: people.filter(
      (p) =>
        baseId === null ||
        p.baseId === baseId ||
        p.exceptions.some((x) => x.kind === 'base' && x.baseId === baseId) ||
        p.shifts.some((x) => x.baseId === baseId),
    ),
    boats: boats.map((b) => {
      const known = fleet.boats.get(b.id);
      const zone = zoneOf.get(b.baseId)!;
      const at = (instant: number) => {
        const { dayNo, minute } = minuteInZone(instant, zone);
        return (dayNo - first) * MINUTES + minute;
      };
      return {
        id: b.id,
        baseId: b.baseId,
        hireIncome: (b.hireDayMinor ?? book.hireDayMinor) / 100,
        hires: hiresSince(known, (first - 2) * DAY_MS)
          // Years of hires are known: only those near these days are turned to the clock of the base.
          .filter((h) => h.back > (first - 2) * DAY_MS && h.out < (first + days + 2) * DAY_MS)
          .map((h) => [at(h.out), at(h.back)] as const)
          .filter(([out, back]) => back > 0 && out < days * MINUTES),
        hireChance: Array.from({ length: days }, (_, d) => chanceOfHire(known, first + d)),
        engines: (known?.engines ?? []).map((e) => ({ id: e.id, cylinders: e.cylinders, traits: e.traits })),
      };
    }),
    tasks,
    parts: [...used.values()].map(({ partId, baseId: at }) => ({
      partId,
      baseId: at,
      onHand: onHand.get(at)?.get(partId) ?? 0,
      arrivals: arrivals
        .filter((a) => a.partId === partId && a.baseId === at)
        .map((a) => ({ day: dayNumber(a.day) - first, quantity: a.quantity })),
    })),
  };
  return {
    facts,
    dues,
    moveCost: book.moveCostMinor / 100,
    currency: book.currency,
    clock: book.clock,
    zoneOf,
    fromNow: (at) => fromNow(facts, at, zoneOf),
  };
}

/**
 * Work that stands on an open card and is neither in a programme nor asked for: somebody wants it, on the card's day.
 * Without it the card would stand nowhere in the plan.
 */
function cardedBesides(
  fleet: FleetCache,
  boatIds: ReadonlySet<number>,
  due: readonly EngineDue[],
  now: Date,
): EngineDue[] {
  const known = new Set(due.map((d) => `${d.facts.id} ${d.due.task}`));
  return [...boatIds].flatMap((id) =>
    (fleet.boats.get(id)?.engines ?? []).flatMap((facts) =>
      [...facts.openJobs].flatMap(([task, card]): EngineDue[] =>
        known.has(`${facts.id} ${task}`)
          ? []
          : [
              {
                facts,
                rule: noRule(task),
                due: followUpDue(
                  task,
                  card.day,
                  facts.lastDone.get(task) ?? null,
                  dayNumber(dayInZone(now, facts.timeZone)),
                ),
              },
            ],
      ),
    ),
  );
}

function grouped<T, K>(list: readonly T[], key: (item: T) => K): Map<K, T[]> {
  const map = new Map<K, T[]>();
  for (const item of list) {
    const own = map.get(key(item));
    if (own) own.push(item);
    else map.set(key(item), [item]);
  }
  return map;
}

/** Whether a task belongs into a plan: over, unknown, or likely due before that day. */
function wanted(due: EngineDue['due'], on: DueOn['on'], until: number): boolean {
  if (due.state === 'over' || due.state === 'unknown') return true;
  const day = on?.likely ?? on?.early ?? null;
  return day !== null && dayNumber(day) < until;
}

export interface OpenJobRow {
  id: number;
  version: number;
  boatId: number;
  technicianId: number;
  day: Day;
  startMinute: number | null;
  pinned: boolean;
  tasks: { engineId: number; task: TaskKind; state: 'open' | 'done' | 'left'; templateVersion: number }[];
}

/**
 * Open jobs of these boats, with their tasks.
 *
 * @param lock for who writes them: what somebody ticks, moves or finishes at this moment is waited for and then read
 */
export async function openJobs(
  db: Db | Tx,
  boatIds: number[] | null,
  { lock = false }: { lock?: boolean } = {},
): Promise<OpenJobRow[]> {
  const { job, jobTask } = tables;
  const found = db
    .select()
    .from(job)
    .where(and(eq(job.status, 'open'), boatIds === null ? undefined : among(job.boatId, boatIds)))
    .orderBy(asc(job.day), asc(job.id))
    .limit(20_000);
  const jobs = await (lock ? found.for('update') : found);
  if (jobs.length === 0) return [];
  const tasks = grouped(
    await db
      .select()
      .from(jobTask)
      .where(
        among(
          jobTask.jobId,
          jobs.map((j) => j.id),
        ),
      ),
    (t) => t.jobId,
  );
  return jobs.map(({ id, version, boatId, technicianId, day, startMinute, pinned }) => ({
    id,
    version,
    boatId,
    technicianId,
    day,
    startMinute,
    pinned,
    tasks: (tasks.get(id) ?? []).map(({ engineId, task, state, templateVersion }) => ({
      engineId,
      task,
      state,
      templateVersion,
    })),
  }));
}

export const dayAt = (firstDay: Day, d: number): Day => dayFromNumber(dayNumber(firstDay) + d);
