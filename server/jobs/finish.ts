import { dayInZone, type Day } from '@diurna/core/calendar';
import { wasteOf, type ReadingValue } from '@diurna/core/findings';
import type { PrintedVolume } from '@diurna/core/units';
import { TASKS, type TaskKind } from '@diurna/core/service';
import {
  actualMinutes,
  foldCard,
  gatesOf,
  partsUsed,
  readingsOf,
  taskKey,
  volumePutIn,
  type CardDraft,
  type CardState,
} from '@diurna/core/visit';
import type { finishJob } from '@diurna/contract/jobs';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { lockShelves, partsOfTasks, takeParts } from '../stores/index.ts';
import { findingsWhere, followUpsOf } from '../findings/index.ts';
import { recentReadings, writeReadings } from '../usage/index.ts';
import { workOfJobs, type CardWork } from '../visit/index.ts';
import { entriesOf } from './entries.ts';
import { refuseOthersCard } from './whose.ts';

const { job, jobTask, boat, base, serviceEntry, stockMovement, followUp, wasteEntry, finding } = tables;
type Finish = z.output<typeof finishJob>;
type Audit = (line: AuditLine) => Promise<void>;

async function whereIs(tx: Tx, boatId: number) {
  const [found] = await tx
    .select({ name: boat.name, baseId: base.id, zone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, boatId));
  return found!;
}

/**
 * Finishes a job: hours, service entries, stock movements and the state of its tasks, all in the
 * caller's transaction. Next due dates follow from the entries by themselves. Tasks left undone are
 * due again at once.
 */
export async function finish(
  tx: Tx,
  audit: Audit,
  id: number,
  body: Finish,
  who: Who,
  now: Date,
): Promise<{ id: number; version: number }> {
  const before = await lockVersion(tx, job, id, body.version, 'job');
  refuseOthersCard(who, before.technicianId);
  if (before.status !== 'open')
    throw new HttpProblem(
      409,
      before.status === 'done' ? 'This job is already finished.' : 'This job was called off. Ask the coordinator.',
    );
  const tasks = await tx.select().from(jobTask).where(eq(jobTask.jobId, id));
  const key = (t: { engineId: number; task: string }) => `${t.engineId} ${t.task}`;
  const sent = new Map(body.tasks.map((t) => [key(t), t]));
  if (sent.size !== tasks.length || sent.size !== body.tasks.length || tasks.some((t) => !sent.has(key(t)))) {
    throw new HttpProblem(409, 'The tasks on this card have changed. Load it again; your ticks are kept.');
  }
  const done = body.tasks.filter((t) => t.done);
  if (done.length === 0)
    throw faulty('tasks', 'No task is ticked. Tick what was done, or ask the coordinator to call the job off.');
  const place = await whereIs(tx, before.boatId);
  const when = finishedWhen(body.at, now);
  const today = dayInZone(when, place.zone);
  const doneOn = before.day < today ? before.day : today;

  const work = (await workOfJobs(tx, now, [id])).get(id)!;
  const state = foldCard(await entriesOf(tx, id));
  await refuseUnfinished(tx, id, work, state, done);

  if (body.hours.some((h) => !tasks.some((t) => t.engineId === h.engineId)))
    throw faulty('hours', 'Hours were sent for an engine that is not on this card.');
  await writeReadings(
    tx,
    body.hours.map((h) => ({ ...h, day: today })),
    { source: 'job', personId: who.id, now, path: 'hours' },
  );
  const engineIds = [...new Set(done.map((t) => t.engineId))];
  const hoursNow = await recentReadings(tx, engineIds, today);
  const used = await usedOn(tx, place.baseId, work, tasks, body, readingsOf(state));
  const took = actualMinutes(work.steps, state);
  const entries = await tx
    .insert(serviceEntry)
    .values(
      done.map((t) => ({
        minutes: took.get(key(t)) ?? null,
        enteredAt: now,
        engineId: t.engineId,
        task: t.task,
        doneOn,
        hours: hoursNow.get(t.engineId)?.at(-1)?.hours ?? null,
        personId: who.id,
        jobId: id,
        volumeValue: used.volumeOf(t)?.value ?? null,
        volumeUnit: used.volumeOf(t)?.unit ?? null,
        remark: body.remark || null,
      })),
    )
    .returning({ id: serviceEntry.id });
  const belowZero = await takeParts(tx, used.parts, {
    baseId: place.baseId,
    jobId: id,
    personId: who.id,
    reason: 'used',
    note: null,
    belowZero: body.belowZero,
    now,
  });

  await bookWaste(tx, id, place.baseId, doneOn, done, work, state, who.id, now);
  await askForFirstOuting(tx, id, done, now);

  for (const t of tasks) {
    await tx
      .update(jobTask)
      .set({ state: sent.get(key(t))!.done ? 'done' : 'left', onOpenJob: false })
      .where(and(eq(jobTask.jobId, id), eq(jobTask.engineId, t.engineId), eq(jobTask.task, t.task)));
  }
  const [row] = await tx
    .update(job)
    .set({
      status: 'done',
      finishedAt: when,
      workedBy: work.workedBy,
      remark: body.remark || null,
      ...nextVersion(job),
    })
    .where(eq(job.id, id))
    .returning();
  await audit({
    act: 'finished',
    subject: 'job',
    subjectId: id,
    title: place.name,
    before: { status: before.status },
    after: {
      doneOn,
      done: done.map(key),
      left: body.tasks.filter((t) => !t.done).map(key),
      hours: body.hours,
      parts: used.parts,
      belowZero,
      entries: entries.map((e) => e.id),
      remark: body.remark,
    },
  });
  return { id, version: row!.version };
}

/** A phone without signal sends it later, but not weeks later, and its clock may stray. */
const LATEST_MS = 14 * 86_400_000;
const finishedWhen = (at: number | undefined, now: Date) =>
  at === undefined || at > now.getTime() || at < now.getTime() - LATEST_MS ? now : new Date(at);

interface DoneTask {
  engineId: number;
  task: TaskKind;
}

/** Parts and volumes of a finish: what a person said counts, the rest is worked out as the card shows it. */
async function usedOn(
  tx: Tx,
  baseId: number,
  work: CardWork,
  tasks: readonly DoneTask[],
  said: Finish,
  readings: Readonly<Record<string, ReadingValue>>,
): Promise<{ parts: { partId: number; quantity: number }[]; volumeOf: (t: DoneTask) => PrintedVolume | null }> {
  const { parts } = await partsOfTasks(tx, tasks, baseId);
  const engines = new Map(work.tasks.map((t) => [t.engineId, t.engine]));
  const card = {
    engines: [...engines].map(([id, e]) => ({ id, sump: e?.sump ?? null, gearCase: e?.gearCase ?? null })),
    tasks: said.tasks.map((t) => ({ ...t, state: t.done ? ('done' as const) : ('open' as const) })),
    parts,
  };
  const draft: CardDraft = {
    hours: {},
    volumes: Object.fromEntries(
      said.tasks.flatMap((t) =>
        t.volume ? [[taskKey(t), { value: String(t.volume.value), unit: t.volume.unit }]] : [],
      ),
    ),
    parts: {},
  };
  const own = new Map(said.parts.map((p) => [p.partId, p.quantity]));
  const known = new Set(parts.map((p) => p.partId));
  return {
    parts: [
      ...partsUsed(card, draft, readings).map((p) => ({ partId: p.partId, quantity: own.get(p.partId) ?? p.worked })),
      // Something the card did not expect.
      ...said.parts.filter((p) => !known.has(p.partId)),
    ].filter((p) => p.quantity > 0),
    volumeOf: (t) => volumePutIn(card, draft, t, readings),
  };
}

/** A job is not finished while a gate is not confirmed, a finding not decided, or two entries contradict each other. */
async function refuseUnfinished(
  tx: Tx,
  id: number,
  work: CardWork,
  state: CardState,
  done: readonly DoneTask[],
): Promise<void> {
  if (state.open.length > 0)
    throw new HttpProblem(409, 'Two entries on this card contradict each other. Settle which one counts, then finish.');
  const open = (await findingsWhere(tx, and(eq(finding.jobId, id), eq(finding.state, 'open')))).filter(
    (f) => f.weight !== 'watch',
  );
  const stop = open.find((f) => f.weight === 'stop');
  if (stop) throw new HttpProblem(409, `${stop.seen} ${stop.does}`);
  if (open.length > 0)
    throw new HttpProblem(409, `Say first what becomes of what was found: ${open.map((f) => f.seen).join(' ')}`);
  const missing = gatesOf(work.steps, work.tasks, new Set(done.map((t) => `${t.engineId} ${t.task}`))).filter(
    (s) => !state.ticks.has(s.id),
  );
  if (missing.length > 0)
    throw new HttpProblem(
      409,
      `Not confirmed yet: ${missing
        .map((s) => s.gate)
        .filter((g, i, all) => all.indexOf(g) === i)
        .join(', ')}. A person confirms each before the boat goes back on hire.`,
      missing.map((s) => ({ path: s.id, text: s.text })),
    );
}

/** What goes to the waste: as measured on the card, else what the work takes out. */
async function bookWaste(
  tx: Tx,
  jobId: number,
  baseId: number,
  day: Day,
  done: readonly DoneTask[],
  work: CardWork,
  state: CardState,
  personId: number,
  now: Date,
): Promise<void> {
  const lines = wasteOf(
    done,
    (engineId) => work.tasks.find((t) => t.engineId === engineId)?.engine,
    readingsOf(state),
  ).filter((w) => w.quantity > 0);
  if (lines.length > 0)
    await tx.insert(wasteEntry).values(lines.map((w) => ({ jobId, baseId, day, personId, at: now, ...w })));
}

/** After service an engine is looked at again when the boat comes back from its first outing. */
async function askForFirstOuting(tx: Tx, jobId: number, done: readonly DoneTask[], now: Date): Promise<void> {
  const engineIds = [
    ...new Set(
      done
        .filter((t) => TASKS[t.task].group !== 'season' && t.task !== 'look-over' && t.task !== 'first-outing')
        .map((t) => t.engineId),
    ),
  ];
  const asked = new Set(
    (await followUpsOf(tx, engineIds)).filter((f) => f.task === 'first-outing').map((f) => f.engineId),
  );
  const fresh = engineIds.filter((engineId) => !asked.has(engineId));
  const words = (engineId: number) =>
    done
      .filter((t) => t.engineId === engineId)
      .map((t) => TASKS[t.task].word.toLowerCase())
      .join(', ');
  if (fresh.length > 0)
    await tx
      .insert(followUp)
      .values(
        fresh.map((engineId) => ({
          engineId,
          task: 'first-outing' as const,
          dueOn: null,
          jobId,
          at: now,
          why: `After ${words(engineId)}: level, leaks and the water round the leg.`,
        })),
      );
}

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
      place.baseId,
      taken.map((m) => m.partId),
    );
    await tx
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
      );
  }
  await tx.update(jobTask).set({ state: 'open', onOpenJob: true }).where(eq(jobTask.jobId, id));
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
