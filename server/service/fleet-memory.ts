import { dayInZone, type Day } from '@diurna/core/calendar';
import { POSITIONS, type Position } from '@diurna/core/fleet';
import { dueState, taskApplies, worstFirst, type Due, type LastDone, type ServiceRule, type Stroke, type TaskKind } from '@diurna/core/service';
import { hoursPerWeek } from '@diurna/core/usage';
import { sql, type SQL } from 'drizzle-orm';
import { prepared, type Db } from '../db/index.ts';

/** What the due dates of one engine are made of. */
export interface EngineFacts {
  id: number;
  serial: string;
  position: Position;
  boatId: number;
  boatName: string;
  baseId: number;
  timeZone: string;
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
  lastDone: Map<TaskKind, LastDone>;
  rules: ServiceRule[];
  openJobs: Map<TaskKind, OpenJob>;
}

/** The card a task stands on. */
export interface OpenJob {
  id: number;
  day: Day;
  technician: string;
}

export interface EngineDue {
  facts: EngineFacts;
  rule: ServiceRule;
  due: Due;
}

interface FactsRow extends Record<string, unknown> {
  id: number; serial: string; position: Position; boat_id: number; boat_name: string; base_id: number; time_zone: string;
  model_id: number; model_name: string; stroke: Stroke; cylinders: number; in_service_on: string | null; bought_new: boolean;
  meter_id: number | null; hours_offset: string | null;
  last_day: string | null; last_hours: string | null; first_day: string | null; first_hours: string | null;
}

/**
 * A cache: the facts of the whole fleet, kept in this process and brought up to date before every use
 * by the marks of `engine_touch_cache`. One reading reloads one engine. It can be thrown away at any time,
 * and several app processes can each have one, because a mark carries the transaction that made it:
 * all marks at or after the oldest transaction still running at the last look are read again.
 */
export class FleetMemory {
  readonly #db: Db;
  readonly #clock: () => Date;
  readonly engines = new Map<number, EngineFacts>();
  #seen: string | null = null;
  #loadedOn = '';
  #running: Promise<void> | null = null;
  #queued: Promise<void> | null = null;
  #dues: EngineDue[] | null = null;
  #duesDay = '';
  #zones: string[] = [];
  #inOrder: EngineFacts[] = [];
  /** A cache of each engine's tasks, gone with the facts they were worked out from. */
  readonly #duesOf = new WeakMap<EngineFacts, { today: Day; dues: EngineDue[] }>();

  constructor(db: Db, clock: () => Date) {
    this.#db = db;
    this.#clock = clock;
  }

  now(): Date {
    return this.#clock();
  }

  /** The day it is at the engine's base. */
  today(facts: Pick<EngineFacts, 'timeZone'>): Day {
    return dayInZone(this.#clock(), facts.timeZone);
  }

  /** Resolves when everything committed before the call is in memory. Calls at the same time share one look. */
  refresh(): Promise<void> {
    if (!this.#running) {
      this.#running = this.#load().finally(() => { this.#running = null; });
      return this.#running;
    }
    // The look under way may have begun too early for this caller: share the next one.
    this.#queued ??= this.#running.catch(() => undefined).then(() => {
      this.#queued = null;
      return this.refresh();
    });
    return this.#queued;
  }

  /** Every task of every engine in use, worst first. Call after `refresh`. */
  allDue(): EngineDue[] {
    const now = this.#clock();
    const todayOf = new Map(this.#zones.map((zone) => [zone, dayInZone(now, zone)]));
    const days = [...todayOf.values()].join();
    if (this.#dues && this.#duesDay === days) return this.#dues;
    // The sort keeps the order of boats among equals.
    this.#dues = this.#inOrder
      .flatMap((facts) => this.#duesOn(facts, todayOf.get(facts.timeZone)!))
      .sort((a, b) => worstFirst(a.due, b.due));
    this.#duesDay = days;
    return this.#dues;
  }

  dueOf(engineId: number): EngineDue[] {
    const facts = this.engines.get(engineId);
    return facts ? this.#duesOn(facts, this.today(facts)) : [];
  }

  /** Engines by boat, port to starboard. */
  inOrder(): readonly EngineFacts[] {
    return this.#inOrder;
  }

  #duesOn(facts: EngineFacts, today: Day): EngineDue[] {
    const known = this.#duesOf.get(facts);
    if (known?.today === today) return known.dues;
    const dues = dueOfEngine(facts, today);
    this.#duesOf.set(facts, { today, dues });
    return dues;
  }

  async #load(): Promise<void> {
    const day = this.#clock().toISOString().slice(0, 10);
    const whole = this.#seen === null || this.#loadedOn !== day;
    const marks = await prepared<{ xmin: string; ids: number[] }>(this.#db, 'marks', `
      select pg_snapshot_xmin(pg_current_snapshot())::text as xmin,
             array(select distinct unnest(engine_ids) from engine_touch_cache where xid >= $1::xid8) as ids`, [this.#seen ?? '0']);
    const { xmin, ids } = marks[0]!;
    if (whole) {
      // Every process reads the whole fleet once a day, so nobody asks for older marks again.
      await this.#db.execute(sql`delete from engine_touch_cache where at < now() - interval '2 days'`);
    }
    if (whole || ids.length > 0) {
      const fresh = await this.#read(whole ? null : ids, day);
      if (whole) this.engines.clear();
      else for (const id of ids) this.engines.delete(id);
      for (const facts of fresh) this.engines.set(facts.id, facts);
      this.#inOrder = merged(whole ? [] : this.#inOrder.filter((facts) => this.engines.get(facts.id) === facts), fresh.sort(byBoat));
      this.#zones = [...new Set([...this.engines.values()].map((e) => e.timeZone))].sort();
      this.#dues = null;
    }
    this.#seen = xmin;
    this.#loadedOn = day;
  }

  async #read(ids: number[] | null, day: Day): Promise<EngineFacts[]> {
    const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
    const [facts, done, rules, open] = await Promise.all([
      this.#db.execute<FactsRow>(sql`
        select e.id, e.serial, e.position, e.boat_id, b.name as boat_name, b.base_id, s.time_zone,
               e.model_id, m.maker || ' ' || m.name as model_name, m.stroke, m.cylinders, e.in_service_on, e.bought_new,
               t.id as meter_id, t.hours_offset,
               l.day as last_day, l.hours as last_hours, f.day as first_day, f.hours as first_hours
        from engine e
        join boat b on b.id = e.boat_id and not b.retired
        join base s on s.id = b.base_id
        join engine_model m on m.id = e.model_id
        left join meter t on t.engine_id = e.id and t.removed_on is null
        left join lateral (
          select r.day, r.count + rm.hours_offset as hours from reading r join meter rm on rm.id = r.meter_id
          where r.engine_id = e.id and r.withdrawn_at is null order by r.day desc, r.id desc limit 1) l on true
        left join lateral (
          select r.day, r.count + rm.hours_offset as hours from reading r join meter rm on rm.id = r.meter_id
          where r.engine_id = e.id and r.withdrawn_at is null and r.day >= ${day}::date - 56
          order by r.day, r.id limit 1) f on true
        where not e.retired and ${these(sql`e.id`)}`),
      this.#db.execute<{ engine_id: number; task: TaskKind; done_on: string; hours: string | null }>(sql`
        select distinct on (d.engine_id, d.task) d.engine_id, d.task, d.done_on, d.hours
        from service_entry d
        where d.cancels is null and ${these(sql`d.engine_id`)}
          and not exists (select 1 from service_entry c where c.cancels = d.id)
        order by d.engine_id, d.task, d.done_on desc, d.id desc`),
      this.#db.execute<{ model_id: number; task: TaskKind; every_hours: string | null; every_months: number | null }>(sql`
        select model_id, task, every_hours, every_months from programme_rule order by model_id, task`),
      this.#db.execute<{ engine_id: number; task: TaskKind; id: number; day: Day; technician: string }>(sql`
        select t.engine_id, t.task, j.id, j.day, p.name as technician
        from job_task t join job j on j.id = t.job_id join person p on p.id = j.technician_id
        where t.on_open_job and ${these(sql`t.engine_id`)}`),
    ]);

    const rulesOf = new Map<number, ServiceRule[]>();
    for (const r of rules.rows) {
      const list = rulesOf.get(r.model_id) ?? [];
      list.push({ task: r.task, everyHours: number(r.every_hours), everyMonths: r.every_months });
      rulesOf.set(r.model_id, list);
    }
    const doneOf = new Map<number, Map<TaskKind, LastDone>>();
    for (const d of done.rows) {
      const map = doneOf.get(d.engine_id) ?? new Map<TaskKind, LastDone>();
      map.set(d.task, { day: d.done_on, hours: number(d.hours), from: 'service' });
      doneOf.set(d.engine_id, map);
    }
    const openOf = new Map<number, Map<TaskKind, OpenJob>>();
    for (const { engine_id, task, ...job } of open.rows) {
      const map = openOf.get(engine_id) ?? new Map<TaskKind, OpenJob>();
      map.set(task, job);
      openOf.set(engine_id, map);
    }
    return facts.rows.map((row) => factsOfRow(row, day, doneOf.get(row.id) ?? new Map<TaskKind, LastDone>(), rulesOf.get(row.model_id) ?? [], openOf.get(row.id) ?? new Map<TaskKind, OpenJob>()));
  }
}

const number = (text: string | null) => (text === null ? null : Number(text));

function factsOfRow(row: FactsRow, day: Day, lastDone: Map<TaskKind, LastDone>, rules: ServiceRule[], openJobs: Map<TaskKind, OpenJob>): EngineFacts {
  const readings =
    row.first_day !== null && row.last_day !== null
      ? [{ day: row.first_day, hours: Number(row.first_hours) }, { day: row.last_day, hours: Number(row.last_hours) }]
      : [];
  return {
    id: row.id, serial: row.serial, position: row.position, boatId: row.boat_id, boatName: row.boat_name,
    baseId: row.base_id, timeZone: row.time_zone, modelId: row.model_id, modelName: row.model_name,
    stroke: row.stroke, cylinders: row.cylinders, meterId: row.meter_id, meterOffset: number(row.hours_offset) ?? 0,
    inServiceOn: row.in_service_on, boughtNew: row.bought_new,
    lifeHours: number(row.last_hours), lastReadDay: row.last_day,
    hoursPerWeek: hoursPerWeek(readings, day), lastDone,
    rules: rules.filter((r) => taskApplies(r.task, row.stroke)),
    openJobs,
  };
}

function dueOfEngine(facts: EngineFacts, today: Day): EngineDue[] {
  const isNew: LastDone | null =
    facts.boughtNew && facts.inServiceOn !== null ? { day: facts.inServiceOn, hours: 0, from: 'new' } : null;
  return facts.rules.map((rule) => ({
    facts,
    rule,
    due: dueState(rule, facts.lastDone.get(rule.task) ?? isNew, facts, today),
  }));
}

/** Numbers in names count as numbers: Tern 2 comes before Tern 10. */
export const names = new Intl.Collator('en', { numeric: true });

/** Boats by name, engines from port to starboard. */
export function byBoat(a: EngineFacts, b: EngineFacts): number {
  return names.compare(a.boatName, b.boatName) || POSITIONS.indexOf(a.position) - POSITIONS.indexOf(b.position) || a.id - b.id;
}

/** Two lists in order made one, in one pass. */
function merged(kept: EngineFacts[], fresh: EngineFacts[]): EngineFacts[] {
  const all: EngineFacts[] = [];
  let at = 0;
  for (const facts of fresh) {
    while (at < kept.length && byBoat(kept[at]!, facts) <= 0) all.push(kept[at++]!);
    all.push(facts);
  }
  for (; at < kept.length; at++) all.push(kept[at]!);
  return all;
}
