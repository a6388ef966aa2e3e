import { handsOnMinutes, TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { learnMinutes, type Learned, type TimesTaken } from '@diurna/core/visit';
import { sql } from 'drizzle-orm';
import { bookKey, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';

/** Older times say little of how the work is done now. */
const YEARS = 3;
const KEPT_MS = 60_000;

interface Row extends Record<string, unknown> { task: TaskKind; model_id: number; person_id: number; first: boolean; cylinders: number; n: number; sum_log: number }

/** Times measured on cards, taken together by task, model and person; what was cancelled is left out. */
export async function timesTaken(db: Db | Tx): Promise<TimesTaken[]> {
  const { rows } = await db.execute<Row>(sql`
    select t.task, t.model_id, t.person_id, t.first, t.cylinders, count(*)::int as n, sum(ln(t.minutes))::float8 as sum_log from (
      select s.task, e.model_id, s.person_id, m.cylinders, s.minutes, s.done_on,
             row_number() over (partition by s.task, e.model_id, s.person_id order by s.done_on, s.id) = 1 as first
      from service_entry s join engine e on e.id = s.engine_id join engine_model m on m.id = e.model_id
      where s.cancels is null and s.person_id is not null and not exists (select 1 from service_entry c where c.cancels = s.id)) t
    where t.minutes is not null and t.done_on > now() - make_interval(years => ${YEARS})
    group by t.task, t.model_id, t.person_id, t.first, t.cylinders`);
  return rows.map((r) => ({ task: r.task, modelId: r.model_id, personId: r.person_id, first: r.first, n: r.n, sumLog: r.sum_log - r.n * Math.log(handsOnMinutes(r.task, r.cylinders)) }));
}

/** A cache: what was learned, made again after a minute. */
const kept = new Map<string, { at: number; learned: Promise<Learned> }>();
export function learnedMinutes(db: Db | Tx): Promise<Learned> {
  const key = bookKey(db);
  const now = Date.now();
  const known = kept.get(key);
  if (known && now - known.at < KEPT_MS) return known.learned;
  const learned = timesTaken(db).then(learnMinutes);
  kept.set(key, { at: now, learned });
  learned.catch(() => kept.delete(key));
  return learned;
}

export const minutesHandlers: Handlers<'minutes'> = {
  async minutes({ db }) {
    const [times, people, models] = await Promise.all([
      timesTaken(db),
      db.execute<{ id: number; name: string; pace: string }>(sql`select id, name, pace from person where active and role in ('technician', 'coordinator', 'administrator') order by name`),
      db.execute<{ id: number; name: string; cylinders: number }>(sql`select id, maker || ' ' || name as name, cylinders from engine_model order by maker, name`),
    ]);
    const learned = learnMinutes(times);
    return {
      people: people.rows.map((p) => {
        const { pace, times: n } = learned.paceOf(p.id);
        return { personId: p.id, name: p.name, pace: Number(p.pace), learned: Math.round(pace * 100) / 100, times: n };
      }),
      works: models.rows.flatMap((m) => TASK_KINDS.flatMap((task) => {
        const estimate = handsOnMinutes(task, m.cylinders);
        const found = learned.minutesFor(task, m.id, null, estimate);
        return found.timesOfWork === 0 ? [] : [{ task, modelId: m.id, modelName: m.name, estimate, minutes: found.minutes, times: found.timesOfWork }];
      })),
    };
  },
};
