import { lifeHours, type Doubt, type LifeReading } from '@diurna/core/usage';
import { z } from 'zod';
import { prepared, type Db, type Tx } from '../db/index.ts';

/** How many readings make the habit a new one is questioned against. */
const HABIT_READINGS = 13;

/**
 * One engine a row: its readings as one text "day count meter day count meter ...", its meters as "meter
 * offset ...". A row for each reading, or a join of each with its meter, costs several times as much.
 */
const found = z.object({ engine_id: z.number(), readings: z.string(), meters: z.string() });
type Found = z.infer<typeof found>;

const METERS =
  "(select string_agg(m.id || ' ' || m.hours_offset, ' ') from meter m where m.engine_id = e.id) as meters";

const RECENT = `
  select e.id as engine_id, r.readings, ${METERS}
  from unnest($1::int[]) as e(id)
  cross join lateral (
    select string_agg(l.day || ' ' || l.count || ' ' || l.meter_id, ' ') as readings
    from (
      select x.day, x.count, x.meter_id from reading x
      where x.engine_id = e.id and x.withdrawn_at is null and x.day <= $2
      order by x.day desc, x.id desc limit ${HABIT_READINGS}) l) r
  where r.readings is not null`;

/**
 * The last readings of each engine up to `day` (included), oldest first, in life hours; all engines in
 * one query.
 */
export async function recentReadings(
  db: Db | Tx,
  engineIds: number[],
  day: string,
): Promise<Map<number, LifeReading[]>> {
  if (engineIds.length === 0) return new Map();
  return group(await prepared(db, found, 'recent-readings', RECENT, [engineIds, day]));
}

const NEXT = `
  select e.id as engine_id, r.day || ' ' || r.count || ' ' || r.meter_id as readings, ${METERS}
  from unnest($1::int[]) as e(id)
  cross join lateral (
    select x.day, x.count, x.meter_id from reading x
    where x.engine_id = e.id and x.withdrawn_at is null and x.day > $2
    order by x.day, x.id limit 1) r`;

/** The first reading of each engine after `day`, where there is one. */
export async function nextReadings(db: Db | Tx, engineIds: number[], day: string): Promise<Map<number, LifeReading[]>> {
  return group(await prepared(db, found, 'next-readings', NEXT, [engineIds, day]));
}

/** The query gives the latest reading first. */
function group(rows: Found[]): Map<number, LifeReading[]> {
  return new Map(
    rows.map((r) => {
      // Ids are whole numbers and offsets carry a decimal, so one is never taken for the other.
      const offsets = r.meters.split(' ');
      const words = r.readings.split(' ');
      const readings: LifeReading[] = [];
      for (let i = words.length - 3; i >= 0; i -= 3) {
        readings.push({
          day: words[i]!,
          hours: lifeHours(Number(offsets[offsets.indexOf(words[i + 2]!) + 1]), Number(words[i + 1])),
        });
      }
      return [r.engine_id, readings];
    }),
  );
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
  await prepared(
    tx,
    z.object({}),
    'lock-engines',
    'select from engine where id = any($1::int[]) order by id for update',
    [engineIds],
  );
  // In a statement of its own: the meter may have been changed while this one waited for the lock.
  const engines = await prepared(
    tx,
    z.object({
      id: z.number(),
      boat: z.string().nullable(),
      position: z.string(),
      serial: z.string(),
      time_zone: z.string().nullable(),
      meter_id: z.number().nullable(),
      hours_offset: z.string().nullable(),
      fitted_on: z.string().nullable(),
    }),
    'engine-meters',
    `
    select e.id, b.name as boat, e.position, e.serial, s.time_zone, m.id as meter_id, m.hours_offset, m.fitted_on
    from engine e left join boat b on b.id = e.boat_id left join base s on s.id = b.base_id
    left join meter m on m.engine_id = e.id and m.removed_on is null
    where e.id = any($1::int[]) and not e.retired`,
    [engineIds],
  );
  return new Map(
    engines.map((r) => [
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
  source: 'typed' | 'job' | 'import' | 'gateway';
  personId: number | null;
  doubt: Doubt | null;
  reason: string | null;
}

/** Many readings in one short statement: a column each, not a parameter for every cell. */
export async function insertReadings(tx: Tx, rows: readonly ReadingRow[]): Promise<void> {
  const column = <K extends keyof ReadingRow>(key: K) => rows.map((r) => r[key]);
  await prepared(
    tx,
    z.object({}),
    'insert-readings',
    `
    insert into reading (engine_id, meter_id, day, at, count, source, person_id, doubt, reason)
    select e, m, d, a, c, s::reading_source, p, q::doubt, w
   
      from unnest($1::int[], $2::int[], $3::date[], $4::timestamptz[], $5::numeric[], $6::text[], $7::int[], $8::text[],
        $9::text[])
         as t(e, m, d, a, c, s, p, q, w)`,
    [
      column('engineId'),
      column('meterId'),
      column('day'),
      rows.map((r) => r.at.toISOString()),
      column('count'),
      column('source'),
      column('personId'),
      column('doubt'),
      column('reason'),
    ],
  );
}
