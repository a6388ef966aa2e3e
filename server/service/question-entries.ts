import { lifeHours, questionEntry, type LifeReading, type Question } from '@diurna/core/usage';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, type Db, type Tx } from '../db/index.ts';

const known = z.object({ engine_id: z.number(), day: z.string(), hours: z.number(), meter_offset: z.number() });

/** What readings and services tell of these engines' life hours. */
async function hoursKnown(db: Db | Tx, engineIds: readonly number[]): Promise<Map<number, LifeReading[]>> {
  const rows = await rowsOf(
    db,
    known,
    sql`
    select r.engine_id, r.day::text as day, r.count::float8 as hours, m.hours_offset::float8 as meter_offset
      from reading r join meter m on m.id = r.meter_id
      where r.engine_id = any(${sql.param([...engineIds])}::int[]) and r.withdrawn_at is null
    union all
    select s.engine_id, s.done_on::text, s.hours::float8, 0::float8 from service_entry s
      where s.engine_id = any(${sql.param([...engineIds])}::int[]) and s.hours is not null and s.cancels is null
        and not exists (select 1 from service_entry c where c.cancels = s.id)`,
  );
  const of = new Map<number, LifeReading[]>();
  for (const r of rows)
    of.set(r.engine_id, [...(of.get(r.engine_id) ?? []), { day: r.day, hours: lifeHours(r.meter_offset, r.hours) }]);
  return of;
}

/**
 * The question each service to be written down raises by its hours, in their order; null = none. Those before it in
 * the list count as written.
 */
export async function questionEntries(
  db: Db | Tx,
  entries: readonly { engineId: number; doneOn: string; hours: number | null }[],
): Promise<(Question | null)[]> {
  const of = await hoursKnown(db, [...new Set(entries.map((e) => e.engineId))]);
  return entries.map(({ engineId, doneOn, hours }) => {
    if (hours === null) return null;
    const own = of.get(engineId) ?? [];
    const question = questionEntry(own, { day: doneOn, hours });
    if (question === null) of.set(engineId, [...own, { day: doneOn, hours }]);
    return question;
  });
}
