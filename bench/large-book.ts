import { largeFleet } from '@diurna/demo/large-fleet';
import { usualProgramme } from '@diurna/core/service';
import type pg from 'pg';

export const SIZE = { engines: 2000, boats: 1400, readings: 1_000_000, entries: 150_000 };
const CHUNK = 50_000;

/** Writes the large fleet straight into an empty, migrated and begun book; the API would take an hour. */
export async function loadLargeBook(client: pg.Client, today: string, size = SIZE): Promise<void> {
  const fleet = largeFleet(42, today, size);
  await client.query(
    `insert into base (name, time_zone, hemisphere) select 'Base ' || n, 'Atlantic/Madeira', 'north' from
      generate_series(2, 8) n`,
  );
  for (let m = 1; m <= 12; m++) {
    await client.query(
      `insert into engine_model (maker, name, power_hp, stroke, cylinders, sump_value, sump_unit, gear_value,
        gear_unit) values ('Corvane', $1, 60, 4, 4, 2.7, 'L', 0.6, 'L')`,
      [`G${m}`],
    );
    for (const r of usualProgramme({ powerHp: 60, stroke: 4, cylinders: 4 }))
      await client.query(
        `insert into programme_rule (model_id, task, every_hours, every_months, basis) values ($1, $2, $3, $4,
          'usual')`,
        [m, r.task, r.everyHours, r.everyMonths],
      );
  }
  await client.query('insert into boat (name, base_id) select n, b + 1 from unnest($1::text[], $2::int[]) as t(n, b)', [
    fleet.boats.map((b) => b.name),
    fleet.boats.map((b) => b.base),
  ]);
  await client.query(
    `insert into engine (serial, model_id, boat_id, position, in_service_on) select s, 1 + i % 12, b,
      p::engine_position, d::date from unnest($1::text[], $2::int[], $3::text[], $4::text[], $5::int[]) as t(s, b, p,
      d, i)`,
    [
      fleet.engines.map((e) => e.serial),
      fleet.engines.map((e) => e.boat),
      fleet.engines.map((e) => e.position),
      fleet.engines.map((e) => e.inServiceOn),
      fleet.engines.map((e) => e.id),
    ],
  );
  await client.query(
    "insert into meter (engine_id, kind, fitted_on) select id, 'computer', '2000-01-01' from engine order by id",
  );
  const { readings, entries } = fleet;
  for (let i = 0; i < readings.engine.length; i += CHUNK) {
    await client.query(
      `insert into reading (engine_id, meter_id, day, at, count, source) select e, e, d::date, d::date, c, 'typed'
        from unnest($1::int[], $2::text[], $3::numeric[]) as t(e, d, c)`,
      [readings.engine.slice(i, i + CHUNK), readings.day.slice(i, i + CHUNK), readings.count.slice(i, i + CHUNK)],
    );
  }
  for (let i = 0; i < entries.engine.length; i += CHUNK) {
    await client.query(
      `insert into service_entry (engine_id, task, done_on, hours, done_by, entered_at) select e, k::task_kind,
        d::date, h, 'Ines', d::date from unnest($1::int[], $2::text[], $3::text[], $4::numeric[]) as t(e, k, d, h)`,
      [
        entries.engine.slice(i, i + CHUNK),
        entries.task.slice(i, i + CHUNK),
        entries.day.slice(i, i + CHUNK),
        entries.hours.slice(i, i + CHUNK),
      ],
    );
  }
  // A third of the days of the year each boat is out for the day, booked up to five weeks ahead.
  await client.query('select setseed(0.42)');
  await client.query(
    `insert into hire (boat_id, out_at, back_at, made_at)
    select b.id, t.day + interval '9 hours', t.day + interval '17 hours',
      t.day - make_interval(days => 1 + floor(35 * random())::int)
    from boat b, generate_series($1::date - 420, $1::date + 60, interval '1 day') as t(day)
    -- By boat and day: a plain random() is drawn once a day, before the join, and sends out the whole fleet or none.
    where ('x' || left(md5(b.id || ' ' || t.day::date), 8))::bit(32)::bigint / 4294967296.0
      < 0.33 * case when t.day > $1::date then exp(-extract(day from t.day - $1::date) / 20.0) else 1 end`,
    [today],
  );
  await client.query('analyze');
}
