import {
  BACKGROUND_KINDS,
  BACKGROUND_STATES,
  type BackgroundKind,
  type BackgroundRow,
  type BackgroundState,
} from '@diurna/contract/background';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { byBook } from '../clock.ts';
import { type Db, rowsOf, json } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { SCHEMA, type Queue, type Work } from './queue.ts';

export { doersOf } from './doers.ts';
export { followBook, MAIL_IS_DUE } from './follow-book.ts';
export { Queue } from './queue.ts';

/** The queue's words for ours. */
const STATES: Record<string, BackgroundState> = {
  created: 'waiting',
  active: 'at work',
  retry: 'again',
  completed: 'done',
  cancelled: 'stopped',
  failed: 'failed',
};
const queueWord = (state: BackgroundState) => Object.entries(STATES).find(([, ours]) => ours === state)![0];

const instant = z.union([z.date(), z.string()]);
const row = z.object({
  id: z.string(),
  name: z.enum(BACKGROUND_KINDS),
  data: json<Work>(),
  state: z.string(),
  retryCount: z.number(),
  retryLimit: z.number(),
  created: instant,
  started: instant.nullable(),
  completed: instant.nullable(),
  next: instant,
  output: json<{ outcome?: string } | null>(),
  total: z.number(),
});
type Row = z.infer<typeof row>;

const schema = sql.raw(SCHEMA);
const COLUMNS = sql.raw(
  'id, name, data, state, retry_count, retry_limit, created_on, started_on, completed_on, start_after, output',
);
const ALL = sql`(select ${COLUMNS} from ${schema}.job union all select ${COLUMNS} from ${schema}.archive) as work`;

const NOT_OPEN = () =>
  new HttpProblem(503, 'The queue is not open yet. Try again in a moment.', undefined, undefined, 2);

async function find(db: Db, id: string): Promise<{ name: BackgroundKind; data: Work; state: BackgroundState }> {
  const rows = await rowsOf(
    db,
    row.pick({ name: true, data: true, state: true }),
    sql`select name, data, state from ${ALL} where id = ${id}::uuid limit 1`,
  );
  if (!rows[0]) throw notFound('work');
  return { ...rows[0], state: STATES[rows[0].state]! };
}

function rowOf(row: Row, at: (instant: Date | string) => string): BackgroundRow {
  const state = STATES[row.state]!;
  return {
    id: row.id,
    kind: row.name,
    title: row.data.title,
    state,
    tries: row.retryCount + (row.started === null ? 0 : 1),
    mostTries: row.retryLimit + 1,
    sent: at(row.created),
    began: row.started && at(row.started),
    ended: row.completed && state !== 'again' ? at(row.completed) : null,
    next: state === 'again' ? at(row.next) : null,
    outcome: row.output && (row.output.outcome ?? 'Whoever had it in hand did not come to an end with it.'),
  };
}

const countsOf = (rows: { state: string; n: number }[]) =>
  Object.fromEntries(
    BACKGROUND_STATES.map((state) => [state, rows.find((r) => STATES[r.state] === state)?.n ?? 0]),
  ) as Record<BackgroundState, number>;

const byState = (db: Db) =>
  rowsOf(
    db,
    z.object({ state: z.string(), n: z.number() }),
    sql`select state, count(*)::int as n from ${ALL} group by state`,
  );

export function backgroundHandlers(queue: Queue): Handlers<'listBackground' | 'stopBackground' | 'repeatBackground'> {
  const needOpen = () => {
    if (!queue.open) throw NOT_OPEN();
  };
  return {
    async listBackground({ db, query, now }) {
      const { kind, page, size } = query;
      const word = query.state === undefined ? null : queueWord(query.state);
      if (!queue.open) return { rows: [], total: 0, page, size, counts: countsOf([]) };
      const [rows, counted] = await Promise.all([
        rowsOf(
          db,
          row,
          sql`
          select id, name, data, state, retry_count as "retryCount", retry_limit as "retryLimit", created_on as created,
            started_on as started, completed_on as completed, start_after as next, output,
            count(*) over ()::int as total
          from ${ALL}
          where (${kind ?? null}::text is null or name = ${kind ?? null})
            and (${word}::text is null or state::text = ${word})
          order by created_on desc, id limit ${size} offset ${(page - 1) * size}`,
        ),
        byState(db),
      ]);
      const at = byBook(now);
      return {
        rows: rows.map((row) => rowOf(row, at)),
        total: rows[0]?.total ?? 0,
        page,
        size,
        counts: countsOf(counted),
      };
    },

    async stopBackground({ db, params, write }) {
      needOpen();
      const { name, data, state } = await find(db, params.id);
      if (!['waiting', 'at work', 'again'].includes(state))
        throw new HttpProblem(409, 'This has ended already. Load the list again.');
      await write(async (tx, audit) => {
        await queue.cancel(tx, name, params.id);
        await audit({ act: 'cancelled', subject: 'work behind the scenes', title: data.title ?? name });
      });
      return { ok: true as const };
    },

    async repeatBackground({ db, params, write, who, requestId }) {
      needOpen();
      const { name, data, state } = await find(db, params.id);
      if (['waiting', 'at work', 'again'].includes(state))
        throw new HttpProblem(409, 'This waits or is under way already. Load the list again.');
      const id = await write(async (tx, audit) => {
        await audit({ act: 'added', subject: 'work behind the scenes', title: data.title ?? name });
        return queue.send({ ...data, personId: who.id, requestId }, { tx });
      });
      if (id === null) throw NOT_OPEN();
      return { id };
    },
  };
}
