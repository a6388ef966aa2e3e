import { dayInZone } from '@diurna/core/calendar';
import type { finishJob } from '@diurna/contract/jobs';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { lockShelves, takeParts } from '../stores/index.ts';
import { recentReadings, writeReadings } from '../usage/index.ts';

const { job, jobTask, boat, base, serviceEntry, stockMovement } = tables;
type Finish = z.output<typeof finishJob>;
type Audit = (line: AuditLine) => Promise<void>;

/** Technicians work on their own cards; coordinators on any. */
export function refuseOthersCard(who: Who, technicianId: number): void {
  if (who.role === 'technician' && who.id !== technicianId) {
    throw new HttpProblem(403, 'This card belongs to a colleague. Ask the coordinator to hand it to you.');
  }
}

async function whereIs(tx: Tx, boatId: number) {
  const [found] = await tx.select({ name: boat.name, baseId: base.id, zone: base.timeZone }).from(boat).innerJoin(base, eq(base.id, boat.baseId)).where(eq(boat.id, boatId));
  return found!;
}

/**
 * Finishes a job: hours, service entries, stock movements and the state of its tasks, all in the
 * caller's transaction. Next due dates follow from the entries by themselves. Tasks left undone are
 * due again at once.
 */
export async function finish(tx: Tx, audit: Audit, id: number, body: Finish, who: Who, now: Date): Promise<{ id: number; version: number }> {
  const before = await lockVersion(tx, job, id, body.version, 'job');
  refuseOthersCard(who, before.technicianId);
  if (before.status !== 'open') throw new HttpProblem(409, before.status === 'done' ? 'This job is already finished.' : 'This job was called off. Ask the coordinator.');
  const tasks = await tx.select().from(jobTask).where(eq(jobTask.jobId, id));
  const key = (t: { engineId: number; task: string }) => `${t.engineId} ${t.task}`;
  const sent = new Map(body.tasks.map((t) => [key(t), t]));
  if (sent.size !== tasks.length || sent.size !== body.tasks.length || tasks.some((t) => !sent.has(key(t)))) {
    throw new HttpProblem(409, 'The tasks on this card have changed. Load it again; your ticks are kept.');
  }
  const done = body.tasks.filter((t) => t.done);
  if (done.length === 0) throw faulty('tasks', 'No task is ticked. Tick what was done, or ask the coordinator to call the job off.');
  const place = await whereIs(tx, before.boatId);
  const today = dayInZone(now, place.zone);
  const doneOn = before.day < today ? before.day : today;

  if (body.hours.some((h) => !tasks.some((t) => t.engineId === h.engineId))) throw faulty('hours', 'Hours were sent for an engine that is not on this card.');
  await writeReadings(tx, body.hours, { source: 'job', personId: who.id, now, path: 'hours' });
  const engineIds = [...new Set(done.map((t) => t.engineId))];
  const hoursNow = await recentReadings(tx, engineIds, today);
  const entries = await tx.insert(serviceEntry)
    .values(done.map((t) => ({
      engineId: t.engineId, task: t.task, doneOn, hours: hoursNow.get(t.engineId)?.at(-1)?.hours ?? null, personId: who.id, jobId: id,
      volumeValue: t.volume?.value ?? null, volumeUnit: t.volume?.unit ?? null, remark: body.remark || null,
    })))
    .returning({ id: serviceEntry.id });
  const belowZero = await takeParts(tx, body.parts, { baseId: place.baseId, jobId: id, personId: who.id, reason: 'used', note: null, belowZero: body.belowZero, now });

  for (const t of tasks) {
    await tx.update(jobTask).set({ state: sent.get(key(t))!.done ? 'done' : 'left', onOpenJob: false })
      .where(and(eq(jobTask.jobId, id), eq(jobTask.engineId, t.engineId), eq(jobTask.task, t.task)));
  }
  const [row] = await tx.update(job).set({ status: 'done', finishedAt: now, remark: body.remark || null, ...nextVersion(job) }).where(eq(job.id, id)).returning();
  await audit({
    act: 'finished', subject: 'job', subjectId: id, title: place.name, before: { status: before.status },
    after: { doneOn, done: done.map(key), left: body.tasks.filter((t) => !t.done).map(key), hours: body.hours, parts: body.parts, belowZero, entries: entries.map((e) => e.id), remark: body.remark },
  });
  return { id, version: row!.version };
}

/**
 * Undoes a finished job by further entries: each service entry is cancelled by one that names it, each
 * part goes back by a counter-movement, the card is open again. Hours stay: they were read.
 */
export async function undo(tx: Tx, audit: Audit, id: number, version: number, reason: string, who: Who, now: Date): Promise<{ id: number; version: number }> {
  const before = await lockVersion(tx, job, id, version, 'job');
  refuseOthersCard(who, before.technicianId);
  if (before.status !== 'done') throw new HttpProblem(409, 'Only a finished job can be undone.');
  const place = await whereIs(tx, before.boatId);
  const entries = await tx.select().from(serviceEntry).where(and(
    eq(serviceEntry.jobId, id), isNull(serviceEntry.cancels),
    sql`not exists (select 1 from service_entry c where c.cancels = ${serviceEntry.id})`,
  ));
  if (entries.length > 0) {
    await tx.insert(serviceEntry).values(entries.map((e) => ({
      engineId: e.engineId, task: e.task, doneOn: e.doneOn, hours: e.hours, personId: who.id, jobId: id, cancels: e.id, reason,
    })));
  }
  const taken = await tx.select().from(stockMovement).where(and(
    eq(stockMovement.jobId, id), eq(stockMovement.reason, 'used'),
    sql`not exists (select 1 from stock_movement c where c.cancels = ${stockMovement.id})`,
  ));
  if (taken.length > 0) {
    await lockShelves(tx, place.baseId, taken.map((m) => m.partId));
    await tx.insert(stockMovement).values(taken.map((m) => ({
      partId: m.partId, baseId: m.baseId, quantity: -m.quantity, reason: 'returned' as const, jobId: id, personId: who.id, note: reason, cancels: m.id, at: now,
    })));
  }
  await tx.update(jobTask).set({ state: 'open', onOpenJob: true }).where(eq(jobTask.jobId, id));
  const [row] = await tx.update(job).set({ status: 'open', finishedAt: null, ...nextVersion(job) }).where(eq(job.id, id)).returning();
  await audit({ act: 'undone', subject: 'job', subjectId: id, title: place.name, before: { status: 'done', entries: entries.map((e) => e.id) }, after: { reason, partsReturned: taken.map((m) => ({ partId: m.partId, quantity: -m.quantity })) } });
  return { id, version: row!.version };
}
