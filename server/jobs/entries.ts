import type { SentEntry } from '@diurna/contract/visit';
import { dayInZone, type Day } from '@diurna/core/calendar';
import { builtAs, traitsOf } from '@diurna/core/fleet';
import type { TaskKind } from '@diurna/core/service';
import { readingOf, type FindingEngine } from '@diurna/core/findings';
import {
  EngineState,
  foldCard,
  foundOpen,
  gapsIn,
  openOnArrival,
  passedOf,
  readingsOf,
  standsAgainst,
  tasksBegun,
  tasksDone,
  type CardAct,
  type CardEntry,
  type CardState,
  type Fact,
  type Step,
  type VisitTask,
} from '@diurna/core/visit';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { firstOilOf, holdByHand, judgeCard, pastOf } from '../findings/index.ts';
import { printedVolume } from '../fleet/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { notFound } from '../http/problem.ts';
import { recentReadings } from '../usage/index.ts';
import { decide, stopFault, takenBackFault, undecide } from './decisions.ts';
import { closedText, faultOf, hindranceOf, joinFault } from './entry-faults.ts';
import { tellOf } from './tell-of-entries.ts';
import { othersCard } from './whose.ts';
import { workOfJobs } from '../visit/index.ts';

const { job, jobTask, jobEntry, jobPhoto, engine, engineModel, person, audit: auditTable } = tables;
type EntryRow = typeof jobEntry.$inferSelect;

/** The card's record in order. */
export async function entriesOf(db: Db | Tx, jobId: number): Promise<CardEntry[]> {
  const rows = await db
    .select({ e: jobEntry, photoId: jobPhoto.id })
    .from(jobEntry)
    .leftJoin(jobPhoto, eq(jobPhoto.entryId, jobEntry.id))
    .where(eq(jobEntry.jobId, jobId))
    .orderBy(asc(jobEntry.seq));
  return rows.map(({ e, photoId }) => {
    const entry = asEntry(e);
    // A picture comes after its entry, whose row is never changed.
    return photoId !== null && entry.act.kind === 'photo' ? { ...entry, act: { ...entry.act, photoId } } : entry;
  });
}

export const asEntry = (r: EntryRow): CardEntry => ({
  id: r.id,
  seq: r.seq,
  by: r.personId,
  at: r.at.getTime(),
  act: r.act,
  seen: r.seen,
  against: r.against,
});

/** Engines of a card as findings are judged by. */
async function findingEngines(
  tx: Tx,
  { id: jobId, day }: { id: number; day: Day },
  tasks: readonly { engineId: number; task: TaskKind }[],
  unknown: ReadonlyMap<number, unknown>,
  workedOn: (engineId: number) => ReadonlySet<TaskKind>,
): Promise<FindingEngine[]> {
  const rows = await tx
    .selectDistinct({ id: engine.id, e: engine, m: engineModel })
    .from(jobTask)
    .innerJoin(engine, eq(engine.id, jobTask.engineId))
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .where(eq(jobTask.jobId, jobId));
  const ids = rows.map((r) => r.id);
  const [first, past, hours] = [
    await firstOilOf(tx, ids, jobId),
    await pastOf(tx, ids),
    await recentReadings(tx, ids, '9999-12-31'),
  ];
  return rows.map(({ id, e, m }) => ({
    id,
    cylinders: m.cylinders,
    traits: traitsOf(builtAs(m, e)),
    sump: printedVolume(m.sumpValue, m.sumpUnit),
    gearCase: printedVolume(m.gearValue, m.gearUnit),
    firstOil: first.has(id),
    oilUnknown: unknown.has(id),
    planned: new Set(tasks.filter((t) => t.engineId === id).map((t) => t.task)),
    past: past.get(id) ?? [],
    day,
    hours: hours.get(id)?.at(-1)?.hours ?? null,
    worked: workedOn(id),
  }));
}

/** Technicians write on cards that are theirs, or were when they wrote; coordinators on any. */
async function mayWrite(tx: Tx, who: Who, jobId: number, technicianId: number): Promise<boolean> {
  if (who.role !== 'technician' || who.id === technicianId) return true;
  const rows = await rowsOf(
    tx,
    z.object({ was: z.boolean() }),
    sql`
    select exists (select 1 from job_entry where job_id = ${jobId} and person_id = ${who.id})
        or exists (select 1 from ${auditTable} a where a.subject = 'job' and a.subject_id = ${jobId}
          and (a.before ->> 'technicianId')::int = ${who.id}) as was`,
  );
  return rows[0]!.was;
}

/** Clocks of phones stray; further than this they are taken to be wrong. */
const MOST_AHEAD_MS = 10 * 60_000;

/** A card that is being written on, with what it is worked by and what its record says so far. */
interface Writing {
  tx: Tx;
  job: typeof job.$inferSelect;
  boatName: string;
  tasks: readonly VisitTask[];
  done: ReadonlySet<string>;
  steps: readonly Step[];
  open: ReadonlyMap<number, readonly Fact[]>;
  /** Grows with what is kept. */
  record: CardEntry[];
  engines: (state: CardState) => EngineState;
  who: Who;
  now: Date;
}

/** Locks the card and reads it up; refused to who may not write on it. */
async function openForWriting(tx: Tx, jobId: number, who: Who, now: Date): Promise<Writing & { zone: string }> {
  const [card] = await tx
    .select({
      j: job,
      boatName: sql<string>`(select t.name from boat t where t.id = ${job.boatId})`,
      zone: sql<string>`(select b.time_zone from boat t join base b on b.id = t.base_id where t.id = ${job.boatId})`,
    })
    .from(job)
    .where(eq(job.id, jobId))
    .for('update', { of: job });
  if (!card) throw notFound('job');
  const record = await entriesOf(tx, jobId);
  if (!foldCard(record).helpers.has(who.id) && !(await mayWrite(tx, who, jobId, card.j.technicianId)))
    throw othersCard();
  const work = (await workOfJobs(tx, now, [jobId])).get(jobId);
  const steps = work?.steps ?? [];
  const open = openOnArrival(work?.tasks ?? []);
  const times = gapsIn(steps, open);
  const engines = (state: CardState) => {
    const passed = passedOf(steps, state);
    const done = (id: string) => state.ticks.has(id) || passed.has(id);
    return new EngineState(steps, open, done, foundOpen(steps, state), times);
  };
  const { tasks, done } = { tasks: work?.tasks ?? [], done: work?.done ?? new Set<string>() };
  return {
    tx,
    job: card.j,
    boatName: card.boatName,
    zone: card.zone,
    tasks,
    done,
    steps,
    open,
    record,
    engines,
    who,
    now,
  };
}

/** Why an entry cannot be kept as the card stands; null = it can. */
async function refusal({ tx, job: card, tasks, steps, record, engines, who }: Writing, act: CardAct, state: CardState) {
  // A hold that comes late still holds: the boat may go out tomorrow.
  if (card.status !== 'open' && act.kind !== 'hold') return closedText(card.status);
  const fault = faultOf(act, steps, tasks, state, record) ?? hindranceOf(act, steps, state, engines);
  if (fault !== null) return fault;
  if (act.kind === 'decide' && act.take) return stopFault(tx, card.id, act.finding);
  if (act.kind === 'undecide') return takenBackFault(tx, card.id, act.finding, state);
  return act.kind === 'join' ? joinFault(who, card.technicianId, act.personId) : null;
}

/** What only the server says of an act: no picture is named from outside, nor who speaks for the desk. */
const asHeard = (act: CardAct, who: Who): CardAct =>
  act.kind === 'photo'
    ? { ...act, photoId: null }
    : act.kind === 'decide'
      ? { ...act, desk: who.role !== 'technician' }
      : act;

/** Puts an entry at the end of the record; null = its number is taken by another card's. */
async function append({ tx, job: card, record, who, now }: Writing, s: SentEntry): Promise<CardEntry | null> {
  const at = Math.min(s.at, now.getTime() + MOST_AHEAD_MS);
  const against = standsAgainst({ act: s.act, by: who.id, seen: s.seen }, record)?.seq ?? null;
  const engineId = s.act.kind === 'read' ? (readingOf(s.act.key)?.engineId ?? 0) : 0;
  const [row] = await tx
    .insert(jobEntry)
    .values({
      id: s.id,
      jobId: card.id,
      personId: who.id,
      at: new Date(at),
      receivedAt: now,
      act: asHeard(s.act, who),
      engineId: engineId === 0 ? null : engineId,
      seen: s.seen,
      against,
    })
    .onConflictDoNothing()
    .returning();
  if (!row) return null;
  const entry = asEntry(row);
  record.push(entry);
  return entry;
}

/**
 * Keeps what was done on a card. Entries already kept are answered as they are; one that contradicts a
 * colleague's the phone did not know of is kept, and waits for somebody to settle it; one that cannot be kept is
 * named with the reason, and stays on the phone.
 */
export async function keepEntries(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  jobId: number,
  sent: readonly SentEntry[],
  who: Who,
  now: Date,
) {
  const card = await openForWriting(tx, jobId, who, now);
  const kept: CardEntry[] = [];
  const refused: { id: string; because: string }[] = [];
  const fresh: CardEntry[] = [];
  let state = foldCard(card.record);
  for (const s of sent) {
    const known = card.record.find((e) => e.id === s.id);
    if (known) {
      kept.push(known);
      continue;
    }
    const because = await refusal(card, s.act, state);
    const entry = because === null ? await append(card, s) : null;
    if (entry === null) {
      refused.push({ id: s.id, because: because ?? 'This entry is kept on another card already.' });
      continue;
    }
    kept.push(entry);
    fresh.push(entry);
    state = foldCard(card.record);
  }
  if (fresh.length > 0) await follow(card, audit, fresh, state);
  return { kept, refused, lastSeq: state.lastSeq, day: dayInZone(now, card.zone) };
}

/** What follows from fresh entries: tasks ticked, readings judged, engines held, decisions carried out, people told. */
async function follow(
  { tx, job: card, boatName, tasks, done, steps, open, who, now }: Writing,
  audit: (line: AuditLine) => Promise<void>,
  fresh: readonly CardEntry[],
  state: CardState,
): Promise<void> {
  await settleTasks(tx, card.id, done, tasks, steps, state);
  if (fresh.some((e) => e.act.kind === 'read' || e.act.kind === 'settle')) {
    const engines = await findingEngines(tx, card, tasks, open, (engineId) => tasksBegun(steps, state, engineId));
    await judgeCard(tx, card.id, engines, readingsOf(state), now);
  }
  for (const { act, at, against } of fresh) {
    if (act.kind === 'hold') {
      const since = new Date(Math.min(at, now.getTime()));
      const { engineId, why } = act;
      await holdByHand(tx, audit, { engineId, why, checks: [], jobId: card.id, at: since }, who, now);
    }
    if (act.kind === 'decide' && against === null) await decide(tx, audit, card.id, act, state, who, now);
    if (act.kind === 'undecide' && against === null) await undecide(tx, card.id, act.finding, who, now);
  }
  await tellOf(tx, fresh, steps, state, { id: card.id, technicianId: card.technicianId, boatName }, who, now);
  await audit({
    act: 'changed',
    subject: 'job',
    subjectId: card.id,
    title: `${fresh.length} on the card`,
    after: {
      entries: fresh.map((e) => ({
        at: new Date(e.at).toISOString(),
        ...e.act,
        ...(e.against !== null && { against: e.against }),
      })),
    },
  });
}

/** Ticks of tasks follow the steps. */
async function settleTasks(
  tx: Tx,
  jobId: number,
  was: ReadonlySet<string>,
  tasks: readonly { engineId: number; task: TaskKind }[],
  steps: readonly Step[],
  state: CardState,
): Promise<void> {
  const done = tasksDone(steps, state);
  for (const t of tasks) {
    const key = `${t.engineId} ${t.task}`;
    if (done.has(key) !== was.has(key))
      await tx
        .update(jobTask)
        .set({ state: done.has(key) ? 'done' : 'open' })
        .where(and(eq(jobTask.jobId, jobId), eq(jobTask.engineId, t.engineId), eq(jobTask.task, t.task)));
  }
}

/** Names of the people who had a hand in it. */
export async function namesOf(db: Db | Tx, ids: readonly number[]): Promise<{ id: number; name: string }[]> {
  return ids.length === 0
    ? []
    : db
        .select({ id: person.id, name: person.name })
        .from(person)
        .where(inArray(person.id, [...ids]));
}
