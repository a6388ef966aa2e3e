import { dayFromNumber, dayInZone, dayNumber, type Day } from '@diurna/core/calendar';
import { traitsOf, type ModelTraits, type Position } from '@diurna/core/fleet';
import { hireHoursByDay, type HireSpan } from '@diurna/core/hires';
import {
  openFollowUps,
  ruleInForce,
  taskApplies,
  type FollowUp,
  type LastDone,
  type ServiceDone,
  type ProgrammeRule,
  type RuleBasis,
  type RuleInForce,
  type RuleOverride,
  type SchoolChoices,
  type Stroke,
  type TaskKind,
  type UseAhead,
} from '@diurna/core/service';
import {
  crossingAfter,
  DAYS_BEHIND,
  forecastBoat,
  hiresExplainUse,
  hoursAfter,
  hoursOn,
  hoursPerWeek,
  windowAround,
  type BoatForecast,
  type BoatUse,
  type Habits,
  type ReadingSeries,
} from '@diurna/core/usage';
import { sql, type SQL } from 'drizzle-orm';
import type { Db, Tx } from '../db/index.ts';

/** What the due dates of one engine are made of. */
export interface EngineFacts {
  id: number;
  serial: string;
  position: Position;
  boatId: number;
  boatName: string;
  baseId: number;
  timeZone: string;
  hemisphere: 'north' | 'south';
  sand: boolean;
  salt: boolean;
  modelId: number;
  modelName: string;
  stroke: Stroke;
  cylinders: number;
  meterId: number | null;
  meterOffset: number;
  inServiceOn: Day | null;
  boughtNew: boolean;
  lifeHours: number | null;
  lastReadDay: Day | null;
  hoursPerWeek: number | null;
  /** The last reading of each week in life hours, as far back as habits are learned. */
  readings: ReadingSeries;
  lastDone: Map<TaskKind, LastDone>;
  rules: RuleInForce[];
  /** What the rules in force were made of, for looking at changes. */
  programme: ProgrammeRule[];
  overrides: RuleOverride[];
  openJobs: Map<TaskKind, OpenJob>;
  traits: ModelTraits;
  /** Why it must not go out, one line each; what nobody has decided yet counts. */
  held: string[];
  /** Work asked for besides the programme that can be done now. */
  followUps: FollowUp[];
}

/** The card a task stands on. */
export interface OpenJob {
  id: number;
  day: Day;
  technician: string;
}

/** A boat with engines, its hires that are not cancelled, and how its engines will run. */
export interface BoatFacts {
  id: number;
  engines: EngineFacts[];
  hires: HireSpan[];
  use: BoatUse;
  forecast: BoatForecast | null;
}

interface FactsRow extends Record<string, unknown> {
  id: number;
  serial: string;
  position: Position;
  boat_id: number;
  boat_name: string;
  base_id: number;
  time_zone: string;
  hemisphere: 'north' | 'south';
  sand: boolean;
  salt: boolean;
  power_hp: string;
  traits: Partial<ModelTraits>;
  model_id: number;
  model_name: string;
  stroke: Stroke;
  cylinders: number;
  in_service_on: string | null;
  bought_new: boolean;
  meter_id: number | null;
  hours_offset: string | null;
  last_day: string | null;
  last_hours: string | null;
}

const number = (text: string | null) => (text === null ? null : Number(text));

/** Two numbers after each other in one text, because a row for each reading or hire costs several times as much. */
const numbers = (text: string) => text.split(' ').map(Number);

/** The facts of these engines, or of all. */
export async function readEngines(db: Db, ids: number[] | null, now: Date): Promise<EngineFacts[]> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const since = dayFromNumber(Math.floor(now.getTime() / 86_400_000) - DAYS_BEHIND);
  const [facts, series, done, rules, open, held, asked, book] = await Promise.all([
    db.execute<FactsRow>(sql`
      select e.id, e.serial, e.position, e.boat_id, b.name as boat_name, b.base_id, b.sand, b.salt, s.time_zone, s.hemisphere,
             e.model_id, m.maker || ' ' || m.name as model_name, m.stroke, m.cylinders, m.power_hp, m.traits, e.in_service_on, e.bought_new,
             t.id as meter_id, t.hours_offset, l.day as last_day, l.hours as last_hours
      from engine e
      join boat b on b.id = e.boat_id and not b.retired
      join base s on s.id = b.base_id
      join engine_model m on m.id = e.model_id
      left join meter t on t.engine_id = e.id and t.removed_on is null
      left join lateral (
        select r.day, r.count + rm.hours_offset as hours from reading r join meter rm on rm.id = r.meter_id
        where r.engine_id = e.id and r.withdrawn_at is null order by r.day desc, r.id desc limit 1) l on true
      where not e.retired and ${these(sql`e.id`)}`),
    // Weeks since a Monday; the last reading of each.
    db.execute<{ engine_id: number; series: string }>(sql`
      select w.engine_id, string_agg(w.day || ' ' || w.hours, ' ' order by w.day) as series from (
        select distinct on (r.engine_id, (r.day - date '2000-01-03') / 7)
               r.engine_id, r.day - date '1970-01-01' as day, r.count + m.hours_offset as hours
        from reading r join meter m on m.id = r.meter_id
        where r.withdrawn_at is null and r.day >= ${since}::date and ${these(sql`r.engine_id`)}
        order by r.engine_id, (r.day - date '2000-01-03') / 7, r.day desc, r.id desc) w
      group by w.engine_id`),
    db.execute<{ engine_id: number; task: TaskKind; done_on: string; hours: string | null }>(sql`
      select distinct on (d.engine_id, d.task) d.engine_id, d.task, d.done_on, d.hours
      from service_entry d
      where d.cancels is null and ${these(sql`d.engine_id`)}
        and not exists (select 1 from service_entry c where c.cancels = d.id)
      order by d.engine_id, d.task, d.done_on desc, d.id desc`),
    db.execute<{
      model_id: number;
      task: TaskKind;
      every_hours: string | null;
      every_months: number | null;
      basis: RuleBasis;
      season_end: boolean;
      early_percent: number | null;
      late_percent: number | null;
      sand_percent: number | null;
      salt_percent: number | null;
    }>(sql`
      select model_id, task, every_hours, every_months, basis, season_end, early_percent, late_percent, sand_percent, salt_percent from programme_rule order by model_id, task`),
    db.execute<{ engine_id: number; task: TaskKind; id: number; day: Day; technician: string }>(sql`
      select t.engine_id, t.task, j.id, j.day, p.name as technician
      from job_task t join job j on j.id = t.job_id join person p on p.id = j.technician_id
      where t.on_open_job and ${these(sql`t.engine_id`)}`),
    db.execute<{ engine_id: number; why: string }>(sql`
      select engine_id, why from hold where released_at is null and ${these(sql`engine_id`)}
      union all
      select f.engine_id, f.seen || ' To be decided on the card.' from finding f join job j on j.id = f.job_id
      where f.state = 'open' and f.weight in ('hold', 'stop') and j.status <> 'cancelled' and ${these(sql`f.engine_id`)}`),
    readFollowUps(db, ids),
    readRuleBook(db),
  ]);

  const rulesOf = new Map<number, ProgrammeRule[]>();
  for (const r of rules.rows) {
    const list = rulesOf.get(r.model_id) ?? [];
    list.push({
      task: r.task,
      everyHours: number(r.every_hours),
      everyMonths: r.every_months,
      basis: r.basis,
      seasonEnd: r.season_end,
      earlyPercent: r.early_percent,
      latePercent: r.late_percent,
      sandPercent: r.sand_percent,
      saltPercent: r.salt_percent,
    });
    rulesOf.set(r.model_id, list);
  }
  const seriesOf = new Map(series.rows.map((r) => [r.engine_id, r.series]));
  const doneOf = new Map<number, Map<TaskKind, LastDone>>();
  for (const d of done.rows) {
    const map = doneOf.get(d.engine_id) ?? new Map<TaskKind, LastDone>();
    map.set(d.task, { day: d.done_on, hours: number(d.hours), from: 'service' });
    doneOf.set(d.engine_id, map);
  }
  const heldOf = new Map<number, string[]>();
  for (const h of held.rows) heldOf.set(h.engine_id, [...(heldOf.get(h.engine_id) ?? []), h.why]);
  const openOf = new Map<number, Map<TaskKind, OpenJob>>();
  for (const { engine_id, task, ...job } of open.rows) {
    const map = openOf.get(engine_id) ?? new Map<TaskKind, OpenJob>();
    map.set(task, job);
    openOf.set(engine_id, map);
  }
  return facts.rows.map((row) => {
    const readings = readingSeries(seriesOf.get(row.id));
    const programme = (rulesOf.get(row.model_id) ?? []).filter((r) => taskApplies(r.task, row.stroke));
    const overrides = book.overrides.filter(
      (o) => o.engineId === row.id || o.boatId === row.boat_id || o.baseId === row.base_id,
    );
    return {
      id: row.id,
      serial: row.serial,
      position: row.position,
      boatId: row.boat_id,
      boatName: row.boat_name,
      baseId: row.base_id,
      timeZone: row.time_zone,
      hemisphere: row.hemisphere,
      sand: row.sand,
      salt: row.salt,
      modelId: row.model_id,
      modelName: row.model_name,
      stroke: row.stroke,
      cylinders: row.cylinders,
      meterId: row.meter_id,
      meterOffset: number(row.hours_offset) ?? 0,
      inServiceOn: row.in_service_on,
      boughtNew: row.bought_new,
      lifeHours: number(row.last_hours),
      lastReadDay: row.last_day,
      hoursPerWeek: weekly(readings, dayNumber(dayInZone(now, row.time_zone))),
      readings,
      lastDone: doneOf.get(row.id) ?? new Map<TaskKind, LastDone>(),
      programme,
      overrides,
      rules: programme.map((p) => ruleInForce(p, book.choices, overrides, row)),
      openJobs: openOf.get(row.id) ?? new Map<TaskKind, OpenJob>(),
      traits: traitsOf({
        powerHp: Number(row.power_hp),
        stroke: row.stroke,
        cylinders: row.cylinders,
        traits: row.traits,
      }),
      held: heldOf.get(row.id) ?? [],
      followUps: asked.get(row.id) ?? [],
    };
  });
}

/** Work asked for of these engines, or of all, that is not done and waits for nothing. */
async function readFollowUps(db: Db, ids: number[] | null): Promise<Map<number, FollowUp[]>> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const { rows } = await db.execute<{
    id: number;
    engine_id: number;
    task: TaskKind;
    due_on: Day | null;
    after_id: number | null;
    at: number;
    why: string;
  }>(sql`
    select id, engine_id, task, due_on, after_id, (extract(epoch from at) * 1000)::float8 as at, why from follow_up where called_off_at is null and ${these(sql`engine_id`)} order by id`);
  if (rows.length === 0) return new Map();
  const askedOf = new Map<number, FollowUp[]>();
  for (const r of rows) {
    const asked: FollowUp = { id: r.id, task: r.task, dueOn: r.due_on, afterId: r.after_id, at: r.at, why: r.why };
    const list = askedOf.get(r.engine_id);
    if (list) list.push(asked);
    else askedOf.set(r.engine_id, [asked]);
  }
  const engineIds = [...askedOf.keys()];
  const done = await db.execute<{ id: number; engine_id: number; task: TaskKind; at: number }>(sql`
    select s.id, s.engine_id, s.task, (extract(epoch from s.entered_at) * 1000)::float8 as at from service_entry s
    where s.engine_id = any(${sql.param(engineIds)}::int[]) and s.cancels is null and not exists (select 1 from service_entry c where c.cancels = s.id)
      and s.entered_at >= (select min(f.at) from follow_up f where f.engine_id = s.engine_id and f.called_off_at is null)
    order by s.id`);
  const doneOf = new Map<number, ServiceDone[]>();
  for (const { engine_id, ...d } of done.rows) {
    const list = doneOf.get(engine_id);
    if (list) list.push(d);
    else doneOf.set(engine_id, [d]);
  }
  return new Map(
    [...askedOf].map(([engineId, asked]) => [
      engineId,
      openFollowUps(asked, doneOf.get(engineId) ?? [])
        .filter((f) => f.waitsFor === null)
        .map((f) => f.followUp),
    ]),
  );
}

/** The answers of the schools, and overrides with the places they hold for. */
export interface RuleBook {
  choices: SchoolChoices;
  overrides: (RuleOverride & { baseId: number | null; boatId: number | null; engineId: number | null })[];
}

export async function readRuleBook(db: Db | Tx): Promise<RuleBook> {
  // One after the other: it is read in transactions too, which have one connection.
  const choices = await db.execute<{ school: string; answer: string }>(sql`select school, answer from school_choice`);
  const overrides = await db.execute<{
    id: number;
    base_id: number | null;
    boat_id: number | null;
    engine_id: number | null;
    task: TaskKind;
    every_hours: string | null;
    every_months: number | null;
    reason: string;
    author: string | null;
  }>(sql`
      select o.id, o.base_id, o.boat_id, o.engine_id, o.task, o.every_hours, o.every_months, o.reason, p.name as author
      from rule_override o left join person p on p.id = o.person_id where o.ended_at is null`);
  return {
    choices: Object.fromEntries(choices.rows.map((c) => [c.school, c.answer])),
    overrides: overrides.rows.map((o) => ({
      id: o.id,
      baseId: o.base_id,
      boatId: o.boat_id,
      engineId: o.engine_id,
      scope: o.engine_id !== null ? 'engine' : o.boat_id !== null ? 'boat' : 'base',
      task: o.task,
      everyHours: number(o.every_hours),
      everyMonths: o.every_months,
      reason: o.reason,
      author: o.author,
    })),
  };
}

function readingSeries(text: string | undefined): ReadingSeries {
  const all = text === undefined ? [] : numbers(text);
  const days = new Int32Array(all.length / 2);
  const hours = new Float64Array(all.length / 2);
  for (let i = 0; i < days.length; i++) {
    days[i] = all[2 * i]!;
    hours[i] = all[2 * i + 1]!;
  }
  return { days, hours };
}

/** Over the last eight weeks. */
function weekly({ days, hours }: ReadingSeries, today: number): number | null {
  const recent: { day: Day; hours: number }[] = [];
  for (let i = Math.max(0, days.length - 10); i < days.length; i++)
    recent.push({ day: dayFromNumber(days[i]!), hours: hours[i]! });
  return hoursPerWeek(recent, dayFromNumber(today));
}

/** Hires of these boats, or of all, as far back as habits are learned; cancelled ones are left out. */
export async function readHires(db: Db, boatIds: number[] | null, now: Date): Promise<Map<number, HireSpan[]>> {
  const since = new Date(now.getTime() - DAYS_BEHIND * 86_400_000).toISOString();
  const { rows } = await db.execute<{ boat_id: number; spans: string }>(sql`
    select boat_id, string_agg(extract(epoch from out_at)::bigint || ' ' || extract(epoch from back_at)::bigint || ' ' || coalesce(extract(epoch from made_at)::bigint, -1), ' ' order by out_at) as spans
    from hire
    where cancelled_at is null and back_at > ${since}::timestamptz and ${boatIds === null ? sql`true` : sql`boat_id = any(${sql.param(boatIds)}::int[])`}
    group by boat_id`);
  return new Map(
    rows.map((r) => {
      const all = numbers(r.spans);
      const spans: HireSpan[] = [];
      for (let i = 0; i < all.length; i += 3)
        spans.push({
          out: all[i]! * 1000,
          back: all[i + 1]! * 1000,
          madeOn: all[i + 2]! < 0 ? null : all[i + 2]! * 1000,
        });
      return [r.boat_id, spans];
    }),
  );
}

/** Hires must have been kept for so many days before forecasts lean on them. */
const HIRES_TRUSTED_DAYS = 28;

/** The boat as forecasts see it. Its engines share a base, so any of them tells it. */
export function boatOf(engines: EngineFacts[], hires: HireSpan[], now: Date): BoatFacts {
  const { boatId, baseId, timeZone, hemisphere } = engines[0]!;
  const window = windowAround(dayNumber(dayInZone(now, timeZone)));
  const from = hires[0] ? Math.max(window.first, dayNumber(dayInZone(new Date(hires[0].out), timeZone))) : Infinity;
  const kept =
    from <= window.today - HIRES_TRUSTED_DAYS
      ? { hours: hireHoursByDay(hires, window.first, window.days, timeZone), from }
      : null;
  const use: BoatUse = { window, baseId, hemisphere, hires: kept, engines };
  return { id: boatId, engines, hires, forecast: null, use: hiresExplainUse(use) ? use : { ...use, hires: null } };
}

export function foresee(boat: BoatFacts, habits: Habits): void {
  boat.forecast = forecastBoat(boat.use, habits);
}

/** How one engine of the boat will run, for its due dates: from its readings where they reach back, else from hires. */
export function aheadOf(boat: BoatFacts, engine: EngineFacts): UseAhead {
  const index = boat.engines.indexOf(engine);
  const forecast = boat.forecast!;
  const hiresFrom = boat.use.hires?.from ?? Infinity;
  const { days, hours } = engine.readings;
  const lastDay = days.length > 0 ? days[days.length - 1]! : null;
  /** Hours between a day and the last reading after it. */
  const read = (day: number) => {
    const then = lastDay !== null && day < lastDay ? hoursOn(engine.readings, day) : null;
    return then === null ? null : hours[hours.length - 1]! - then;
  };
  return {
    crossing: (day, wanted) => {
      const run = read(day);
      return run === null
        ? crossingAfter(forecast, index, day, wanted)
        : crossingAfter(forecast, index, lastDay!, Math.max(0, wanted - run));
    },
    hours: (day, to) => {
      const run = read(day);
      if (run === null) return day + 1 < hiresFrom ? null : hoursAfter(forecast, index, day, to);
      const { mean, variance } = hoursAfter(forecast, index, lastDay!, to);
      return { mean: run + mean, variance };
    },
  };
}
