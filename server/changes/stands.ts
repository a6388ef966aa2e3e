import type { CardStand } from '@diurna/core/changes';
import { asc } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';

const { job, jobTask } = tables;

export interface StandingCard extends CardStand {
  id: number;
  boatId: number;
  version: number;
  status: 'open' | 'done' | 'cancelled';
}

/** Where these cards stand now, in the order of their numbers. Locked for an edit when `lock` is set. */
export async function cardStands(
  db: Db | Tx,
  ids: readonly number[],
  { lock = false }: { lock?: boolean } = {},
): Promise<Map<number, StandingCard>> {
  if (ids.length === 0) return new Map();
  const rows = db
    .select()
    .from(job)
    .where(among(job.id, [...ids]))
    .orderBy(asc(job.id));
  const jobs = await (lock ? rows.for('update') : rows);
  const stands = new Map(
    jobs.map((j): [number, StandingCard] => [
      j.id,
      {
        id: j.id,
        boatId: j.boatId,
        version: j.version,
        status: j.status,
        technicianId: j.technicianId,
        day: j.day,
        startMinute: j.startMinute,
        pinned: j.pinned,
        open: j.status === 'open',
        remark: j.remark,
        insisted: j.insisted,
        tasks: [],
      },
    ]),
  );
  const tasks = await db
    .select()
    .from(jobTask)
    .where(among(jobTask.jobId, [...stands.keys()]))
    .orderBy(asc(jobTask.jobId), asc(jobTask.engineId), asc(jobTask.task));
  for (const { jobId, engineId, task, state, templateVersion } of tasks)
    stands.get(jobId)!.tasks.push({ engineId, task, state, templateVersion });
  return stands;
}

/** The one card, as it stands. */
export async function cardStand(db: Db | Tx, id: number): Promise<CardStand> {
  return standOf((await cardStands(db, [id])).get(id)!);
}

/** What is kept of a card in a change. */
export const standOf = ({
  technicianId,
  day,
  startMinute,
  pinned,
  open,
  remark,
  insisted,
  tasks,
}: CardStand): CardStand => ({ technicianId, day, startMinute, pinned, open, remark, insisted, tasks });
