import { taskKind } from '@diurna/contract/fleet';
import type { TimesDone } from '@diurna/core/service';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, type Db, type Tx } from '../db/index.ts';

/**
 * How often each task was done on these engines; an engine that is not in it has no log, and was not bought new.
 */
export async function timesDone(
  db: Db | Tx,
  engineIds: readonly number[],
): Promise<Map<number, NonNullable<TimesDone>>> {
  const times = new Map<number, NonNullable<TimesDone>>();
  if (engineIds.length === 0) return times;
  const rows = await rowsOf(
    db,
    z.object({ engine_id: z.number(), task: taskKind.nullable(), n: z.number() }),
    sql`
      select e.id as engine_id, s.task, count(s.id)::int as n
      from engine e left join service_entry s on s.engine_id = e.id and s.cancels is null
        and not exists (select 1 from service_entry c where c.cancels = s.id)
      where e.id = any(${sql.param([...new Set(engineIds)])}::int[]) and (e.bought_new or s.id is not null)
      group by e.id, s.task`,
  );
  for (const { engine_id, task, n } of rows)
    times.set(engine_id, { ...times.get(engine_id), ...(task !== null && { [task]: n }) });
  return times;
}
