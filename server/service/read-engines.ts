import { weeklyHours, type EngineFacts, type OpenJob } from '@diurna/core/ahead';
import { dayFromNumber, dayInZone, dayNumber, type Day } from '@diurna/core/calendar';
import { traitsOf, type ModelTraits, type Position } from '@diurna/core/fleet';
import {
  ruleInForce,
  taskApplies,
  type LastDone,
  type ProgrammeRule,
  type RuleBasis,
  type Stroke,
  type TaskKind,
} from '@diurna/core/service';
import { DAYS_BEHIND, type ReadingSeries } from '@diurna/core/usage';
import { sql, type SQL } from 'drizzle-orm';
import type { Db } from '../db/index.ts';
import { readFollowUps } from './read-follow-ups.ts';
import { numbers } from './read-hires.ts';
import { readRuleBook } from './rule-book.ts';

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

/** The facts of these engines, or of all. */
export async function readEngines(db: Db, ids: number[] | null, now: Date): Promise<EngineFacts[]> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const since = dayFromNumber(Math.floor(now.getTime() / 86_400_000) - DAYS_BEHIND);
  const [facts, series, done, rules, open, held, asked, book] = await Promise.all([
    db.execute<FactsRow>(sql`
      select e.id, e.serial, e.position, e.boat_id, b.name as boat_name, b.base_id, b.sand, b.salt, s.time_zone,
        s.hemisphere,
             e.model_id, m.maker || ' ' || m.name as model_name, m.stroke, m.cylinders,
             m.power_hp, m.traits, e.in_service_on, e.bought_new,
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
      select model_id, task, every_hours, every_months, basis, season_end, early_percent, late_percent, sand_percent,
        salt_percent
        from programme_rule order by model_id, task`),
    db.execute<{ engine_id: number; task: TaskKind; id: number; day: Day; technician: string }>(sql`
      select t.engine_id, t.task, j.id, j.day, p.name as technician
      from job_task t join job j on j.id = t.job_id join person p on p.id = j.technician_id
      where t.on_open_job and ${these(sql`t.engine_id`)}`),
    db.execute<{ engine_id: number; why: string }>(sql`
      select engine_id, why from hold where released_at is null and ${these(sql`engine_id`)}
      union all
      select f.engine_id, f.seen || ' To be decided on the card.' from finding f join job j on j.id = f.job_id
      where f.state = 'open' and f.weight in ('hold', 'stop') and j.status <> 'cancelled'
        and ${these(sql`f.engine_id`)}`),
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
      hoursPerWeek: weeklyHours(readings, dayNumber(dayInZone(now, row.time_zone))),
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
