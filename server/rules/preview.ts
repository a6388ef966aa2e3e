import { type BoatFacts, type EngineFacts, aheadOf, dueOfEngine } from '@diurna/core/ahead';
import type { RulePreview } from '@diurna/contract/rules';
import { dayInZone, dayNumber } from '@diurna/core/calendar';
import {
  ACCESS_MINUTES,
  dueDays,
  EARLY_PERCENT,
  handsOnMinutes,
  nearestLimit,
  ruleInForce,
  servicesIn,
  TASKS,
  type HoursUpTo,
  type LastDone,
  type ProgrammeRule,
  type RuleInForce,
  type RuleOverride,
  type SchoolChoices,
  type TaskKind,
  noRule,
} from '@diurna/core/service';
import { partsForEngine, type Fitment, type ModelVolumes } from '@diurna/core/stores';
import { hoursAfter, hoursOn } from '@diurna/core/usage';
import { toMillilitres } from '@diurna/core/units';
import { type Db, tables } from '../db/index.ts';
import { type FleetCache } from '../service/index.ts';
import { fitmentsOf } from '../stores/index.ts';

/** The rules as they would be. */
export interface Would {
  choices: SchoolChoices;
  /** The answers as they are. */
  were: SchoolChoices;
  overridesOf: (facts: EngineFacts) => readonly RuleOverride[];
  /** The programme of its model, where that changes. */
  programmeOf?: (facts: EngineFacts) => readonly ProgrammeRule[];
}

const YEAR = 365;
/**
 * Years that are averaged: no usual interval is longer. With their leap day, so that what comes each year comes in
 * each.
 */
const YEARS = 4;
const STRETCH = YEARS * YEAR + 1;
const EXAMPLES = 40;
const ENGINES_AT_ONCE = 100;

const sameLimits = (a: RuleInForce, b: RuleInForce) =>
  a.everyHours === b.everyHours &&
  a.everyMonths === b.everyMonths &&
  (a.firstHours ?? null) === (b.firstHours ?? null) &&
  (a.anchor ?? null) === (b.anchor ?? null) &&
  (a.latePercent ?? 0) === (b.latePercent ?? 0) &&
  (a.counting !== 'ladder' || (a.earlyPercent ?? EARLY_PERCENT) === (b.earlyPercent ?? EARLY_PERCENT)) &&
  ((a.counting ?? 'rolling') === (b.counting ?? 'rolling') || (a.everyHours === null && b.everyHours === null));

/**
 * Works a change out on the whole fleet: which due dates move, and what the tasks it touches cost in a year like the
 * one
 * behind (as if all had been done when it began) and in the years ahead, under the rules as they are and as they would
 * be. Both are a year on average of several: what comes round every other year costs half, not nothing.
 */
export async function previewRules(db: Db, fleet: FleetCache, now: Date, would: Would): Promise<RulePreview> {
  const prices = await readPrices(db);
  const sum: RulePreview = {
    engines: 0,
    moved: 0,
    earlier: 0,
    later: 0,
    newlyOver: 0,
    noLongerOver: 0,
    unpriced: 0,
    issued: 0,
    otherParts: 0,
    lastYear: { before: nothing(), after: nothing() },
    comingYear: { before: nothing(), after: nothing() },
    examples: [],
  };
  const moves: (RulePreview['examples'][number] & { far: number })[] = [];
  const issued = new Set<number>();
  let n = 0;
  for (const boat of [...fleet.boats.values()]) {
    for (const facts of boat.engines) {
      if (++n % ENGINES_AT_ONCE === 0) await new Promise(setImmediate);
      const overrides = would.overridesOf(facts);
      const programme = would.programmeOf?.(facts) ?? facts.programme;
      const tasks = new Set([...facts.rules, ...programme].map((r) => r.task));
      const changed = [...tasks]
        .map((task) => {
          const p = programme.find((r) => r.task === task);
          return {
            before: facts.rules.find((r) => r.task === task) ?? noRule(task),
            after: p ? ruleInForce(p, would.choices, overrides, facts) : noRule(task),
          };
        })
        .filter(({ before, after }) => !sameLimits(before, after) || takesOther(facts, after.task, would, prices));
      if (changed.length === 0) continue;
      sum.engines++;
      for (const { after } of changed) {
        const card = facts.openJobs.get(after.task);
        if (card) issued.add(card.id);
      }
      for (const { before, after } of changed)
        lookAt(sum, moves, facts, boat, before, after, dayInZone(now, facts.timeZone), prices, would);
    }
  }
  sum.issued = issued.size;
  for (const year of [sum.lastYear, sum.comingYear])
    for (const side of [year.before, year.after]) side.services = Math.round(side.services * 10) / 10;
  moves.sort((a, b) => b.far - a.far);
  sum.examples = moves.slice(0, EXAMPLES).map(({ far: _, ...example }) => example);
  return sum;
}

const nothing = () => ({ services: 0, minutes: 0, partsMinor: 0 });

/** So many services of these years, as a year on average. */
function add(year: RulePreview['lastYear']['before'], all: number, each: ReturnType<typeof costOf>): void {
  const services = all / YEARS;
  year.services += services;
  year.minutes += services * each.minutes;
  year.partsMinor += Math.round(services * (each.partsMinor ?? 0));
}

function lookAt(
  sum: RulePreview,
  moves: (RulePreview['examples'][number] & { far: number })[],
  facts: EngineFacts,
  boat: BoatFacts,
  before: RuleInForce,
  after: RuleInForce,
  today: string,
  prices: Prices,
  would: Would,
): void {
  const now = dayNumber(today);
  const [was] = dueOfEngine(facts, boat, today, [before]);
  const [is] = dueOfEngine(facts, boat, today, [after]);
  const wasOver = was!.due.state === 'over';
  const isOver = is!.due.state === 'over';
  if (isOver && !wasOver) sum.newlyOver++;
  if (wasOver && !isOver) sum.noLongerOver++;
  // What is over stands at today; what nobody can say stands far off.
  const dayOf = (due: NonNullable<typeof was>['due']) =>
    due.state === 'over' ? today : (dueDays(due)?.likely ?? null);
  const a = dayOf(was!.due);
  const b = dayOf(is!.due);
  const number = (day: string | null) => (day === null ? now + 2 * YEAR : dayNumber(day));
  const far = number(b) - number(a);
  if (far !== 0 || wasOver !== isOver) {
    sum.moved++;
    if (far < 0) sum.earlier++;
    if (far > 0) sum.later++;
    moves.push({
      engineId: facts.id,
      boatName: facts.boatName,
      position: facts.position,
      task: before.task,
      far: (isOver && !wasOver ? 10_000 : 0) + Math.abs(far),
      before: { state: was!.due.state, likely: a, text: nearestLimit(was!.due) },
      after: { state: is!.due.state, likely: b, text: nearestLimit(is!.due) },
    });
  }
  const costs = {
    before: costOf(facts, before.task, prices, would.were),
    after: costOf(facts, before.task, prices, would.choices),
  };
  if (takesOther(facts, before.task, would, prices)) sum.otherParts++;
  const past = pastYear(facts, boat, now);
  // With the last day: what is done every twelve months falls due once in each year.
  const start = past.last.dayNo;
  add(sum.lastYear.before, servicesIn(before, past.last, past.hours, start, start + STRETCH + 1).length, costs.before);
  add(sum.lastYear.after, servicesIn(after, past.last, past.hours, start, start + STRETCH + 1).length, costs.after);
  const last = facts.lastDone.get(before.task) ?? newOf(facts);
  if (last === null) return;
  const coming = comingYear(facts, boat, last);
  add(sum.comingYear.before, servicesIn(before, coming.last, coming.hours, now, now + STRETCH).length, costs.before);
  const services = servicesIn(after, coming.last, coming.hours, now, now + STRETCH).length;
  add(sum.comingYear.after, services, costs.after);
  if (costs.after.partsMinor === null && services > 0) sum.unpriced++;
}

const newOf = (facts: EngineFacts): LastDone | null =>
  facts.boughtNew && facts.inServiceOn !== null ? { day: facts.inServiceOn, hours: 0, from: 'new' } : null;

interface Course {
  last: { dayNo: number; hours: number; isNew: boolean };
  hours: HoursUpTo;
}

/** Hours as they are expected to run, from the last time on. */
function comingYear(facts: EngineFacts, boat: BoatFacts, last: LastDone): Course {
  const dayNo = dayNumber(last.day);
  const isNew = last.from === 'new';
  const { lifeHours, lastReadDay } = facts;
  if (last.hours !== null && lifeHours !== null && lastReadDay !== null) {
    const read = dayNumber(lastReadDay);
    const index = boat.engines.indexOf(facts);
    return {
      last: { dayNo, hours: last.hours, isNew },
      hours: (day) => (day <= read ? lifeHours : lifeHours + hoursAfter(boat.forecast!, index, read, day + 1).mean),
    };
  }
  const ahead = aheadOf(boat, facts);
  return { last: { dayNo, hours: 0, isNew }, hours: (day) => ahead.hours(dayNo, day + 1)?.mean ?? 0 };
}

/** Hours as they really ran, with everything done when the year began. */
function pastYear(facts: EngineFacts, boat: BoatFacts, now: number): Course {
  const start = now - YEAR;
  const { days, hours } = facts.readings;
  if (days.length > 1) {
    const first = hours[0]!;
    const end = hours[hours.length - 1]!;
    const at: HoursUpTo = (day) => hoursOn(facts.readings, day) ?? (day < days[0]! ? first : end);
    return { last: { dayNo: start, hours: at(start), isNew: false }, hours: yearAfterYear(at, start) };
  }
  const ahead = aheadOf(boat, facts);
  const at: HoursUpTo = (day) => ahead.hours(start, day + 1)?.mean ?? 0;
  return { last: { dayNo: start, hours: 0, isNew: false }, hours: yearAfterYear(at, start) };
}

/** Hours of a year that comes again and again. */
const yearAfterYear =
  (at: HoursUpTo, start: number): HoursUpTo =>
  (day) => {
    const years = Math.max(0, Math.floor((day - start) / YEAR));
    return years * (at(start + YEAR) - at(start)) + at(day - years * YEAR);
  };

interface Prices {
  byPart: ReadonlyMap<number, { priceMinor: number | null; unit: 'each' | 'mL' }>;
  fitments: ReadonlyMap<number, Fitment[]>;
  volumes: ReadonlyMap<number, ModelVolumes>;
}

async function readPrices(db: Db): Promise<Prices> {
  const [parts, fitments, models] = await Promise.all([
    db.select({ id: tables.part.id, priceMinor: tables.part.priceMinor, unit: tables.part.unit }).from(tables.part),
    fitmentsOf(db),
    db.select().from(tables.engineModel),
  ]);
  const byModel = new Map<number, Fitment[]>();
  for (const f of fitments) byModel.set(f.modelId, [...(byModel.get(f.modelId) ?? []), f]);
  const ml = (value: number | null, unit: Parameters<typeof toMillilitres>[1] | null) =>
    value === null || unit === null ? null : toMillilitres(value, unit);
  return {
    byPart: new Map(parts.map((p) => [p.id, p])),
    fitments: byModel,
    volumes: new Map(
      models.map((m) => [m.id, { sumpMl: ml(m.sumpValue, m.sumpUnit), gearCaseMl: ml(m.gearValue, m.gearUnit) }]),
    ),
  };
}

/**
 * Minutes of hands and access of one service by itself, and its parts, on average over two services: some parts are
 * renewed every other time. Parts are null where a part or price is not known.
 */
function costOf(
  facts: EngineFacts,
  task: TaskKind,
  prices: Prices,
  choices: SchoolChoices,
): { minutes: number; partsMinor: number | null } {
  const minutes =
    handsOnMinutes(task, facts.cylinders) + TASKS[task].access.reduce((all, kind) => all + ACCESS_MINUTES[kind], 0);
  const turns = partsOfTwo(facts, task, prices, choices);
  let partsMinor: number | null = turns.some((t) => t.unknown.length > 0) ? null : 0;
  for (const { partId, quantity } of turns.flatMap((t) => t.needs)) {
    const part = prices.byPart.get(partId);
    if (part?.priceMinor == null) partsMinor = null;
    else if (partsMinor !== null)
      partsMinor += (part.priceMinor * (part.unit === 'mL' ? quantity / 1000 : quantity)) / turns.length;
  }
  return { minutes, partsMinor };
}

/** What the next service takes, and the one after it. */
const partsOfTwo = (facts: EngineFacts, task: TaskKind, prices: Prices, choices: SchoolChoices) =>
  [0, 1].map((more) =>
    partsForEngine(
      facts,
      prices.volumes.get(facts.modelId) ?? { sumpMl: null, gearCaseMl: null },
      [task],
      prices.fitments.get(facts.modelId) ?? [],
      {
        choices,
        times: more === 0 && facts.times === null ? null : { [task]: (facts.times?.[task] ?? 0) + more },
        traits: facts.traits,
      },
    ),
  );

/** Whether the task takes other parts by the answers as they would be. */
const takesOther = (facts: EngineFacts, task: TaskKind, { were, choices }: Would, prices: Prices): boolean =>
  were !== choices &&
  JSON.stringify(partsOfTwo(facts, task, prices, were)) !== JSON.stringify(partsOfTwo(facts, task, prices, choices));
