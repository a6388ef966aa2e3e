import { changeKind, type CardChange, type CardStand } from '@diurna/core/changes';
import type { SchoolChoices } from '@diurna/core/service';
import type { AccessTemplate } from '@diurna/core/visit';
import { sql } from 'drizzle-orm';
import { among, tables, type Tx } from '../db/index.ts';

const { job, jobTask } = tables;
/** Rows of tasks in one statement: the driver takes so many values. */
const AT_ONCE = 5000;

/** A change that is to be written; without a number its card is made. */
export interface PlannedChange extends CardChange {
  jobId: number | null;
}
/** A change as it was written. */
export interface WrittenChange extends CardChange {
  jobId: number;
}

/** What new cards are issued with. */
export interface Issued {
  accessVersions: Partial<Record<AccessTemplate, number>>;
  schoolAnswers: SchoolChoices;
}

/**
 * Writes where cards stand, all of them in a handful of statements: tasks leave their cards before any joins another,
 * since a task stands on one open card only. What stays as it is is left alone.
 *
 * @param issued what new cards are issued with; null where none is made
 * @returns the changes written, in the order they came
 */
export async function writeCards(
  tx: Tx,
  changes: readonly PlannedChange[],
  issued: Issued | null,
): Promise<WrittenChange[]> {
  const real = changes.filter((c) => changeKind(c) !== 'none');
  const old = real.filter((c): c is PlannedChange & { jobId: number } => c.jobId !== null);
  const fresh = real.filter((c) => c.jobId === null);
  const rewritten = old.filter((c) => changeKind(c) !== 'hour');
  if (rewritten.length > 0)
    await tx.delete(jobTask).where(
      among(
        jobTask.jobId,
        rewritten.map((c) => c.jobId),
      ),
    );
  await moveCards(tx, old);
  const idOf = new Map<PlannedChange, number>(old.map((c) => [c, c.jobId]));
  for (let at = 0; at < fresh.length; at += AT_ONCE) {
    const part = fresh.slice(at, at + AT_ONCE);
    const rows = await tx
      .insert(job)
      .values(part.map(({ boatId, after }) => ({ boatId, ...placeOf(after), ...issued })))
      .returning({ id: job.id });
    part.forEach((c, i) => {
      idOf.set(c, rows[i]!.id);
    });
  }
  const rows = [...rewritten, ...fresh].flatMap((c) =>
    c.after.tasks.map((t) => ({ jobId: idOf.get(c)!, ...t, onOpenJob: c.after.open })),
  );
  for (let at = 0; at < rows.length; at += AT_ONCE) await tx.insert(jobTask).values(rows.slice(at, at + AT_ONCE));
  return real.map((c) => ({ boatId: c.boatId, before: c.before, after: c.after, jobId: idOf.get(c)! }));
}

const placeOf = ({ technicianId, day, startMinute, pinned, insisted, remark }: CardStand) => ({
  technicianId,
  day,
  startMinute,
  pinned,
  insisted,
  remark,
});

/** All cards at once, each to its new place; their versions count up. */
async function moveCards(tx: Tx, changes: readonly (PlannedChange & { jobId: number })[]): Promise<void> {
  if (changes.length === 0) return;
  const rows = changes.map(({ jobId, after }) => ({
    id: jobId,
    technician: after.technicianId,
    day: after.day,
    start: after.startMinute,
    pinned: after.pinned,
    status: after.open ? 'open' : 'cancelled',
    remark: after.remark,
    insisted: after.insisted,
  }));
  await tx.execute(sql`
    update job set technician_id = to_.technician, day = to_.day, start_minute = to_.start, pinned = to_.pinned,
      status = to_.status, remark = to_.remark, insisted = nullif(to_.insisted, 'null'::jsonb), version = job.version + 1
    from jsonb_to_recordset(${JSON.stringify(rows)}::jsonb)
      as to_(id int, technician int, day date, start smallint, pinned boolean, status job_status, remark text, insisted jsonb)
    where job.id = to_.id`);
}
