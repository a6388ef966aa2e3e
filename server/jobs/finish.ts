import { dayInZone, type Day } from '@diurna/core/calendar';
import { wasteOf, type ReadingValue } from '@diurna/core/findings';
import type { PrintedVolume } from '@diurna/core/units';
import { TASKS, type TaskKind } from '@diurna/core/service';
import {
  actualMinutes,
  cardAtWork,
  drainsTook,
  foldCard,
  openOnArrival,
  partsUsed,
  readingsOf,
  taskKey,
  volumePutIn,
  workTimes,
  type CardDraft,
  type CardEntry,
  type CardState,
} from '@diurna/core/visit';
import type { finishJob } from '@diurna/contract/jobs';
import { and, eq } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { partsOfTasks, takeParts } from '../stores/index.ts';
import { followUpsOf } from '../findings/index.ts';
import { recentReadings, writeReadings } from '../usage/index.ts';
import { workOfJobs, type CardWork } from '../visit/index.ts';
import { entriesOf } from './entries.ts';
import { holdLeftOpen, refuseUnfinished } from './unfinished.ts';
import { refuseOthersCard } from './whose.ts';

const { job, jobTask, boat, base, serviceEntry, followUp, wasteEntry } = tables;
type Finish = z.output<typeof finishJob>;
type Audit = (line: AuditLine) => Promise<void>;

/** The base a boat lies at. */
export async function whereIs(tx: Tx, boatId: number) {
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
  const done = ticksOf(tasks, body);
  const place = await whereIs(tx, before.boatId);
  const when = finishedWhen(body.at, now);
  const today = dayInZone(when, place.zone);
  const doneOn = before.day < today ? before.day : today;

  const work = (await workOfJobs(tx, now, [id])).get(id)!;
  const record = await entriesOf(tx, id);
  const state = foldCard(record);
  const card = cardAtWork(work.order().steps, state, openOnArrival(work.tasks));
  const open = await refuseUnfinished(tx, id, work, card, done, body.leftOpen);

  await writeHours(tx, tasks, body, today, who, now);
  const used = await usedOn(tx, id, place.baseId, work, tasks, body, readingsOf(state));
  const entries = await writeService(
    tx,
    { id, body, work, state, record, done, doneOn, today, who, now },
    used.volumeOf,
  );
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
  await holdLeftOpen(tx, audit, id, body.leftOpen, open, who, now);

  const version = await closeCard(tx, id, body, work, when);
  const left = body.tasks.filter((t) => !t.done).map(key);
  const after = { doneOn, done: done.map(key), left, hours: body.hours, parts: used.parts, belowZero };
  await audit({
    act: 'finished',
    subject: 'job',
    subjectId: id,
    title: place.name,
    before: { status: before.status },
    after: { ...after, entries: entries.map((e) => e.id), remark: body.remark },
  });
  return { id, version };
}

const key = (t: { engineId: number; task: string }) => `${t.engineId} ${t.task}`;

/** The tasks that were done. The card a phone finishes has to be the one the book has. */
function ticksOf(tasks: readonly DoneTask[], body: Finish): Finish['tasks'] {
  const sent = new Set(body.tasks.map(key));
  if (sent.size !== tasks.length || sent.size !== body.tasks.length || tasks.some((t) => !sent.has(key(t))))
    throw new HttpProblem(409, 'The tasks on this card have changed. Load it again; your ticks are kept.');
  const done = body.tasks.filter((t) => t.done);
  if (done.length === 0)
    throw faulty('tasks', 'No task is ticked. Tick what was done, or ask the coordinator to call the job off.');
  return done;
}

async function writeHours(
  tx: Tx,
  tasks: readonly DoneTask[],
  body: Finish,
  today: Day,
  who: Who,
  now: Date,
): Promise<void> {
  if (body.hours.some((h) => !tasks.some((t) => t.engineId === h.engineId)))
    throw faulty('hours', 'Hours were sent for an engine that is not on this card.');
  await writeReadings(
    tx,
    body.hours.map((h) => ({ ...h, day: today })),
    { source: 'job', personId: who.id, now, path: 'hours' },
  );
}

interface Finished {
  id: number;
  body: Finish;
  work: CardWork;
  state: CardState;
  record: readonly CardEntry[];
  done: Finish['tasks'];
  doneOn: Day;
  today: Day;
  who: Who;
  now: Date;
}

/** An entry in the service log for each task that was done. */
async function writeService(
  tx: Tx,
  { id, body, work, state, record, done, doneOn, today, who, now }: Finished,
  volumeOf: (t: DoneTask) => PrintedVolume | null,
): Promise<{ id: number }[]> {
  const engineIds = [...new Set(done.map((t) => t.engineId))];
  const hoursNow = await recentReadings(tx, engineIds, today);
  const took = actualMinutes(work.steps, state);
  const drained = drainsTook(work.steps, state);
  const times = workTimes(work.steps, state, record);
  // A phone whose clock is ahead has done nothing later than now.
  const moment = (at: number | undefined) => (at === undefined ? null : new Date(Math.min(at, now.getTime())));
  return tx
    .insert(serviceEntry)
    .values(
      done.map((t) => ({
        minutes: took.get(key(t)) ?? null,
        drained: drained.get(key(t)) ?? null,
        enteredAt: now,
        beganAt: moment(times.get(key(t))?.from),
        endedAt: moment(times.get(key(t))?.to),
        engineId: t.engineId,
        task: t.task,
        doneOn,
        hours: hoursNow.get(t.engineId)?.at(-1)?.hours ?? null,
        personId: who.id,
        jobId: id,
        volumeValue: volumeOf(t)?.value ?? null,
        volumeUnit: volumeOf(t)?.unit ?? null,
        remark: body.remark || null,
      })),
    )
    .returning({ id: serviceEntry.id });
}

/** Its tasks leave the open cards, done or left; what it was worked by stays with it. */
async function closeCard(tx: Tx, id: number, body: Finish, work: CardWork, when: Date): Promise<number> {
  for (const t of body.tasks) {
    await tx
      .update(jobTask)
      .set({ state: t.done ? 'done' : 'left', onOpenJob: false })
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
  return row!.version;
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
  id: number,
  baseId: number,
  work: CardWork,
  tasks: readonly DoneTask[],
  said: Finish,
  readings: Readonly<Record<string, ReadingValue>>,
): Promise<{ parts: { partId: number; quantity: number }[]; volumeOf: (t: DoneTask) => PrintedVolume | null }> {
  const { parts } = await partsOfTasks(tx, tasks, baseId, id);
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

/** Where nothing was opened that could leak or work loose, nobody has to look again. */
const ONLY_LOOKED = new Set<TaskKind>(['look-over', 'first-outing', 'oil-level', 'battery-check', 'running-in']);

/** Put away it goes nowhere; after the first run of the year it does. */
const wantsLookAfter = ({ task }: DoneTask) =>
  task === 'spring-run' || (TASKS[task].group !== 'season' && !ONLY_LOOKED.has(task));

/** After service an engine is looked at again when the boat comes back from its first outing. */
async function askForFirstOuting(tx: Tx, jobId: number, done: readonly DoneTask[], now: Date): Promise<void> {
  const engineIds = [...new Set(done.filter(wantsLookAfter).map((t) => t.engineId))];
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
