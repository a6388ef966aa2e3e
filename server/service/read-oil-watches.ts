import type { OilWatch } from '@diurna/core/service';
import { sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, rowsOf } from '../db/index.ts';

/** Of these engines, or of all: those that were found to use oil, and how often the level was read since. */
export async function readOilWatches(db: Db, ids: number[] | null): Promise<Map<number, OilWatch>> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const rows = await rowsOf(
    db,
    z.object({ engine_id: z.number(), seen: z.string(), held: z.number() }),
    sql`
    select f.engine_id, f.seen, (
      select count(*)::int from service_entry s
      where s.engine_id = f.engine_id and s.task = 'oil-level' and s.cancels is null and s.entered_at > f.at
        and s.job_id is distinct from f.job_id
        and not exists (select 1 from service_entry c where c.cancels = s.id)) as held
    from (
      select distinct on (engine_id) engine_id, job_id, seen, at from finding
      where code = 'oil used' and state in ('taken', 'open') and ${these(sql`engine_id`)}
      order by engine_id, at desc, id desc) f`,
  );
  return new Map(rows.map(({ engine_id, ...watch }) => [engine_id, watch]));
}
