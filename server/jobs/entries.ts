import type { SentEntry } from '@diurna/contract/visit';
import { dayInZone, type Day } from '@diurna/core/calendar';
import { traitsOf } from '@diurna/core/fleet';
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
  type CardEntry,
  type CardState,
  type Step,
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
    .selectDistinct({ id: engine.id, m: engineModel })
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
  return rows.map(({ id, m }) => ({
    id,
    cylinders: m.cylinders,
    traits: traitsOf(m),
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
  const kept: CardEntry[] = [];
  const refused: { id: string; because: string }[] = [];
  const fresh: CardEntry[] = [];
  let state = foldCard(record);
  const open = openOnArrival(work?.tasks ?? []);
  const times = gapsIn(steps, open);
  const engines = (now: CardState) => {
    const passed = passedOf(steps, now);
    return new EngineState(steps, open, (id) => now.ticks.has(id) || passed.has(id), foundOpen(steps, now), times);
  };
  for (const s of sent) {
    const known = record.find((e) => e.id === s.id);
    if (known) {
      kept.push(known);
      continue;
    }
    // A hold that comes late still holds: the boat may go out tomorrow.
    const because =
      card.j.status !== 'open' && s.act.kind !== 'hold'
        ? closedText(card.j.status)
        : (faultOf(s.act, steps, work?.tasks ?? [], state, record) ??
          hindranceOf(s.act, steps, state, engines) ??
          (s.act.kind === 'decide' && s.act.take
            ? await stopFault(tx, jobId, s.act.finding)
            : s.act.kind === 'undecide'
              ? await takenBackFault(tx, jobId, s.act.finding)
              : s.act.kind === 'join'
                ? joinFault(who, card.j.technicianId, s.act.personId)
                : null));
    if (because !== null) {
      refused.push({ id: s.id, because });
      continue;
    }
    const entry: CardEntry = {
      id: s.id,
      seq: null,
      by: who.id,
      at: Math.min(s.at, now.getTime() + MOST_AHEAD_MS),
      act: s.act,
      seen: s.seen,
      against: null,
    };
    entry.against = standsAgainst(entry, record)?.seq ?? null;
    // No picture is named from outside: it comes by itself, after its entry.
    if (s.act.kind === 'photo') entry.act = { ...s.act, photoId: null };
    if (s.act.kind === 'decide') entry.act = { ...s.act, desk: who.role !== 'technician' };
    const engineId = entry.act.kind === 'read' ? (readingOf(entry.act.key)?.engineId ?? 0) : 0;
    const [row] = await tx
      .insert(jobEntry)
      .values({
        id: entry.id,
        jobId,
        personId: who.id,
        at: new Date(entry.at),
        receivedAt: now,
        act: entry.act,
        engineId: engineId === 0 ? null : engineId,
        seen: entry.seen,
        against: entry.against,
      })
      .onConflictDoNothing()
      .returning();
    if (!row) {
      // The number is taken by an entry of another card: nothing of ours.
      refused.push({ id: s.id, because: 'This entry is kept on another card already.' });
      continue;
    }
    const whole = asEntry(row);
    record.push(whole);
    kept.push(whole);
    fresh.push(whole);
    state = foldCard(record);
  }
  if (fresh.length > 0) {
    await settleTasks(tx, jobId, work?.done ?? new Set(), work?.tasks ?? [], steps, state);
    if (fresh.some((e) => e.act.kind === 'read' || e.act.kind === 'settle'))
      await judgeCard(
        tx,
        jobId,
        await findingEngines(tx, card.j, work?.tasks ?? [], open, (engineId) => tasksBegun(steps, state, engineId)),
        readingsOf(state),
        now,
      );
    for (const e of fresh)
      if (e.act.kind === 'hold')
        await holdByHand(
          tx,
          audit,
          { engineId: e.act.engineId, why: e.act.why, checks: [], jobId, at: new Date(Math.min(e.at, now.getTime())) },
          who,
          now,
        );
    for (const e of fresh) {
      if (e.act.kind === 'decide' && e.against === null) await decide(tx, audit, jobId, e.act, state, who, now);
      if (e.act.kind === 'undecide' && e.against === null) await undecide(tx, jobId, e.act.finding, who, now);
    }
    await tellOf(
      tx,
      fresh,
      steps,
      state,
      { id: jobId, technicianId: card.j.technicianId, boatName: card.boatName },
      who,
      now,
    );
    await audit({
      act: 'changed',
      subject: 'job',
      subjectId: jobId,
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
  return { kept, refused, lastSeq: state.lastSeq, day: dayInZone(now, card.zone) };
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
