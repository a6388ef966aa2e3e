import type { JobRow, JobSummary } from '@diurna/contract/jobs';
import {
  cardAtWork,
  foldCard,
  openOnArrival,
  placedText,
  progressOf,
  stepAtHand,
  type CardEntry,
} from '@diurna/core/visit';
import { and, asc, eq, inArray, isNull } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { workOfJobs } from '../visit/index.ts';
import { partsOfAll, servedBy } from '../stores/index.ts';
import { jobSummaries } from './card.ts';
import { asEntry } from './entries.ts';

const { jobEntry, job, boat, hold, jobTask } = tables;
const MOST_OPEN = 2_000;

/** Records of these cards, each in order. */
export async function recordsOf(db: Db | Tx, ids: readonly number[]): Promise<Map<number, CardEntry[]>> {
  const map = new Map<number, CardEntry[]>();
  if (ids.length === 0) return map;
  for (const r of await db
    .select()
    .from(jobEntry)
    .where(inArray(jobEntry.jobId, [...ids]))
    .orderBy(asc(jobEntry.seq)))
    map.set(r.jobId, [...(map.get(r.jobId) ?? []), asEntry(r)]);
  return map;
}

/** The boat's engines on a card, as steps are told by them. */
const enginesOf = (j: JobSummary) => [
  ...new Map(j.tasks.map((t) => [t.engineId, { id: t.engineId, position: t.position }])).values(),
];

/** Open cards with how far they are, and whether a part is missing. */
export async function withProgress(db: Db, rows: readonly JobSummary[], now: Date): Promise<JobRow[]> {
  const open = rows.filter((r) => r.status === 'open');
  const ids = open.map((r) => r.id);
  const [work, records, short] = await Promise.all([workOfJobs(db, now, ids), recordsOf(db, ids), shortOf(db, open)]);
  return rows.map((row): JobRow => {
    const own = work.get(row.id);
    if (row.status !== 'open' || !own) return { ...row, progress: null, short: false };
    const card = cardAtWork(own.order().steps, foldCard(records.get(row.id) ?? []), openOnArrival(own.tasks));
    const { waits, ...progress } = progressOf(own.steps, card.state, now.getTime());
    const engines = enginesOf(row);
    const { at } = stepAtHand(card, now.getTime());
    return {
      ...row,
      short: short.has(row.id),
      progress: {
        ...progress,
        waits: waits.map((w) => ({ ...w, text: placedText(engines, card.byId.get(w.step)!.step) })),
        now: progress.done === 0 || !at ? null : placedText(engines, at.step),
      },
    };
  });
}

/** Cards with a task whose part the shelf of their base has not. */
async function shortOf(db: Db, rows: readonly JobSummary[]): Promise<Set<number>> {
  const pickings = rows.map((r) => ({
    jobId: r.id,
    baseId: r.baseId,
    tasks: r.tasks.filter((t) => t.state === 'open'),
  }));
  const lacks = (await partsOfAll(db, pickings)).filter(({ parts }) =>
    parts.some((p) => p.quantity > servedBy(p) + 1e-6),
  );
  return new Set(lacks.map(({ picking }) => picking.jobId));
}

/** Open cards on which something is waited for: paused, draining, a part, or an engine that is held. */
export async function waitingIds(db: Db, now: Date, baseId: number | null): Promise<number[]> {
  const where = and(
    eq(job.status, 'open'),
    baseId === null
      ? undefined
      : inArray(job.boatId, db.select({ id: boat.id }).from(boat).where(eq(boat.baseId, baseId))),
  );
  const [rows, held] = await Promise.all([
    jobSummaries(db, now, where, MOST_OPEN, 0),
    db
      .selectDistinct({ id: jobTask.jobId })
      .from(jobTask)
      .innerJoin(hold, eq(hold.engineId, jobTask.engineId))
      .where(and(isNull(hold.releasedAt), jobTask.onOpenJob)),
  ]);
  const onHold = new Set(held.map((h) => h.id));
  return (await withProgress(db, rows, now))
    .filter((r) => r.short || onHold.has(r.id) || r.progress?.paused || (r.progress?.waits.length ?? 0) > 0)
    .map((r) => r.id);
}
