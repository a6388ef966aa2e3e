import { and, eq, isNull, sql } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { lockShelves, pourBack } from '../stores/index.ts';
import { whereIs } from './finish.ts';
import { refuseOthersCard } from './whose.ts';

const { job, jobTask, serviceEntry, stockMovement, followUp, wasteEntry } = tables;
type Audit = (line: AuditLine) => Promise<void>;

/**
 * Undoes a finished job by further entries: each service entry is cancelled by one that names it, each
 * part goes back by a counter-movement, the card is open again. Hours stay: they were read.
 */
export async function undo(
  tx: Tx,
  audit: Audit,
  id: number,
  version: number,
  reason: string,
  who: Who,
  now: Date,
): Promise<{ id: number; version: number }> {
  const before = await lockVersion(tx, job, id, version, 'job');
  refuseOthersCard(who, before.technicianId);
  if (before.status !== 'done') throw new HttpProblem(409, 'Only a finished job can be undone.');
  const place = await whereIs(tx, before.boatId);
  const entries = await cancelEntries(tx, id, reason, who, now);
  const taken = await returnParts(tx, id, place.baseId, reason, who, now);
  await tx.update(jobTask).set({ state: 'open', onOpenJob: true }).where(eq(jobTask.jobId, id));
  await takeWasteBack(tx, id, reason, who, now);
  // What findings asked for stands; the look after the first outing goes with the work it was for.
  await tx
    .update(followUp)
    .set({ calledOffAt: now, calledOffBy: who.id, calledOffBecause: reason })
    .where(and(eq(followUp.jobId, id), isNull(followUp.findingId), isNull(followUp.calledOffAt)));
  const [row] = await tx
    .update(job)
    .set({ status: 'open', finishedAt: null, workedBy: null, ...nextVersion(job) })
    .where(eq(job.id, id))
    .returning();
  await audit({
    act: 'undone',
    subject: 'job',
    subjectId: id,
    title: place.name,
    before: { status: 'done', entries: entries.map((e) => e.id) },
    after: { reason, partsReturned: taken.map((m) => ({ partId: m.partId, quantity: -m.quantity })) },
  });
  return { id, version: row!.version };
}

/**
 * Each service entry is cancelled by one that names it.
 * @returns those cancelled
 */
async function cancelEntries(tx: Tx, id: number, reason: string, who: Who, now: Date) {
  const entries = await tx
    .select()
    .from(serviceEntry)
    .where(
      and(
        eq(serviceEntry.jobId, id),
        isNull(serviceEntry.cancels),
        sql`not exists (select 1 from service_entry c where c.cancels = ${serviceEntry.id})`,
      ),
    );
  if (entries.length > 0) {
    await tx
      .insert(serviceEntry)
      .values(
        entries.map((e) => ({
          engineId: e.engineId,
          task: e.task,
          doneOn: e.doneOn,
          hours: e.hours,
          personId: who.id,
          jobId: id,
          cancels: e.id,
          reason,
          enteredAt: now,
        })),
      );
  }
  return entries;
}

/**
 * Each part used goes back by a movement that names the one it undoes.
 * @returns those undone
 */
async function returnParts(tx: Tx, id: number, baseId: number, reason: string, who: Who, now: Date) {
  const taken = await tx
    .select()
    .from(stockMovement)
    .where(
      and(
        eq(stockMovement.jobId, id),
        eq(stockMovement.reason, 'used'),
        sql`not exists (select 1 from stock_movement c where c.cancels = ${stockMovement.id})`,
      ),
    );
  if (taken.length > 0) {
    await lockShelves(
      tx,
      baseId,
      taken.map((m) => m.partId),
    );
    const back = await tx
      .insert(stockMovement)
      .values(
        taken.map((m) => ({
          partId: m.partId,
          baseId: m.baseId,
          quantity: -m.quantity,
          reason: 'returned' as const,
          jobId: id,
          personId: who.id,
          note: reason,
          cancels: m.id,
          at: now,
        })),
      )
      .returning({ id: stockMovement.id, cancels: stockMovement.cancels });
    await pourBack(
      tx,
      back.map((b) => ({ movementId: b.cancels!, by: b.id })),
      { personId: who.id, now },
    );
  }
  return taken;
}

/** What was booked as waste is booked back. */
async function takeWasteBack(tx: Tx, id: number, reason: string, who: Who, now: Date) {
  const booked = await tx
    .select({
      stream: wasteEntry.stream,
      baseId: wasteEntry.baseId,
      day: wasteEntry.day,
      n: sql<string>`sum(${wasteEntry.quantity})`,
    })
    .from(wasteEntry)
    .where(eq(wasteEntry.jobId, id))
    .groupBy(wasteEntry.stream, wasteEntry.baseId, wasteEntry.day);
  const back = booked.filter((w) => Number(w.n) !== 0);
  if (back.length > 0)
    await tx
      .insert(wasteEntry)
      .values(
        back.map((w) => ({
          jobId: id,
          baseId: w.baseId,
          stream: w.stream,
          day: w.day,
          quantity: -Number(w.n),
          personId: who.id,
          at: now,
          note: reason,
        })),
      );
}
