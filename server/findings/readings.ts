import { READINGS, readingOf, type PastReading, type ReadingValue } from '@diurna/core/findings';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { json, rowsOf, type Db, type Tx } from '../db/index.ts';

const readingRow = z.object({
  engine_id: z.number(),
  job_id: z.number(),
  day: z.string(),
  hours: z.string().nullable(),
  key: z.string(),
  value: json<ReadingValue>(),
});
export type ReadingRow = z.infer<typeof readingRow>;

/** What was read of these engines on finished cards: the last entry of each kind on each card that counts. */
export async function readingsOf(db: Db | Tx, engineIds: readonly number[]): Promise<ReadingRow[]> {
  return rowsOf(
    db,
    readingRow,
    sql`
    select r.engine_id, r.job_id, r.day, r.key, r.value,
           (select s.hours from service_entry s where s.job_id = r.job_id and s.engine_id = r.engine_id
             and s.cancels is null order by s.id desc limit 1) as hours
    from (
      select distinct on (e.job_id, e.act ->> 'key') e.engine_id, e.job_id, least(j.day,
        (j.finished_at at time zone b.time_zone)::date) as day, e.act ->> 'key' as key, e.act -> 'value' as value
      from job_entry e join job j on j.id = e.job_id join boat t on t.id = j.boat_id join base b on b.id = t.base_id
      where e.engine_id = any(${sql.param([...engineIds])}::int[]) and j.status = 'done'
        and (e.against is null or coalesce((select (s.act ->> 'take')::boolean from job_entry s
          where s.job_id = e.job_id and s.act ->> 'kind' = 'settle' and s.act ->> 'entry' = e.id::text
          order by s.seq desc limit 1), false))
      order by e.job_id, e.act ->> 'key', e.seq desc) r
    where r.value is not null and r.value <> 'null'::jsonb
    order by r.day, r.job_id`,
  );
}

/** So many of a kind are looked back on: what the last card says, and whether it is a habit. */
const LOOKED_BACK = 4;

/** What the judgement of a card looks back on: the last readings of each kind that is kept as a curve, oldest first. */
export async function pastOf(db: Db | Tx, engineIds: readonly number[]): Promise<Map<number, PastReading[]>> {
  const past = new Map<number, PastReading[]>();
  if (engineIds.length === 0) return past;
  const taken = new Map<string, number>();
  for (const r of (await readingsOf(db, engineIds)).reverse()) {
    const of = readingOf(r.key);
    const count = taken.get(r.key) ?? 0;
    if (!of || !READINGS[of.kind].trend || count >= LOOKED_BACK) continue;
    taken.set(r.key, count + 1);
    const list = past.get(r.engine_id) ?? [];
    list.unshift({ key: r.key, day: r.day, hours: r.hours === null ? null : Number(r.hours), value: r.value });
    past.set(r.engine_id, list);
  }
  return past;
}
