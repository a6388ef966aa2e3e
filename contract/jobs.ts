import { z } from 'zod';
import { created, day, done, hours, id, idParam, pageOf, pageQuery, reason, remark, version } from './common.ts';
import { position, printedVolume, taskKind } from './fleet.ts';
import { EVERYONE, route, STEER, WORK } from './route.ts';

export const jobStatus = z.enum(['open', 'done', 'cancelled']);
export const jobTaskKey = z.object({ engineId: id, task: taskKind });

export const jobSummary = z.object({
  id,
  version,
  boatId: id,
  boatName: z.string(),
  berth: z.string().nullable(),
  baseId: id,
  baseName: z.string(),
  technicianId: id,
  technician: z.string(),
  day,
  status: jobStatus,
  startMinute: z.int().nullable().meta({ description: 'When it begins, in minutes after midnight at the base; null = some time of the day.' }),
  pinned: z.boolean(),
  tasks: z.array(jobTaskKey.extend({ position, state: z.enum(['open', 'done', 'left']) })),
  minutes: z.number(),
  savedMinutes: z.number(),
});
export type JobSummary = z.infer<typeof jobSummary>;

export const partLine = z.object({
  partId: id,
  number: z.string(),
  name: z.string(),
  unit: z.enum(['each', 'mL']),
  quantity: z.number(),
  onHand: z.number(),
  tasks: z.array(jobTaskKey),
});
export type PartLine = z.infer<typeof partLine>;

const work = z.object({
  boatId: id,
  technicianId: id,
  day,
  tasks: z.array(jobTaskKey).min(1, 'are missing: tick at least one').max(60),
  startMinute: z.int().min(0).max(1439).nullable().optional().meta({ description: 'Left out: as before; of a job that moves to another day or person, some time of the day.' }),
});

export const jobCard = jobSummary.extend({
  remark: z.string().nullable(),
  finishedAt: z.string().nullable(),
  engines: z.array(
    z.object({
      id,
      position,
      serial: z.string(),
      modelName: z.string(),
      cylinders: z.int(),
      sump: printedVolume.nullable(),
      gearCase: printedVolume.nullable(),
      meter: z.object({ id, offset: z.number(), lastCount: z.number().nullable(), lastDay: day.nullable() }).nullable(),
      recent: z.array(z.object({ day, hours: z.number() })),
    }),
  ),
  parts: z.array(partLine),
  /** Tasks for which no part is known to fit. */
  partsUnknown: z.array(jobTaskKey),
  used: z.array(z.object({ partId: id, number: z.string(), name: z.string(), unit: z.enum(['each', 'mL']), quantity: z.number(), belowZero: z.boolean() })),
  shelfPolicy: z.enum(['refuse', 'mark']),
});
export type JobCard = z.infer<typeof jobCard>;

export const finishJob = z.object({
  version,
  tasks: z
    .array(jobTaskKey.extend({ done: z.boolean(), volume: printedVolume.nullable().default(null) }))
    .min(1),
  hours: z.array(z.object({ engineId: id, count: hours, confirm: reason.optional() })),
  parts: z.array(z.object({ partId: id, quantity: z.number().positive('must be above 0').max(1_000_000) })),
  remark: remark.nullable(),
  belowZero: z
    .boolean()
    .default(false)
    .meta({ description: 'The person says the parts were there although the shelf count says no; it is marked.' }),
});

export const jobsRoutes = {
  listJobs: route({
    method: 'get', path: '/api/jobs', roles: EVERYONE, reply: pageOf(jobSummary),
    query: pageQuery.extend({
      from: day.optional(),
      to: day.optional(),
      technicianId: z.coerce.number().int().positive().optional(),
      boatId: z.coerce.number().int().positive().optional(),
      baseId: z.coerce.number().int().positive().optional(),
      status: jobStatus.optional(),
    }),
    summary: 'Jobs by day.',
  }),
  readJob: route({ method: 'get', path: '/api/jobs/:id', roles: EVERYONE, params: idParam, reply: jobCard, summary: 'A job card with the parts and volumes it takes.' }),
  previewJob: route({
    method: 'post', path: '/api/jobs/preview', roles: STEER,
    body: z.object({ boatId: id, tasks: z.array(jobTaskKey).max(60) }),
    reply: z.object({
      minutes: z.number(),
      savedMinutes: z.number(),
      parts: z.array(partLine),
      partsUnknown: z.array(jobTaskKey),
    }),
    summary: 'Minutes and parts of a visit before it is handed out.',
  }),
  addJob: route({ method: 'post', path: '/api/jobs', roles: STEER, body: work, reply: created, summary: 'Hand tasks of a boat to a technician on a day.' }),
  editJob: route({ method: 'put', path: '/api/jobs/:id', roles: STEER, params: idParam, body: work.omit({ boatId: true }).extend({ version }), reply: created, summary: 'Move a job to another day or person, or change its tasks.' }),
  cancelJob: route({ method: 'post', path: '/api/jobs/:id/cancel', roles: STEER, params: idParam, body: z.object({ version, reason }), reply: done, summary: 'Call an open job off.' }),
  tickTask: route({
    method: 'post', path: '/api/jobs/:id/tick', roles: WORK, params: idParam, reply: done,
    body: jobTaskKey.extend({ ticked: z.boolean() }), summary: 'Tick a task on the card; nothing is booked before the job is finished.',
  }),
  finishJob: route({ method: 'post', path: '/api/jobs/:id/finish', roles: WORK, params: idParam, body: finishJob, reply: created, summary: 'Finish a job: history, stock and next due dates in one go.' }),
  undoJob: route({ method: 'post', path: '/api/jobs/:id/undo', roles: WORK, params: idParam, body: z.object({ version, reason }), reply: created, summary: 'Undo a finished job by correcting entries; the card is open again.' }),
};
