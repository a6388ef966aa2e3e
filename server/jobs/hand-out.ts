import { dayInZone } from '@diurna/core/calendar';
import { lackingIn, lackingText, TASKS, taskApplies, type TaskKind } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import { and, eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { DAY_OVER, faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { partsOfTasks } from '../stores/index.ts';
import { cardStand, keepCardChange } from '../changes/index.ts';
import { issuedWith, versionsInForce, visitTasks } from '../visit/index.ts';
import { whatIsAgainst, type Meant } from './feasible.ts';

const { job, jobTask, boat, base, person, engine, engineModel } = tables;
type Insisted = { why: string; against: string[] } | null;
export interface TaskKey {
  engineId: number;
  task: TaskKind;
}

/**
 * The boat and the engines of the tasks, checked: all on this boat, all tasks known to the engine, none without what it
 * is never done without.
 *
 * @param known tasks the card has already
 */
export async function checkWork(
  tx: Tx | Db,
  boatId: number,
  tasks: readonly TaskKey[],
  known: readonly TaskKey[] = [],
) {
  const [place] = await tx
    .select({ name: boat.name, retired: boat.retired, baseId: base.id, zone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, boatId));
  if (!place) throw notFound('boat');
  if (place.retired) throw new HttpProblem(422, `${place.name} is retired. Take it back into the fleet first.`);
  const engines = await tx
    .select({ id: engine.id, stroke: engineModel.stroke })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .where(and(eq(engine.boatId, boatId), eq(engine.retired, false)));
  const seen = new Set<string>();
  tasks.forEach((t, i) => {
    const found = engines.find((e) => e.id === t.engineId);
    if (!found)
      throw faulty(`tasks.${i}.engineId`, `One of the engines is not on ${place.name} any more. Load the list again.`);
    if (!taskApplies(t.task, found.stroke))
      throw faulty(`tasks.${i}.task`, `A two-stroke has no ${TASKS[t.task].word.toLowerCase()} to change.`);
    if (seen.has(`${t.engineId} ${t.task}`)) throw faulty(`tasks.${i}.task`, 'The same task stands twice.');
    seen.add(`${t.engineId} ${t.task}`);
  });
  // What stood so on the card before may be moved as it is.
  const lacking = lackingIn(tasks).find((l) => !known.some((k) => k.engineId === l.engineId && k.task === l.of));
  if (lacking) throw faulty('tasks', lackingText(lacking));
  return { place };
}

/** Refuses what cannot be done with every reason; handed out all the same, the reasons are kept with why. */
export async function unlessAgainst(tx: Tx, now: Date, meant: Meant, insist: string | undefined): Promise<Insisted> {
  const against = await whatIsAgainst(tx, now, meant);
  if (against.length === 0) return null;
  const texts = against.map((r) => [r.text, r.frees].filter(Boolean).join(' '));
  if (insist === undefined)
    throw new HttpProblem(
      422,
      `This cannot be done as it is asked for; nothing was written. ${against.map((r) => r.text).join(' ')} Change it, or say why it is handed out all the same.`,
      texts.map((text) => ({ path: 'insist', text })),
      'questioned',
    );
  return { why: insist, against: against.map((r) => r.text) };
}

export async function checkTechnician(tx: Tx, technicianId: number): Promise<string> {
  const [found] = await tx.select().from(person).where(eq(person.id, technicianId));
  if (!found?.active || !['technician', 'coordinator', 'administrator'].includes(found.role)) {
    throw faulty('technicianId', 'Choose a technician who is in the yard.');
  }
  return found.name;
}

/** Whether a card stands with this person on this day already: only what is asked for anew is looked at then. */
async function standsThere(
  db: Db,
  { jobId, technicianId, day }: { jobId?: number | undefined; technicianId: number; day: string },
): Promise<boolean> {
  if (jobId === undefined) return false;
  const [found] = await db.select().from(job).where(eq(job.id, jobId));
  return found?.technicianId === technicianId && found.day === day;
}

/** What was against a card before, and what is against what was added to it. */
export function joined(before: Insisted, fresh: Insisted): Insisted {
  if (before === null || fresh === null) return before ?? fresh;
  const why = before.why === fresh.why ? before.why : `${before.why} ${fresh.why}`;
  return { why, against: [...new Set([...before.against, ...fresh.against])] };
}

/**
 * What is against a card as it is moved or added to, and why all the same: what stands may stand, only what is asked
 * for
 * anew is looked at.
 */
async function insistedAnew(
  tx: Tx,
  now: Date,
  {
    before,
    old,
    body,
    startMinute,
  }: {
    before: typeof job.$inferSelect;
    old: readonly (typeof jobTask.$inferSelect)[];
    body: { technicianId: number; day: string; tasks: readonly TaskKey[]; insist?: string | undefined };
    startMinute: number | null;
  },
): Promise<Insisted> {
  const stays = body.day === before.day && body.technicianId === before.technicianId;
  const was = (t: TaskKey) => old.find((o) => o.engineId === t.engineId && o.task === t.task);
  if (stays && startMinute === before.startMinute && body.tasks.every(was)) return before.insisted;
  const meant: Meant = {
    boatId: before.boatId,
    technicianId: body.technicianId,
    day: body.day,
    startMinute,
    jobId: before.id,
    stays,
    tasks: body.tasks.filter((t) => was(t)?.state !== 'done'),
  };
  const fresh = await unlessAgainst(tx, now, meant, body.insist);
  // Where it stays, what was against it there is against it still.
  return stays ? joined(before.insisted, fresh) : fresh;
}

/** Work looked at before it is handed out, handed out, moved and called off. */
export const handOutHandlers: Handlers<'previewJob' | 'addJob' | 'editJob' | 'cancelJob'> = {
  async previewJob({ db, body, now }) {
    const { place } = await checkWork(db, body.boatId, body.tasks);
    const minutes = visitMinutes(
      (
        await visitTasks(
          db,
          now,
          body.tasks.map((t) => t.engineId),
        )
      )(body.tasks),
    );
    return {
      minutes: minutes.elapsed,
      savedMinutes: minutes.saved,
      ...(await partsOfTasks(db, body.tasks, place.baseId, body.meant?.jobId)),
      against: body.meant
        ? await whatIsAgainst(db, now, {
            ...body.meant,
            stays: await standsThere(db, body.meant),
            startMinute: body.meant.startMinute ?? null,
            boatId: body.boatId,
            tasks: body.tasks,
          })
        : [],
    };
  },

  addJob: ({ body, write, who, now }) =>
    write(async (tx, audit) => {
      const { place } = await checkWork(tx, body.boatId, body.tasks);
      const technician = await checkTechnician(tx, body.technicianId);
      if (body.day < dayInZone(now, place.zone)) throw faulty('day', DAY_OVER);
      const { insist, ...asked } = body;
      const versions = await versionsInForce(tx);
      const [row] = await tx
        .insert(job)
        .values({
          boatId: body.boatId,
          technicianId: body.technicianId,
          day: body.day,
          startMinute: body.startMinute ?? null,
          ...(await issuedWith(tx, versions)),
        })
        .returning();
      await tx
        .insert(jobTask)
        .values(body.tasks.map((t) => ({ jobId: row!.id, ...t, templateVersion: versions.get(t.task) ?? 1 })));
      // Looked at once it stands: that the same work is on another card already is told first.
      const insisted = await unlessAgainst(
        tx,
        now,
        { ...asked, startMinute: asked.startMinute ?? null, jobId: row!.id },
        insist,
      );
      if (insisted) await tx.update(job).set({ insisted }).where(eq(job.id, row!.id));
      await audit({
        act: 'added',
        subject: 'job',
        subjectId: row!.id,
        title: place.name,
        after: { ...asked, technician, ...(insisted && { insisted }) },
      });
      const changeId = await keepCardChange(tx, { jobId: row!.id, before: null }, who, now);
      return { id: row!.id, version: row!.version, changeId };
    }),

  editJob: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, job, params.id, body.version, 'job');
      if (before.status !== 'open')
        throw new HttpProblem(409, 'Only an open job can be moved. Undo it first if it was finished by mistake.');
      const stood = await cardStand(tx, params.id);
      const old = await tx.select().from(jobTask).where(eq(jobTask.jobId, params.id));
      const { place } = await checkWork(tx, before.boatId, body.tasks, lackingIn(old).length > 0 ? old : []);
      const technician = await checkTechnician(tx, body.technicianId);
      if (body.day < before.day && body.day < dayInZone(now, place.zone)) throw faulty('day', DAY_OVER);
      const startMinute =
        body.startMinute !== undefined
          ? body.startMinute
          : body.day === before.day && body.technicianId === before.technicianId
            ? before.startMinute
            : null;
      const { insist: _, ...asked } = body;
      const insisted = await insistedAnew(tx, now, { before, old, body, startMinute });
      await tx.delete(jobTask).where(eq(jobTask.jobId, params.id));
      const versions = await versionsInForce(tx);
      await tx.insert(jobTask).values(
        body.tasks.map((t) => {
          const was = old.find((o) => o.engineId === t.engineId && o.task === t.task);
          return {
            jobId: params.id,
            ...t,
            state: was?.state ?? ('open' as const),
            templateVersion: was?.templateVersion ?? versions.get(t.task) ?? 1,
          };
        }),
      );
      const [row] = await tx
        .update(job)
        .set({ technicianId: body.technicianId, day: body.day, startMinute, insisted, ...nextVersion(job) })
        .where(eq(job.id, params.id))
        .returning();
      await audit({
        act: 'changed',
        subject: 'job',
        subjectId: params.id,
        title: place.name,
        before: { ...before, tasks: old },
        after: { ...asked, technician, ...(insisted && { insisted }) },
      });
      const changeId = await keepCardChange(tx, { jobId: params.id, before: stood }, who, now);
      return { id: row!.id, version: row!.version, changeId };
    }),

  cancelJob: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, job, params.id, body.version, 'job');
      if (before.status !== 'open') throw new HttpProblem(409, 'Only an open job can be called off.');
      const stood = await cardStand(tx, params.id);
      await tx
        .update(job)
        .set({ status: 'cancelled', remark: body.reason, ...nextVersion(job) })
        .where(eq(job.id, params.id));
      await tx.update(jobTask).set({ onOpenJob: false }).where(eq(jobTask.jobId, params.id));
      await audit({ act: 'cancelled', subject: 'job', subjectId: params.id, before, after: { reason: body.reason } });
      return { changeId: await keepCardChange(tx, { jobId: params.id, before: stood }, who, now) };
    }),
};
