import { lackingIn, TASKS } from '@diurna/core/service';
import { and, count, eq, gte, inArray, lte, ne, sql } from 'drizzle-orm';
import { tables, type Tx, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { tell, tellRoles } from '../messages/index.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { sendPicture } from '../http/picture.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { jobSummaries, readCard } from './card.ts';
import { keepEntries } from './entries.ts';
import { whatIsAgainst } from './feasible.ts';
import { finish } from './finish.ts';
import { cardStand, keepCardChange } from '../changes/index.ts';
import { checkTechnician, checkWork, handOutHandlers, joined, unlessAgainst, type TaskKey } from './hand-out.ts';
import { severalHandlers } from './several.ts';
import { undo } from './undo.ts';
import { keepPiece } from './pictures.ts';
import { refuseOthersCard } from './whose.ts';
import { waitingIds, withProgress } from './progress.ts';
import { versionsInForce } from '../visit/index.ts';

export { jobSummaries } from './card.ts';
export { engineInPieces, workUnderWay, type UnderWay } from './under-way.ts';

const { job, jobTask, jobPhoto, boat, person } = tables;
type Names =
  | 'listJobs'
  | 'readJob'
  | keyof typeof handOutHandlers
  | keyof typeof severalHandlers
  | 'keepEntries'
  | 'jobPhoto'
  | 'sendPicture'
  | 'handOver'
  | 'addCardTasks'
  | 'finishJob'
  | 'undoJob';
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
      `${TASKS[other.task].word} stands on another card already, ${other.technician}’s of ${other.day}. Ask the coordinator to move it.`,
    );
}

/** What is against a card with more work on it, where it stands. */
const againstMore = async (
  tx: Tx,
  now: Date,
  { id, boatId, technicianId, day, startMinute }: typeof job.$inferSelect,
  tasks: readonly TaskKey[],
): Promise<string[]> =>
  (await whatIsAgainst(tx, now, { boatId, technicianId, day, startMinute, jobId: id, stays: true, tasks })).map(
    (r) => r.text,
  );

/** Cards: read, handed out, worked, finished and undone. */
export const jobsHandlers: Handlers<Names> = {
  ...handOutHandlers,
  ...severalHandlers,

  async listJobs({ db, query, now }) {
    const waiting = query.view === 'waiting' ? await waitingIds(db, now, query.baseId ?? null) : null;
    const where = and(
      waiting === null ? undefined : waiting.length === 0 ? sql`false` : inArray(job.id, waiting),
      query.q
        ? inArray(job.boatId, db.select({ id: boat.id }).from(boat).where(holdsText(boat.name, query.q)))
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
      jobSummaries(db, now, where, query.size, (query.page - 1) * query.size, query.order),
      db.select({ n: count() }).from(job).where(where),
    ]);
    return { rows: await withProgress(db, rows, now), total: total!.n, page: query.page, size: query.size };
  },

  readJob: ({ db, params, now }) => readCard(db, now, params.id),

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
    return sendPicture(res, found);
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
      const stood = await cardStand(tx, params.id);
      const insisted = await unlessAgainst(
        tx,
        now,
        {
          boatId: before.boatId,
          technicianId: body.technicianId,
          day: before.day,
          startMinute: before.startMinute,
          jobId: before.id,
          tasks: stood.tasks.filter((t) => t.state !== 'done'),
        },
        body.insist,
      );
      const [row] = await tx
        .update(job)
        .set({ technicianId: body.technicianId, insisted, ...nextVersion(job) })
        .where(eq(job.id, params.id))
        .returning();
      const text = `${who.name} hands you ${place!.name} as it stands.${body.note ? ` ${body.note}` : ''}`;
      await tell(tx, [{ personId: body.technicianId, kind: 'card', jobId: params.id, text }], now);
      await audit({
        act: 'changed',
        subject: 'job',
        subjectId: params.id,
        title: place!.name,
        before: { technicianId: before.technicianId },
        after: { technicianId: body.technicianId, technician, note: body.note, ...(insisted && { insisted }) },
      });
      const told = body.technicianId;
      const changeId = await keepCardChange(tx, { jobId: params.id, before: stood, told }, who, now);
      return { id: row!.id, version: row!.version, changeId };
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
      const fresh = await againstMore(tx, now, before, [...old.filter((t) => t.state !== 'done'), ...body.tasks]);
      const insisted = fresh.length > 0 ? joined(before.insisted, { why: body.why, against: fresh }) : before.insisted;
      const [row] = await tx
        .update(job)
        .set({ insisted, ...nextVersion(job) })
        .where(eq(job.id, params.id))
        .returning();
      const words = [...new Set(body.tasks.map((t) => TASKS[t.task].word.toLowerCase()))].join(', ');
      await tellRoles(
        tx,
        ['coordinator', 'administrator'],
        {
          kind: 'desk',
          text: `${who.name} does more on ${place.name}: ${words}. ${[body.why, ...fresh].join(' ')}`,
          jobId: params.id,
        },
        who.id,
        now,
      );
      await audit({
        act: 'changed',
        subject: 'job',
        subjectId: params.id,
        title: place.name,
        before: { tasks: old },
        after: { tasks: [...old, ...body.tasks], why: body.why, ...(fresh.length > 0 && { insisted }) },
      });
      return { id: row!.id, version: row!.version };
    }),

  finishJob: ({ params, body, write, who, now }) => write((tx, audit) => finish(tx, audit, params.id, body, who, now)),

  undoJob: ({ params, body, write, who, now }) =>
    write((tx, audit) => undo(tx, audit, params.id, body.version, body.reason, who, now)),
};
