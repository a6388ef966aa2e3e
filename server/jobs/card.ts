import type { JobCard, JobOrder, JobSummary } from '@diurna/contract/jobs';
import { builtAs, POSITIONS, type Position } from '@diurna/core/fleet';
import { namedServices, TASK_KINDS, worksOf, type NamedService } from '@diurna/core/service';
import { lifeHours } from '@diurna/core/usage';
import { openOnArrival, visitMinutes } from '@diurna/core/visit';
import { and, asc, desc, eq, inArray, isNull, ne, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { notFound } from '../http/problem.ts';
import { printedVolume } from '../fleet/index.ts';
import { findingsWhere, firstOilOf, followUpsOf, holdsWhere, pastOf } from '../findings/index.ts';
import { partsOfTasks } from '../stores/index.ts';
import { recentReadings } from '../usage/index.ts';
import { learnedMinutes, visitTaskOf, workOfJobs } from '../visit/index.ts';
import { entriesOf, namesOf } from './entries.ts';

const { job, jobTask, boat, base, person, engine, engineModel, meter } = tables;

const ORDERS: Record<JobOrder, SQL[]> = {
  day: [asc(job.day), asc(person.name), asc(job.id)],
  newest: [desc(job.finishedAt), desc(job.id)],
  boat: [asc(boat.name), asc(job.day), asc(job.id)],
  person: [asc(person.name), asc(job.day), asc(job.id)],
};

/** Jobs with their tasks and minutes, in the order given. */
export async function jobSummaries(
  db: Db | Tx,
  now: Date,
  where: SQL | undefined,
  limit: number,
  offset: number,
  order: JobOrder = 'day',
): Promise<JobSummary[]> {
  const jobs = await db
    .select({
      j: job,
      boatName: boat.name,
      berth: boat.berth,
      baseId: base.id,
      baseName: base.name,
      technician: person.name,
    })
    .from(job)
    .innerJoin(boat, eq(boat.id, job.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .innerJoin(person, eq(person.id, job.technicianId))
    .where(where)
    .orderBy(...ORDERS[order])
    .limit(limit)
    .offset(offset);
  if (jobs.length === 0) return [];
  const learned = await learnedMinutes(db, now);
  const tasks = await db
    .select({ t: jobTask, e: engine, m: engineModel })
    .from(jobTask)
    .innerJoin(engine, eq(engine.id, jobTask.engineId))
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .where(
      inArray(
        jobTask.jobId,
        jobs.map(({ j }) => j.id),
      ),
    );
  const services = await servicesOfModels(db, [...new Set(tasks.map(({ m }) => m.id))]);
  const modelOf = new Map(tasks.map(({ t, m }) => [t.engineId, m.id]));
  return jobs.map(({ j, boatName, berth, baseId, baseName, technician }) => {
    const own = tasks
      .filter(({ t }) => t.jobId === j.id)
      .sort(
        (a, b) => byPosition(a.e.position, b.e.position) || TASK_KINDS.indexOf(a.t.task) - TASK_KINDS.indexOf(b.t.task),
      );
    const minutes = visitMinutes(own.map(({ t, e, m }) => visitTaskOf(e, t.task, m, learned)));
    const named = own.map(({ t, e }) => ({ engineId: t.engineId, task: t.task, position: e.position, state: t.state }));
    return {
      id: j.id,
      version: j.version,
      boatId: j.boatId,
      boatName,
      berth,
      baseId,
      baseName,
      technicianId: j.technicianId,
      technician,
      day: j.day,
      status: j.status,
      startMinute: j.startMinute,
      pinned: j.pinned,
      tasks: named,
      works: worksOf(named, (engineId) => services.get(modelOf.get(engineId)!) ?? []),
      minutes: minutes.elapsed,
      savedMinutes: minutes.saved,
    };
  });
}

/** The named services that the programmes of these models make. */
async function servicesOfModels(db: Db | Tx, modelIds: readonly number[]): Promise<Map<number, NamedService[]>> {
  const rules = await db
    .select()
    .from(tables.programmeRule)
    .where(inArray(tables.programmeRule.modelId, [...modelIds]));
  return new Map(
    modelIds.map((id) => [
      id,
      namedServices(
        rules.filter((r) => r.modelId === id).sort((a, b) => TASK_KINDS.indexOf(a.task) - TASK_KINDS.indexOf(b.task)),
      ),
    ]),
  );
}

const byPosition = (a: Position, b: Position) => POSITIONS.indexOf(a) - POSITIONS.indexOf(b);

export async function readCard(db: Db, now: Date, id: number): Promise<JobCard> {
  const [summary] = await jobSummaries(db, now, eq(job.id, id), 1, 0);
  if (!summary) throw notFound('job');
  const engineIds = [...new Set(summary.tasks.map((t) => t.engineId))];
  const [work, record, findings, holds, followUps, waste, firstOil] = await Promise.all([
    workOfJobs(db, now, [id]),
    entriesOf(db, id),
    findingsWhere(db, and(eq(tables.finding.jobId, id), ne(tables.finding.state, 'withdrawn'))),
    engineIds.length === 0
      ? []
      : holdsWhere(db, and(inArray(tables.hold.engineId, engineIds), isNull(tables.hold.releasedAt))),
    followUpsOf(db, engineIds),
    db
      .select({
        stream: tables.wasteEntry.stream,
        quantity: sql<string>`sum(${tables.wasteEntry.quantity})`,
        measured: sql<boolean>`bool_and(${tables.wasteEntry.measured})`,
      })
      .from(tables.wasteEntry)
      .where(eq(tables.wasteEntry.jobId, id))
      .groupBy(tables.wasteEntry.stream),
    firstOilOf(db, engineIds, id),
  ]);
  const own = work.get(id)!;
  const order = own.order();
  const unknown = openOnArrival(own.tasks);
  const aboard = await db
    .select({ id: engine.id, modelId: engine.modelId, position: engine.position })
    .from(engine)
    .where(eq(engine.boatId, summary.boatId));
  const past = await pastOf(
    db,
    aboard.map((e) => e.id),
  );
  const twinOf = (e: { id: number; modelId: number }) => {
    const twin = aboard.find((a) => a.id !== e.id && a.modelId === e.modelId);
    return twin ? { engineId: twin.id, position: twin.position, past: past.get(twin.id) ?? [] } : null;
  };
  const [[row], [settings], parts, engines, recent, used, people] = await Promise.all([
    db.select().from(job).where(eq(job.id, id)),
    db.select({ policy: tables.setting.shelfPolicy }).from(tables.setting),
    partsOfTasks(db, summary.tasks, summary.baseId, id),
    db
      .select({ e: engine, m: engineModel, t: meter })
      .from(engine)
      .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
      .leftJoin(meter, and(eq(meter.engineId, engine.id), isNull(meter.removedOn)))
      .where(inArray(engine.id, engineIds)),
    recentReadings(db, engineIds, '9999-12-31'),
    rowsOf(
      db,
      z.object({
        part_id: z.number(),
        number: z.string(),
        name: z.string(),
        unit: z.enum(['each', 'mL']),
        quantity: z.string(),
        below_zero: z.boolean(),
      }),
      sql`
      select m.part_id, p.number, p.name, p.unit, -sum(m.quantity) as quantity, bool_or(m.below_zero) as below_zero
      from stock_movement m join part p on p.id = m.part_id where m.job_id = ${id}
      group by m.part_id, p.number, p.name, p.unit having sum(m.quantity) <> 0 order by p.number`,
    ),
    namesOf(db, [...new Set(record.map((e) => e.by))]),
  ]);
  return {
    ...summary,
    remark: row!.remark,
    insisted: row!.insisted,
    finishedAt: row!.finishedAt?.toISOString() ?? null,
    engines: engines
      .map(({ e, m, t }) => {
        const own = recent.get(e.id) ?? [];
        const last = own.at(-1);
        return {
          id: e.id,
          position: e.position,
          serial: e.serial,
          modelName: `${m.maker} ${m.name}`,
          cylinders: m.cylinders,
          powerHp: m.powerHp,
          stroke: m.stroke,
          traits: builtAs(m, e).traits,
          oilUnknown: unknown.has(e.id),
          firstOil: firstOil.has(e.id),
          past: past.get(e.id) ?? [],
          twin: twinOf(e),
          sump: printedVolume(m.sumpValue, m.sumpUnit),
          gearCase: printedVolume(m.gearValue, m.gearUnit),
          meter: t
            ? {
                id: t.id,
                offset: t.hoursOffset,
                lastCount: last ? lifeHours(-t.hoursOffset, last.hours) : null,
                lastDay: last?.day ?? null,
              }
            : null,
          recent: own,
        };
      })
      .sort((a, b) => byPosition(a.position, b.position)),
    ...parts,
    used: used.map((u) => ({
      partId: u.part_id,
      number: u.number,
      name: u.name,
      unit: u.unit,
      quantity: Number(u.quantity),
      belowZero: u.below_zero,
    })),
    shelfPolicy: settings?.policy ?? 'refuse',
    steps: order.steps,
    elapsed: order.elapsed,
    entries: record,
    people,
    findings,
    holds,
    followUps,
    basis: own.basis,
    waste: waste
      .map((w) => ({ stream: w.stream, quantity: Number(w.quantity), measured: w.measured }))
      .filter((w) => w.quantity !== 0),
  };
}
