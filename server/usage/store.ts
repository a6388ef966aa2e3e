import { sql } from 'drizzle-orm';
import type { Doubt, LifeReading } from '@diurna/core/usage';
import type { Db, Tx } from '../db/index.ts';

/** How many readings make the habit a new one is questioned against. */
const HABIT_READINGS = 13;

/**
 * The last readings of each engine up to `day` (included), oldest first, in life hours; all engines in
 * one query.
 */
export async function recentReadings(db: Db | Tx, engineIds: number[], day: string): Promise<Map<number, LifeReading[]>> {
  if (engineIds.length === 0) return new Map();
  const found = await db.execute<{ engine_id: number; day: string; hours: string }>(sql`
    select e.id as engine_id, r.day, r.hours
    from unnest(${sql.param(engineIds)}::int[]) as e(id)
    cross join lateral (
      select x.day, x.id, x.count + m.hours_offset as hours from reading x join meter m on m.id = x.meter_id
      where x.engine_id = e.id and x.withdrawn_at is null and x.day <= ${day}
      order by x.day desc, x.id desc limit ${HABIT_READINGS}) r
    order by e.id, r.day, r.id`);
  return group(found.rows);
}

/** The first reading of each engine after `day`, where there is one. */
export async function nextReadings(db: Db | Tx, engineIds: number[], day: string): Promise<Map<number, LifeReading[]>> {
  const found = await db.execute<{ engine_id: number; day: string; hours: string }>(sql`
    select e.id as engine_id, r.day, r.hours
    from unnest(${sql.param(engineIds)}::int[]) as e(id)
    cross join lateral (
      select x.day, x.count + m.hours_offset as hours from reading x join meter m on m.id = x.meter_id
      where x.engine_id = e.id and x.withdrawn_at is null and x.day > ${day}
      order by x.day, x.id limit 1) r`);
  return group(found.rows);
}

function group(rows: { engine_id: number; day: string; hours: string }[]): Map<number, LifeReading[]> {
  const byEngine = new Map<number, LifeReading[]>();
  for (const r of rows) {
    const list = byEngine.get(r.engine_id) ?? [];
    list.push({ day: r.day, hours: Number(r.hours) });
    byEngine.set(r.engine_id, list);
  }
  return byEngine;
}

export interface EngineMeter {
  engineId: number;
  name: string;
  timeZone: string;
  meterId: number | null;
  offset: number;
  fittedOn: string | null;
}

/**
 * Locks the engines in one order, so that two people writing hours of the same engines wait for each
 * other instead of locking crosswise, and reads the meter in use.
 */
export async function lockEngines(tx: Tx, engineIds: number[]): Promise<Map<number, EngineMeter>> {
  await tx.execute(sql`select id from engine where id = any(${sql.param(engineIds)}::int[]) order by id for update`);
  const found = await tx.execute<{ id: number; boat: string | null; position: string; serial: string; time_zone: string | null; meter_id: number | null; hours_offset: string | null; fitted_on: string | null }>(sql`
    select e.id, b.name as boat, e.position, e.serial, s.time_zone, m.id as meter_id, m.hours_offset, m.fitted_on
    from engine e left join boat b on b.id = e.boat_id left join base s on s.id = b.base_id
    left join meter m on m.engine_id = e.id and m.removed_on is null
    where e.id = any(${sql.param(engineIds)}::int[]) and not e.retired`);
  return new Map(
    found.rows.map((r) => [
      r.id,
      {
        engineId: r.id,
        name: r.boat === null ? r.serial : r.position === 'single' ? r.boat : `${r.boat} ${r.position}`,
        timeZone: r.time_zone ?? 'UTC',
        meterId: r.meter_id,
        offset: Number(r.hours_offset ?? 0),
        fittedOn: r.fitted_on,
      },
    ]),
  );
}

export interface ReadingRow {
  engineId: number;
  meterId: number;
  day: string;
  at: Date;
  count: number;
  source: 'typed' | 'job' | 'import';
  personId: number;
  doubt: Doubt | null;
  reason: string | null;
}

/** Many readings in one short statement: a column each, not a parameter for every cell. */
export async function insertReadings(tx: Tx, rows: readonly ReadingRow[]): Promise<void> {
  const column = <K extends keyof ReadingRow>(key: K) => sql.param(rows.map((r) => r[key]));
  await tx.execute(sql`
    insert into reading (engine_id, meter_id, day, at, count, source, person_id, doubt, reason)
    select e, m, d, a, c, s::reading_source, p, q::doubt, w
    from unnest(${column('engineId')}::int[], ${column('meterId')}::int[], ${column('day')}::date[], ${sql.param(rows.map((r) => r.at.toISOString()))}::timestamptz[],
                ${column('count')}::numeric[], ${column('source')}::text[], ${column('personId')}::int[], ${column('doubt')}::text[], ${column('reason')}::text[])
         as t(e, m, d, a, c, s, p, q, w)`);
}
