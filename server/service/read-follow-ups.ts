import { taskKind } from '@diurna/contract/fleet';
import { openFollowUps, type FollowUp, type ServiceDone } from '@diurna/core/service';
import { sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, type Tx, rowsOf } from '../db/index.ts';

/** All work asked for of these engines, or of all, that is not done, with what it waits for. */
export async function readAsked(
  db: Db | Tx,
  ids: number[] | null,
): Promise<Map<number, ReturnType<typeof openFollowUps>>> {
  const these = (column: SQL) => (ids === null ? sql`true` : sql`${column} = any(${sql.param(ids)}::int[])`);
  const rows = await rowsOf(
    db,
    z.object({
      id: z.number(),
      engine_id: z.number(),
      task: taskKind,
      due_on: z.string().nullable(),
      after_id: z.number().nullable(),
      at: z.number(),
      why: z.string(),
    }),
    sql`
    select id, engine_id, task, due_on, after_id, (extract(epoch from at) * 1000)::float8 as at, why from follow_up
      where called_off_at is null and ${these(sql`engine_id`)} order by id`,
  );
  if (rows.length === 0) return new Map();
  const askedOf = new Map<number, FollowUp[]>();
  for (const r of rows) {
    const asked: FollowUp = { id: r.id, task: r.task, dueOn: r.due_on, afterId: r.after_id, at: r.at, why: r.why };
    const list = askedOf.get(r.engine_id);
    if (list) list.push(asked);
    else askedOf.set(r.engine_id, [asked]);
  }
  const engineIds = [...askedOf.keys()];
  const done = await rowsOf(
    db,
    z.object({ id: z.number(), engine_id: z.number(), task: taskKind, from: z.number(), at: z.number() }),
    sql`
    select s.id, s.engine_id, s.task,
      (extract(epoch from coalesce(s.began_at, s.entered_at)) * 1000)::float8 as from,
      (extract(epoch from coalesce(s.ended_at, s.entered_at)) * 1000)::float8 as at
    from service_entry s
    where s.engine_id = any(${sql.param(engineIds)}::int[]) and s.cancels is null and not exists (select 1
      from service_entry c where c.cancels = s.id)
      and s.entered_at >= (select min(f.at) from follow_up f where f.engine_id = s.engine_id
        and f.called_off_at is null)
    order by s.id`,
  );
  const doneOf = new Map<number, ServiceDone[]>();
  for (const { engine_id, ...d } of done) {
    const list = doneOf.get(engine_id);
    if (list) list.push(d);
    else doneOf.set(engine_id, [d]);
  }
  return new Map([...askedOf].map(([engineId, asked]) => [engineId, openFollowUps(asked, doneOf.get(engineId) ?? [])]));
}
