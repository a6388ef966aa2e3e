import { makesPlans } from '@diurna/contract';
import { taskKind } from '@diurna/contract/fleet';
import { handsOnMinutes, TASK_KINDS, TASKS, type TaskKind } from '@diurna/core/service';
import { learnMinutes, type DrainsTaken, type Learned, type SeizedTimes, type TimesTaken } from '@diurna/core/visit';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { remembered, type Db, type Tx, rowsOf } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';

/** Older times say little of how the work is done now. */
const YEARS = 3;
const KEPT_MS = 60_000;

const row = z.object({
  task: taskKind,
  model_id: z.number(),
  person_id: z.number(),
  first: z.boolean(),
  cylinders: z.number(),
  n: z.number(),
  sum_log: z.number(),
});

/** What was learned from the book's cards, and who did what before. */
export interface LearnedHere extends Learned {
  /** Whether this person ever did this task on this model, measured or not. */
  didBefore(personId: number, task: TaskKind, modelId: number): boolean;
}

/** A screw of its task was found seized on its card: what that took says nothing of the next time. */
const SEIZED = sql`exists (select 1 from finding f where f.job_id = s.job_id and f.engine_id = s.engine_id
  and f.code = 'screw ' || s.task::text and f.state <> 'withdrawn')`;

/** How often a screw was found seized, by task and model, of all cards with the task. */
function seizedTimes(db: Db | Tx): Promise<SeizedTimes[]> {
  return rowsOf(
    db,
    z.object({ task: taskKind, model_id: z.number(), cards: z.number(), seized: z.number() }),
    sql`
    select s.task, e.model_id, count(*)::int as cards, (count(*) filter (where ${SEIZED}))::int as seized
      from service_entry s join engine e on e.id = s.engine_id
      where s.job_id is not null and s.cancels is null
        and not exists (select 1 from service_entry c where c.cancels = s.id)
      group by s.task, e.model_id having bool_or(${SEIZED})`,
  ).then((rows) => rows.map(({ model_id: modelId, ...r }) => ({ ...r, modelId })));
}

/** What drains took that somebody stood by, by task and model. */
async function drainsTaken(db: Db | Tx, now: Date): Promise<DrainsTaken[]> {
  const rows = await rowsOf(
    db,
    z.object({ task: taskKind, model_id: z.number(), n: z.number(), sum_log: z.number() }),
    sql`
    select s.task, e.model_id, count(*)::int as n, sum(ln(s.drained))::float8 as sum_log
      from service_entry s join engine e on e.id = s.engine_id
      where s.drained is not null and s.done_on > ${learnedSince(now)}::date and s.cancels is null
        and not exists (select 1 from service_entry c where c.cancels = s.id)
      group by s.task, e.model_id`,
  );
  return rows
    .filter((r) => TASKS[r.task].wait > 0)
    .map((r) => ({
      task: r.task,
      modelId: r.model_id,
      n: r.n,
      sumLog: r.sum_log - r.n * Math.log(TASKS[r.task].wait),
    }));
}

/** The day from which on times count. */
function learnedSince(now: Date): string {
  const since = new Date(now);
  since.setUTCFullYear(since.getUTCFullYear() - YEARS);
  return since.toISOString().slice(0, 10);
}

/**
 * Times measured on cards, taken together by task, model and person, and what was done before at all; what was
 * cancelled is left out. Earlier work written down by somebody else counts for whom it names, by full name or by a
 * first name only one person has.
 */
async function timesTaken(db: Db | Tx, now: Date): Promise<{ times: TimesTaken[]; before: Set<string> }> {
  const rows = await rowsOf(
    db,
    row,
    sql`
    with names as (
      select lower(word) as word, min(id) as id from (select name as word, id from person
        union select split_part(name, ' ', 1), id from person) w group by 1 having count(distinct id) = 1)
    select t.task, t.model_id, t.person_id, t.first, t.cylinders, (count(*) filter (where t.counts))::int as n,
      coalesce(sum(ln(t.minutes)) filter (where t.counts), 0)::float8 as sum_log
      from (
      select s.task, e.model_id, case when s.done_by is null then s.person_id
        else names.id end as person_id, m.cylinders, s.minutes, s.minutes is not null
        and s.done_on > ${learnedSince(now)}::date and not ${SEIZED} as counts,
             row_number() over (partition by s.task, e.model_id,
               case when s.done_by is null then s.person_id else names.id end order by s.done_on, s.id) = 1 as first
      from service_entry s join engine e on e.id = s.engine_id join engine_model m on m.id = e.model_id
        left join names on names.word = lower(trim(s.done_by))
      where s.cancels is null and not exists (select 1 from service_entry c where c.cancels = s.id)) t
    where t.person_id is not null
    group by t.task, t.model_id, t.person_id, t.first, t.cylinders`,
  );
  return {
    times: rows
      .filter((r) => r.n > 0)
      .map((r) => ({
        task: r.task,
        modelId: r.model_id,
        personId: r.person_id,
        first: r.first,
        n: r.n,
        sumLog: r.sum_log - r.n * Math.log(handsOnMinutes(r.task, r.cylinders)),
      })),
    before: new Set(rows.map((r) => beforeKey(r.person_id, r.task, r.model_id))),
  };
}
const beforeKey = (personId: number, task: TaskKind, modelId: number) => `${personId} ${task} ${modelId}`;

async function learnNow(db: Db | Tx, now: Date): Promise<LearnedHere> {
  const { times, before } = await timesTaken(db, now);
  return {
    ...learnMinutes(times, await seizedTimes(db), await drainsTaken(db, now)),
    didBefore: (personId, task, modelId) => before.has(beforeKey(personId, task, modelId)),
  };
}

/** What was learned from times up to now; a cache, made again after a minute. */
export function learnedMinutes(db: Db | Tx, now: Date): Promise<LearnedHere> {
  const kept = remembered<{ at: number; learned: Promise<LearnedHere> | null }>(db, 'learned minutes', () => ({
    at: 0,
    learned: null,
  }));
  const age = now.getTime() - kept.at;
  if (kept.learned && age >= 0 && age < KEPT_MS) return kept.learned;
  const learned = learnNow(db, now);
  kept.at = now.getTime();
  kept.learned = learned;
  learned.catch(() => {
    kept.learned = null;
  });
  return learned;
}

export const minutesHandlers: Handlers<'minutes'> = {
  async minutes({ db, now, who }) {
    // How fast somebody is, is for those who plan with it, and for themselves.
    const shown = (id: number) => makesPlans(who.role) || id === who.id;
    const [learned, people, models] = await Promise.all([
      learnNow(db, now),
      rowsOf(
        db,
        z.object({ id: z.number(), version: z.number(), name: z.string(), pace: z.string() }),
        sql`select id, version, name, pace from person where active
          and role in ('technician', 'coordinator', 'administrator') order by name`,
      ),
      rowsOf(
        db,
        z.object({ id: z.number(), name: z.string(), cylinders: z.number() }),
        sql`select id, maker || ' ' || name as name, cylinders from engine_model order by maker, name`,
      ),
    ]);
    return {
      people: people
        .filter((p) => shown(p.id))
        .map((p) => {
          const { pace, times: n } = learned.paceOf(p.id);
          return {
            personId: p.id,
            version: p.version,
            name: p.name,
            pace: Number(p.pace),
            learned: Math.round(pace * 100) / 100,
            times: n,
          };
        }),
      drains: models.flatMap((m) =>
        TASK_KINDS.filter((task) => TASKS[task].wait > 0).flatMap((task) => {
          const estimate = TASKS[task].wait;
          const { minutes, times } = learned.drainFor(task, m.id, estimate);
          return times === 0 ? [] : [{ task, modelId: m.id, modelName: m.name, estimate, minutes, times }];
        }),
      ),
      works: models.flatMap((m) =>
        TASK_KINDS.flatMap((task) => {
          const estimate = handsOnMinutes(task, m.cylinders);
          const found = learned.minutesFor(task, m.id, null, estimate);
          return found.timesOfWork === 0
            ? []
            : [{ task, modelId: m.id, modelName: m.name, estimate, minutes: found.minutes, times: found.timesOfWork }];
        }),
      ),
    };
  },
};
