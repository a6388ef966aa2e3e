import { z } from 'zod';
import { created, day, id, idParam, pageOf, pageQuery, reason, version } from './common.ts';
import { position, printedVolume } from './fleet.ts';
import { finishJob } from './finish.ts';
import { finding, followUpRow, hold } from './findings.ts';
import { handOut as work, jobTaskKey, reasonAgainst, several } from './hand-out.ts';
import { EVERYONE, route, STEER, WORK } from './route.ts';

import { modelTraits } from './traits.ts';
import { cardEntry, readingValue, timedStep } from './visit.ts';

export { jobTaskKey };
export { finishJob, type FinishBody } from './finish.ts';

export const jobStatus = z.enum(['open', 'done', 'cancelled']);

/** The work of each engine in the yard's words. */
export const engineWorks = z.array(z.object({ engineId: id, position, word: z.string() }));

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
  startMinute: z
    .int()
    .nullable()
    .meta({ description: 'When it begins, in minutes after midnight at the base; null = some time of the day.' }),
  pinned: z.boolean(),
  tasks: z.array(jobTaskKey.extend({ position, state: z.enum(['open', 'done', 'left']) })),
  works: engineWorks,
  minutes: z.number(),
  savedMinutes: z.number(),
});
export type JobSummary = z.infer<typeof jobSummary>;

/** A card in a list, with how far it is. */
export const jobRow = jobSummary.extend({
  progress: z
    .object({
      done: z.int(),
      total: z.int(),
      waits: z
        .array(z.object({ step: z.string(), until: z.number(), text: z.string() }))
        .meta({ description: 'What drains or settles, until when (milliseconds since 1970).' }),
      paused: z.object({ since: z.number(), why: z.string().nullable() }).nullable(),
      unsettled: z.int(),
      lastAt: z.number().nullable(),
      now: z.string().nullable().meta({ description: 'The step at hand, in words.' }),
    })
    .nullable()
    .meta({ description: 'Of open cards; null of others.' }),
  short: z.boolean().meta({ description: 'A part it takes is not on the shelf of its base.' }),
});
export type JobRow = z.infer<typeof jobRow>;

export const partLine = z.object({
  partId: id,
  number: z.string(),
  name: z.string(),
  unit: z.enum(['each', 'mL']),
  quantity: z.number(),
  onHand: z.number(),
  place: z.string().nullable().meta({ description: 'Where it lies at the base of the boat.' }),
  open: z
    .array(z.object({ id: z.string(), label: z.string(), leftMl: z.number() }))
    .meta({ description: 'Of a fluid: containers that stand open there, oldest first.' }),
  sizes: z
    .array(z.object({ id: z.string(), ml: z.number(), priceMinor: z.number(), most: z.int().nullable() }))
    .meta({ description: 'Of a fluid: what is opened new, by what is printed on it.' }),
  instead: z
    .array(
      z.object({
        partId: id,
        number: z.string(),
        name: z.string(),
        onHand: z.number(),
        place: z.string().nullable(),
        why: z.string(),
      }),
    )
    .meta({ description: 'What may be fitted as well: an older or newer number, an approved equivalent.' }),
  tasks: z.array(jobTaskKey),
});
export type PartLine = z.infer<typeof partLine>;

const pastReading = z.object({ key: z.string(), day, hours: z.number().nullable(), value: readingValue });

export const jobCard = jobSummary.extend({
  insisted: z
    .object({ why: z.string(), against: z.array(z.string()) })
    .nullable()
    .meta({ description: 'It was handed out although something was against it.' }),
  remark: z.string().nullable(),
  finishedAt: z.string().nullable(),
  engines: z.array(
    z.object({
      id,
      position,
      serial: z.string(),
      modelName: z.string(),
      cylinders: z.int(),
      powerHp: z.number(),
      stroke: z.union([z.literal(2), z.literal(4)]),
      traits: modelTraits,
      firstOil: z.boolean(),
      oilUnknown: z
        .boolean()
        .meta({ description: 'Nothing is known of its past: nobody knows that there is oil in it.' }),
      past: z
        .array(pastReading)
        .meta({ description: 'What was read of it on cards before this one, oldest first, the last of each kind.' }),
      twin: z
        .object({ engineId: id, position, past: z.array(pastReading) })
        .nullable()
        .meta({ description: 'An engine of the same model on the same boat.' }),
      sump: printedVolume.nullable(),
      gearCase: printedVolume.nullable(),
      meter: z.object({ id, offset: z.number(), lastCount: z.number().nullable(), lastDay: day.nullable() }).nullable(),
      recent: z.array(z.object({ day, hours: z.number() })),
    }),
  ),
  parts: z.array(partLine),
  /** Tasks for which no part is known to fit. */
  partsUnknown: z.array(jobTaskKey),
  used: z.array(
    z.object({
      partId: id,
      number: z.string(),
      name: z.string(),
      unit: z.enum(['each', 'mL']),
      quantity: z.number(),
      belowZero: z.boolean(),
    }),
  ),
  shelfPolicy: z.enum(['refuse', 'mark']),
  steps: z.array(timedStep).meta({ description: 'In working order, as the card was issued.' }),
  elapsed: z.number(),
  entries: z.array(cardEntry),
  people: z.array(z.object({ id, name: z.string() })).meta({ description: 'Who had a hand in it.' }),
  findings: z.array(finding),
  holds: z.array(hold).meta({ description: 'Of its engines, still on.' }),
  followUps: z.array(followUpRow).meta({ description: 'Work asked for of its engines, still to be done.' }),
  basis: z
    .array(
      jobTaskKey.extend({
        minutes: z.number(),
        text: z.string(),
        first: z.boolean().meta({ description: 'The technician’s first time of this task on this model.' }),
      }),
    )
    .meta({ description: 'Minutes of each task and what they rest on.' }),
  waste: z
    .array(z.object({ stream: z.string(), quantity: z.number(), measured: z.boolean() }))
    .meta({ description: 'Booked by this card.' }),
});
export type JobCard = z.infer<typeof jobCard>;

const changeId = id.nullable().meta({ description: 'The decision, as it can be taken back; null = nothing changed.' });

/** By what cards are put in order; `newest`: finished last first. */
export const JOB_ORDERS = ['day', 'newest', 'boat', 'person'] as const;
export type JobOrder = (typeof JOB_ORDERS)[number];

export const jobsRoutes = {
  listJobs: route({
    method: 'get',
    path: '/api/jobs',
    roles: EVERYONE,
    reply: pageOf(jobRow),
    query: pageQuery.extend({
      view: z
        .enum(['all', 'waiting'])
        .default('all')
        .meta({ description: 'waiting: open cards that are paused, drain, lack a part, or whose engine is held.' }),
      order: z.enum(JOB_ORDERS).default('day'),
      q: z.string().max(80).optional(),
      from: day.optional(),
      to: day.optional(),
      technicianId: z.coerce.number().int().positive().optional(),
      boatId: z.coerce.number().int().positive().optional(),
      baseId: z.coerce.number().int().positive().optional(),
      status: jobStatus.optional(),
    }),
    summary: 'Jobs by day.',
  }),
  readJob: route({
    method: 'get',
    path: '/api/jobs/:id',
    roles: EVERYONE,
    params: idParam,
    reply: jobCard,
    summary: 'A job card with the parts and volumes it takes.',
  }),
  previewJob: route({
    method: 'post',
    path: '/api/jobs/preview',
    roles: WORK,
    body: z.object({
      boatId: id,
      tasks: z.array(jobTaskKey).max(60),
      meant: work
        .pick({ technicianId: true, day: true, startMinute: true })
        .extend({ jobId: id.optional() })
        .optional()
        .meta({ description: 'Whom and when it is meant for, and the card it stands on: what is against it is told.' }),
    }),
    reply: z.object({
      minutes: z.number(),
      savedMinutes: z.number(),
      parts: z.array(partLine),
      partsUnknown: z.array(jobTaskKey),
      against: z.array(reasonAgainst),
    }),
    summary: 'Minutes and parts of a visit before it is handed out.',
  }),
  addJob: route({
    method: 'post',
    path: '/api/jobs',
    roles: STEER,
    body: work,
    reply: created.extend({ changeId }),
    summary: 'Hand tasks of a boat to a technician on a day.',
  }),
  lookAtSeveral: route({
    method: 'post',
    path: '/api/jobs/several/look',
    roles: STEER,
    body: several,
    reply: z
      .array(z.object({ minutes: z.number(), against: z.array(reasonAgainst) }))
      .meta({ description: 'Of the new cards, then of those that move.' }),
    summary: 'What is against several cards, each beside those before it; nothing is written.',
  }),
  decideSeveral: route({
    method: 'post',
    path: '/api/jobs/several',
    roles: STEER,
    body: several,
    reply: z.object({ changeId, cards: z.int().meta({ description: 'How many were handed out or moved.' }) }),
    summary: 'Hand out work of several boats, or move several cards, in one decision: all of them or none.',
  }),
  editJob: route({
    method: 'put',
    path: '/api/jobs/:id',
    roles: STEER,
    params: idParam,
    body: work.omit({ boatId: true }).extend({ version }),
    reply: created.extend({ changeId }),
    summary: 'Move a job to another day or person, or change its tasks.',
  }),
  cancelJob: route({
    method: 'post',
    path: '/api/jobs/:id/cancel',
    roles: STEER,
    params: idParam,
    body: z.object({ version, reason }),
    reply: z.object({ changeId }),
    summary: 'Call an open job off.',
  }),
  addCardTasks: route({
    method: 'post',
    path: '/api/jobs/:id/tasks',
    roles: WORK,
    params: idParam,
    body: z.object({
      version,
      tasks: z.array(jobTaskKey).min(1, 'are missing: choose at least one').max(12),
      why: reason,
    }),
    reply: created,
    summary: 'Work that turned up joins the card that is being worked; the coordinators are told.',
  }),
  finishJob: route({
    method: 'post',
    path: '/api/jobs/:id/finish',
    roles: WORK,
    params: idParam,
    body: finishJob,
    reply: created,
    summary: 'Finish a job: history, stock and next due dates in one go.',
  }),
  undoJob: route({
    method: 'post',
    path: '/api/jobs/:id/undo',
    roles: WORK,
    params: idParam,
    body: z.object({ version, reason }),
    reply: created,
    summary: 'Undo a finished job by correcting entries; the card is open again.',
  }),
};
