import { dayInZone } from '@diurna/core/calendar';
import { lackingIn, lackingText, TASKS, taskApplies, type TaskKind } from '@diurna/core/service';
import { visitMinutes } from '@diurna/core/visit';
import { and, count, eq, gte, ilike, inArray, lte, ne, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { tellRoles } from '../findings/index.ts';
import { DAY_OVER, faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { partsOfTasks } from '../stores/index.ts';
import { jobSummaries, readCard } from './card.ts';
import { keepEntries } from './entries.ts';
import { whatIsAgainst, type Meant } from './feasible.ts';
import { finish } from './finish.ts';
import { undo } from './undo.ts';
import { keepPiece } from './pictures.ts';
import { refuseOthersCard } from './whose.ts';
import { waitingIds, withProgress } from './progress.ts';
import { issuedWith, versionsInForce, visitTasks } from '../visit/index.ts';

export { jobSummaries } from './card.ts';

const { job, jobTask, jobPhoto, boat, base, person, engine, engineModel, notice } = tables;
type Names =
  | 'listJobs'
  | 'readJob'
  | 'previewJob'
  | 'addJob'
  | 'editJob'
  | 'cancelJob'
  | 'keepEntries'
  | 'jobPhoto'
  | 'sendPicture'
  | 'handOver'
  | 'addCardTasks'
  | 'finishJob'
  | 'undoJob';
interface TaskKey {
  engineId: number;
  task: TaskKind;
}

/**
 * The boat and the engines of the tasks, checked: all on this boat, all tasks known to the engine, none without what it
 * is never done without.
 *
 * @param known tasks the card has already
 */
async function checkWork(tx: Tx | Db, boatId: number, tasks: readonly TaskKey[], known: readonly TaskKey[] = []) {
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

/** A task of an engine stands on one open card only. */
async function refuseOnOtherCards(tx: Tx, jobId: number, tasks: readonly TaskKey[]): Promise<void> {
  const rows = await tx
    .select({ engineId: jobTask.engineId, task: jobTask.task, day: job.day, technician: person.name })
    .from(jobTask)
    .innerJoin(job, eq(job.id, jobTask.jobId))
    .innerJoin(person, eq(person.id, job.technicianId))
    .where(
      and(
        eq(jobTask.onOpenJob, true),
        ne(jobTask.jobId, jobId),
        inArray(
          jobTask.engineId,
          tasks.map((t) => t.engineId),
        ),
      ),
    );
  const other = rows.find((r) => tasks.some((t) => t.engineId === r.engineId && t.task === r.task));
  if (other)
    throw new HttpProblem(
      409,
      `${TASKS[other.task].word} stands on another card already, ${other.technician.split(' ')[0]}’s of ${other.day}. Ask the coordinator to move it.`,
    );
}

/** Refuses what cannot be done with every reason; handed out all the same, the reasons are kept with why. */
async function unlessAgainst(
  tx: Tx,
  now: Date,
  meant: Meant,
  insist: string | undefined,
): Promise<{ why: string; against: string[] } | null> {
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

async function checkTechnician(tx: Tx, technicianId: number): Promise<string> {
  const [found] = await tx.select().from(person).where(eq(person.id, technicianId));
  if (!found?.active || !['technician', 'coordinator', 'administrator'].includes(found.role)) {
    throw faulty('technicianId', 'Choose a technician who is in the yard.');
  }
  return found.name;
}

export function jobsHandlers(): Handlers<Names> {
  return {
    async listJobs({ db, query, now }) {
      const waiting = query.view === 'waiting' ? await waitingIds(db, now, query.baseId ?? null) : null;
      const where = and(
        waiting === null ? undefined : waiting.length === 0 ? sql`false` : inArray(job.id, waiting),
        query.q
          ? inArray(
              job.boatId,
              db
                .select({ id: boat.id })
                .from(boat)
                .where(ilike(boat.name, `%${query.q}%`)),
            )
          : undefined,
        query.from ? gte(job.day, query.from) : undefined,
        query.to ? lte(job.day, query.to) : undefined,
        query.technicianId === undefined ? undefined : eq(job.technicianId, query.technicianId),
        query.boatId === undefined ? undefined : eq(job.boatId, query.boatId),
        query.status === undefined ? undefined : eq(job.status, query.status),
        query.baseId === undefined
          ? undefined
          : inArray(job.boatId, db.select({ id: boat.id }).from(boat).where(eq(boat.baseId, query.baseId))),
      );
      const [rows, [total]] = await Promise.all([
        jobSummaries(db, now, where, query.size, (query.page - 1) * query.size, query.order === 'newest'),
        db.select({ n: count() }).from(job).where(where),
      ]);
      return { rows: await withProgress(db, rows, now), total: total!.n, page: query.page, size: query.size };
    },

    readJob: ({ db, params, now }) => readCard(db, now, params.id),

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
              startMinute: body.meant.startMinute ?? null,
              boatId: body.boatId,
              tasks: body.tasks,
            })
          : [],
      };
    },

    addJob: ({ body, write, now }) =>
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
        return { id: row!.id, version: row!.version };
      }),

    editJob: ({ params, body, write, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, job, params.id, body.version, 'job');
        if (before.status !== 'open')
          throw new HttpProblem(409, 'Only an open job can be moved. Undo it first if it was finished by mistake.');
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
        const moved =
          body.day !== before.day ||
          body.technicianId !== before.technicianId ||
          startMinute !== before.startMinute ||
          body.tasks.some((t) => !old.some((o) => o.engineId === t.engineId && o.task === t.task));
        const { insist, ...asked } = body;
        // What stands may stand: only what is asked for anew is looked at.
        const insisted = moved
          ? await unlessAgainst(
              tx,
              now,
              {
                boatId: before.boatId,
                technicianId: body.technicianId,
                day: body.day,
                startMinute,
                jobId: params.id,
                stays: body.day === before.day && body.technicianId === before.technicianId,
                tasks: body.tasks.filter(
                  (t) => !old.some((o) => o.engineId === t.engineId && o.task === t.task && o.state === 'done'),
                ),
              },
              insist,
            )
          : before.insisted;
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
        return { id: row!.id, version: row!.version };
      }),

    cancelJob: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, job, params.id, body.version, 'job');
        if (before.status !== 'open') throw new HttpProblem(409, 'Only an open job can be called off.');
        await tx
          .update(job)
          .set({ status: 'cancelled', remark: body.reason, ...nextVersion(job) })
          .where(eq(job.id, params.id));
        await tx.update(jobTask).set({ onOpenJob: false }).where(eq(jobTask.jobId, params.id));
        await audit({ act: 'cancelled', subject: 'job', subjectId: params.id, before, after: { reason: body.reason } });
        return { ok: true as const };
      }),

    keepEntries: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const { kept, refused, lastSeq } = await keepEntries(tx, audit, params.id, body.entries, who, now);
        return { kept, refused, lastSeq };
      }),

    sendPicture: ({ params, query, body, write, who, now }) =>
      write((tx, audit) => keepPiece(tx, audit, params.entry, { ...query, bytes: body }, who, now)),

    async jobPhoto({ db, params, res }) {
      const [found] = await db.select().from(jobPhoto).where(eq(jobPhoto.id, params.id));
      if (!found) throw notFound('picture');
      res
        .set({
          'cache-control': 'private, max-age=86400',
          'content-disposition': 'inline',
          'x-content-type-options': 'nosniff',
        })
        .type(found.type)
        .send(found.bytes);
      return null;
    },

    handOver: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, job, params.id, body.version, 'job');
        refuseOthersCard(who, before.technicianId);
        if (before.status !== 'open') throw new HttpProblem(409, 'Only an open card can be handed over.');
        if (body.technicianId === before.technicianId)
          throw faulty('technicianId', 'The card is with them already. Choose somebody else.');
        const technician = await checkTechnician(tx, body.technicianId);
        const [place] = await tx.select({ name: boat.name }).from(boat).where(eq(boat.id, before.boatId));
        const [row] = await tx
          .update(job)
          .set({ technicianId: body.technicianId, ...nextVersion(job) })
          .where(eq(job.id, params.id))
          .returning();
        await tx
          .insert(notice)
          .values({
            personId: body.technicianId,
            jobId: params.id,
            at: now,
            text: `${who.name.split(' ')[0]} hands you ${place!.name} as it stands.${body.note ? ` ${body.note}` : ''}`,
          });
        await audit({
          act: 'changed',
          subject: 'job',
          subjectId: params.id,
          title: place!.name,
          before: { technicianId: before.technicianId },
          after: { technicianId: body.technicianId, technician, note: body.note },
        });
        return { id: row!.id, version: row!.version };
      }),

    addCardTasks: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, job, params.id, body.version, 'job');
        refuseOthersCard(who, before.technicianId);
        if (before.status !== 'open') throw new HttpProblem(409, 'Only an open card takes more work.');
        const old = await tx.select().from(jobTask).where(eq(jobTask.jobId, params.id));
        const { place } = await checkWork(
          tx,
          before.boatId,
          [...old, ...body.tasks],
          lackingIn(old).length > 0 ? old : [],
        );
        await refuseOnOtherCards(tx, params.id, body.tasks);
        const versions = await versionsInForce(tx);
        await tx
          .insert(jobTask)
          .values(body.tasks.map((t) => ({ jobId: params.id, ...t, templateVersion: versions.get(t.task) ?? 1 })));
        const [row] = await tx.update(job).set(nextVersion(job)).where(eq(job.id, params.id)).returning();
        const words = [...new Set(body.tasks.map((t) => TASKS[t.task].word.toLowerCase()))].join(', ');
        await tellRoles(
          tx,
          ['coordinator', 'administrator'],
          `${who.name.split(' ')[0]} does more on ${place.name}: ${words}. ${body.why}`,
          params.id,
          who.id,
          now,
        );
        await audit({
          act: 'changed',
          subject: 'job',
          subjectId: params.id,
          title: place.name,
          before: { tasks: old },
          after: { tasks: [...old, ...body.tasks], why: body.why },
        });
        return { id: row!.id, version: row!.version };
      }),

    finishJob: ({ params, body, write, who, now }) =>
      write((tx, audit) => finish(tx, audit, params.id, body, who, now)),

    undoJob: ({ params, body, write, who, now }) =>
      write((tx, audit) => undo(tx, audit, params.id, body.version, body.reason, who, now)),
  };
}
