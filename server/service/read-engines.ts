import { position, taskKind } from '@diurna/contract/fleet';
import { weeklyHours, type EngineFacts, type OpenJob } from '@diurna/core/ahead';
import { dayFromNumber, dayInZone, dayNumber } from '@diurna/core/calendar';
import { builtAs, TRANSOMS, traitsOf, type ModelTraits, type Variant } from '@diurna/core/fleet';
import {
  RULE_BASES,
  ruleInForce,
  taskApplies,
  type LastDone,
  waitsIn,
  withParts,
  type TimesDone,
  type ProgrammeRule,
  type TaskKind,
} from '@diurna/core/service';
import { DAYS_BEHIND, type ReadingSeries } from '@diurna/core/usage';
import { sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, rowsOf, json } from '../db/index.ts';
import { runInState } from './run-in-state.ts';
import { readAsked } from './read-follow-ups.ts';
import { readOilWatches } from './read-oil-watches.ts';
import { numbers } from './read-hires.ts';
import { readRuleBook } from './rule-book.ts';

const factsRow = z.object({
  id: z.number(),
  serial: z.string(),
  position,
  boat_id: z.number(),
  boat_name: z.string(),
  base_id: z.number(),
  time_zone: z.string(),
  hemisphere: z.enum(['north', 'south']),
  sand: z.boolean(),
  salt: z.boolean(),
  power_hp: z.string(),
  traits: json<Partial<ModelTraits>>(),
  variants: json<Variant[]>(),
  transom: z.enum(TRANSOMS).nullable(),
  model_id: z.number(),
  model_name: z.string(),
  stroke: z.union([z.literal(2), z.literal(4)]),
  cylinders: z.number(),
  in_service_on: z.string().nullable(),
  bought_new: z.boolean(),
  meter_id: z.number().nullable(),
  hours_offset: z.string().nullable(),
  last_day: z.string().nullable(),
  last_hours: z.string().nullable(),
});

const number = (text: string | null) => (text === null ? null : Number(text));

/** The facts of these engines, or of all. */
export async function readEngines(db: Db, ids: number[] | null, now: Date): Promise<EngineFacts[]> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const since = dayFromNumber(Math.floor(now.getTime() / 86_400_000) - DAYS_BEHIND);
  const [facts, series, done, rules, open, held, asked, deferred, logged, oil, book] = await Promise.all([
    rowsOf(
      db,
      factsRow,
      sql`
      select e.id, e.serial, e.position, e.boat_id, b.name as boat_name, b.base_id, b.sand, b.salt, s.time_zone,
        s.hemisphere,
             e.model_id, m.maker || ' ' || m.name as model_name, m.stroke, m.cylinders,
             m.power_hp, m.traits, m.variants, e.transom, e.in_service_on, e.bought_new,
             t.id as meter_id, t.hours_offset, l.day as last_day, l.hours as last_hours
      from engine e
      join boat b on b.id = e.boat_id and not b.retired
      join base s on s.id = b.base_id
      join engine_model m on m.id = e.model_id
      left join meter t on t.engine_id = e.id and t.removed_on is null
      left join lateral (
        select r.day, r.count + rm.hours_offset as hours from reading r join meter rm on rm.id = r.meter_id
        where r.engine_id = e.id and r.withdrawn_at is null order by r.day desc, r.id desc limit 1) l on true
      where not e.retired and ${these(sql`e.id`)}`,
    ),
    // Weeks since a Monday; the last reading of each.
    rowsOf(
      db,
      z.object({ engine_id: z.number(), series: z.string() }),
      sql`
      select w.engine_id, string_agg(w.day || ' ' || w.hours, ' ' order by w.day) as series from (
        select distinct on (r.engine_id, (r.day - date '2000-01-03') / 7)
               r.engine_id, r.day - date '1970-01-01' as day, r.count + m.hours_offset as hours
        from reading r join meter m on m.id = r.meter_id
        where r.withdrawn_at is null and r.day >= ${since}::date and ${these(sql`r.engine_id`)}
        order by r.engine_id, (r.day - date '2000-01-03') / 7, r.day desc, r.id desc) w
      group by w.engine_id`,
    ),
    rowsOf(
      db,
      z.object({
        engine_id: z.number(),
        task: taskKind,
        done_on: z.string(),
        hours: z.string().nullable(),
        n: z.number(),
      }),
      sql`
      select distinct on (d.engine_id, d.task) d.engine_id, d.task, d.done_on, d.hours,
        (count(*) over (partition by d.engine_id, d.task))::int as n
      from service_entry d
      where d.cancels is null and ${these(sql`d.engine_id`)}
        and not exists (select 1 from service_entry c where c.cancels = d.id)
      order by d.engine_id, d.task, d.done_on desc, d.id desc`,
    ),
    rowsOf(
      db,
      z.object({
        model_id: z.number(),
        task: taskKind,
        every_hours: z.string().nullable(),
        every_months: z.number().nullable(),
        basis: z.enum(RULE_BASES),
        season_end: z.boolean(),
        early_percent: z.number().nullable(),
        late_percent: z.number().nullable(),
        sand_percent: z.number().nullable(),
        salt_percent: z.number().nullable(),
      }),
      sql`
      select model_id, task, every_hours, every_months, basis, season_end, early_percent, late_percent, sand_percent,
        salt_percent
        from programme_rule order by model_id, task`,
    ),
    rowsOf(
      db,
      z.object({ engine_id: z.number(), task: taskKind, id: z.number(), day: z.string(), technician: z.string() }),
      sql`
      select t.engine_id, t.task, j.id, j.day, p.name as technician
      from job_task t join job j on j.id = t.job_id join person p on p.id = j.technician_id
      where t.on_open_job and ${these(sql`t.engine_id`)}`,
    ),
    rowsOf(
      db,
      z.object({ engine_id: z.number(), why: z.string() }),
      sql`
      select engine_id, why from hold where released_at is null and ${these(sql`engine_id`)}
      union all
      select f.engine_id, f.seen || ' To be decided on the card.' from finding f join job j on j.id = f.job_id
      where f.state = 'open' and f.weight in ('hold', 'stop') and j.status <> 'cancelled'
        and ${these(sql`f.engine_id`)}`,
    ),
    readAsked(db, ids),
    rowsOf(
      db,
      z.object({
        engine_id: z.number(),
        id: z.number(),
        task: taskKind,
        until: z.string(),
        spring: z.boolean(),
        reason: z.string(),
        by: z.string().nullable(),
        day: z.string(),
      }),
      sql`
      select d.engine_id, d.id, d.task, d.until, d.spring, d.reason, p.name as by, d.day
      from deferral d left join person p on p.id = d.person_id
      where d.ended_at is null and ${these(sql`d.engine_id`)} order by d.id`,
    ),
    rowsOf(
      db,
      z.object({ engine_id: z.number(), hours: z.number() }),
      sql`select engine_id, sum(hours)::float8 as hours from break_in_entry where ${these(sql`engine_id`)}
        group by engine_id`,
    ),
    readOilWatches(db, ids),
    readRuleBook(db),
  ]);

  const rulesOf = new Map<number, ProgrammeRule[]>();
  for (const r of rules) {
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
  const seriesOf = new Map(series.map((r) => [r.engine_id, r.series]));
  const timesOf = new Map<number, NonNullable<TimesDone>>();
  const doneOf = new Map<number, Map<TaskKind, LastDone>>();
  for (const d of done) {
    const map = doneOf.get(d.engine_id) ?? new Map<TaskKind, LastDone>();
    map.set(d.task, { day: d.done_on, hours: number(d.hours), from: 'service' });
    doneOf.set(d.engine_id, map);
    timesOf.set(d.engine_id, { ...timesOf.get(d.engine_id), [d.task]: d.n });
  }
  const heldOf = new Map<number, string[]>();
  for (const h of held) heldOf.set(h.engine_id, [...(heldOf.get(h.engine_id) ?? []), h.why]);
  const openOf = new Map<number, Map<TaskKind, OpenJob>>();
  for (const { engine_id, task, ...job } of open) {
    const map = openOf.get(engine_id) ?? new Map<TaskKind, OpenJob>();
    map.set(task, job);
    openOf.set(engine_id, map);
  }
  const loggedOf = new Map(logged.map((l) => [l.engine_id, l.hours]));
  return facts.map((row) => {
    const readings = readingSeries(seriesOf.get(row.id));
    const programme = (rulesOf.get(row.model_id) ?? []).filter((r) => taskApplies(r.task, row.stroke));
    const overrides = book.overrides.filter(
      (o) => o.engineId === row.id || o.boatId === row.boat_id || o.baseId === row.base_id,
    );
    return {
      id: row.id,
      serial: row.serial,
      transom: row.transom,
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
      hoursPerWeek: weeklyHours(readings, dayNumber(dayInZone(now, row.time_zone))),
      readings,
      times: timesOf.get(row.id) ?? (row.bought_new ? {} : null),
      lastDone: withParts(doneOf.get(row.id) ?? new Map<TaskKind, LastDone>()),
      programme,
      overrides,
      rules: programme.map((p) => ruleInForce(p, book.choices, overrides, row)),
      openJobs: openOf.get(row.id) ?? new Map<TaskKind, OpenJob>(),
      traits: traitsOf(builtAs({ ...row, powerHp: Number(row.power_hp) }, row)),
      held: heldOf.get(row.id) ?? [],
      followUps: (asked.get(row.id) ?? []).flatMap((f) => (f.waitsFor === null ? [f.followUp] : [])),
      waits: waitsIn(asked.get(row.id) ?? []),
      deferrals: deferred
        .filter((d) => d.engine_id === row.id)
        .map(({ engine_id: _, day: on, ...d }) => ({ ...d, on })),
      runIn: row.bought_new
        ? runInState(
            number(row.last_hours),
            loggedOf.get(row.id) ?? null,
            row.in_service_on,
            dayInZone(now, row.time_zone),
          )
        : null,
      oilWatch: oil.get(row.id) ?? null,
    };
  });
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
