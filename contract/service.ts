import { DUE_STATES, OLD_PART, TASK_KINDS } from '@diurna/core/service';
import { z } from 'zod';
import { created, day, done, hours, id, idParam, pageOf, pageQuery, reason, remark } from './common.ts';
import { nearest, position, taskKind } from './fleet.ts';
import { EVERYONE, HOURS, route, STEER, WORK } from './route.ts';

export const dueStateName = z.enum(DUE_STATES);

/** One case in ten is before `early`, one in ten after `late`; null = more than a year ahead. */
export const daySpread = z.object({ early: day.nullable(), likely: day.nullable(), late: day.nullable() });

export const due = z.object({
  task: taskKind,
  state: dueStateName,
  by: z.enum(['hours', 'months']).nullable(),
  hoursLeft: z.number().nullable(),
  limitHours: z.number().nullable(),
  daysLeft: z.int().nullable(),
  limitDay: day.nullable(),
  share: z.number().nullable(),
  hoursOn: daySpread.nullable().meta({ description: 'When the hours limit will be reached.' }),
  estimated: z.boolean().meta({ description: 'The hours come from hires: the engine has no meter.' }),
  last: z.object({ day, hours: z.number().nullable(), from: z.enum(['service', 'new']) }).nullable(),
  hoursUnchecked: z.boolean(),
  tolerated: z.boolean().meta({ description: 'A limit is passed, by no more than the rule lets pass.' }),
});

export const dueRow = z.object({
  engineId: id,
  boatId: id,
  boatName: z.string(),
  position,
  baseId: id,
  modelId: id,
  modelName: z.string(),
  lifeHours: z.number().nullable(),
  hoursPerWeek: z.number().nullable(),
  lastReadDay: day.nullable(),
  due,
  rule: z.object({
    task: taskKind,
    everyHours: z.number().nullable(),
    everyMonths: z.number().nullable(),
    firstHours: z.number().nullable(),
    counting: z.enum(['rolling', 'ladder']),
    anchor: z.string().nullable().meta({ description: 'Month and day by which it is done every year besides.' }),
  }),
  asked: z
    .string()
    .nullable()
    .meta({
      description:
        'Why it is asked for besides the programme, by a finding or after a service; null of the programme’s own.',
    }),
  deferral: z
    .object({
      id,
      until: day,
      spring: z.boolean(),
      reason: z.string(),
      by: z.string().nullable(),
      on: day,
      otherwise: z.string(),
    })
    .nullable()
    .meta({ description: 'It was put off: until when, why, who allowed it, and how it would stand otherwise.' }),
  because: z.string().meta({ description: 'Where the interval comes from, as a sentence.' }),
  job: z
    .object({ id, day, technician: z.string() })
    .nullable()
    .meta({ description: 'The open job that has this task, if any.' }),
});
export type DueRow = z.infer<typeof dueRow>;

const counts = z.object({ over: z.int(), due: z.int(), soon: z.int(), unknown: z.int(), fine: z.int() });

const dueFilters = {
  baseId: z.coerce.number().int().positive().optional(),
  modelId: z.coerce.number().int().positive().optional(),
  engineId: z.coerce.number().int().positive().optional(),
  boatId: z.coerce.number().int().positive().optional(),
  task: taskKind.optional(),
  state: dueStateName.optional(),
  q: z.string().max(80).optional(),
};

const offset = z.int().nullable();

/** One engine's line of the chart. Days are counted from the first day shown. */
export const outlookRow = z.object({
  engineId: id,
  boatId: id,
  boatName: z.string(),
  position,
  baseId: id,
  modelName: z.string(),
  lifeHours: z.number().nullable(),
  hoursPerWeek: z.number().nullable(),
  nearest: nearest.nullable(),
  service: z
    .string()
    .nullable()
    .meta({ description: 'The largest named service whose work is all over, due or soon.' }),
  tasks: z
    .array(
      z.object({ task: taskKind, state: dueStateName, early: offset, likely: offset, late: offset, text: z.string() }),
    )
    .meta({
      description:
        'Tasks that may fall due in the days shown, or are over; three days of which one case in ten is before the first and one after the last.',
    }),
  jobs: z.array(z.object({ id, day: z.int(), technician: z.string(), tasks: z.array(taskKind) })),
});
export type OutlookRow = z.infer<typeof outlookRow>;

export const outlookReply = z.object({
  from: day,
  days: z.int(),
  rows: z.array(outlookRow),
  hires: z
    .record(z.string(), z.array(z.tuple([z.number(), z.number()])))
    .meta({ description: 'By boat: out and back, in days from the first day shown, by the clock of its base.' }),
  counts,
});
export type Outlook = z.infer<typeof outlookReply>;

/** The most days the chart shows. */
export const MOST_OUTLOOK_DAYS = 190;

export const entry = z.object({
  id,
  engineId: id,
  engineName: z.string(),
  serial: z.string(),
  task: taskKind,
  doneOn: day,
  hours: z.number().nullable(),
  by: z.string().nullable(),
  jobId: id.nullable(),
  volume: z.object({ value: z.number(), unit: z.string() }).nullable(),
  remark: z.string().nullable(),
  enteredAt: z.string(),
  cancelled: z
    .object({ by: z.string().nullable(), at: z.string(), reason: z.string() })
    .nullable()
    .meta({ description: 'The correcting entry, when there is one; the first entry stays.' }),
});
export type Entry = z.infer<typeof entry>;

export const breakIn = z.object({
  applies: z.boolean().meta({ description: 'True for an engine bought new.' }),
  hours: z.number(),
  done: z.boolean(),
  entries: z.array(z.object({ id, day, hours: z.number(), by: z.string().nullable(), remark: z.string().nullable() })),
});
export type BreakIn = z.infer<typeof breakIn>;

export const serviceRoutes = {
  readBreakIn: route({
    method: 'get',
    path: '/api/service/engines/:id/break-in',
    roles: EVERYONE,
    params: idParam,
    reply: breakIn,
    summary: 'How far a new engine is run in, outing by outing.',
  }),
  addBreakIn: route({
    method: 'post',
    path: '/api/service/engines/:id/break-in',
    roles: HOURS,
    params: idParam,
    reply: done,
    body: z.object({
      hours: hours.refine((h) => h > 0 && h <= 24, 'is between 0.1 and 24'),
      remark: remark.nullable(),
    }),
    summary: 'Write down an outing on which a new engine was run in.',
  }),
  putOff: route({
    method: 'post',
    path: '/api/service/engines/:id/deferrals',
    roles: STEER,
    params: idParam,
    reply: created.omit({ version: true }),
    body: z.object({
      task: taskKind,
      until: day.nullable().meta({ description: 'Null = in spring, by the season of its base.' }),
      reason,
    }),
    summary: 'Put a task off to a day or to the spring, with a reason; whoever does it allows it.',
  }),
  endDeferral: route({
    method: 'post',
    path: '/api/service/deferrals/:id/end',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'Take a deferral back: the task stands by its own limits again.',
  }),
  dueList: route({
    method: 'get',
    path: '/api/service/due',
    roles: EVERYONE,
    query: pageQuery.extend({ ...dueFilters, sort: z.enum(['worst', 'boat', 'model']).default('worst') }),
    reply: pageOf(dueRow).extend({ counts, engines: z.int() }),
    summary: 'What is due: every task of every engine by hours and months, with its reasons.',
  }),
  outlook: route({
    method: 'get',
    path: '/api/service/outlook',
    roles: EVERYONE,
    query: z.object({
      ...dueFilters,
      from: day,
      days: z.coerce.number().int().min(7).max(MOST_OUTLOOK_DAYS).default(42),
      sort: z.enum(['worst', 'boat', 'model', 'base']).default('worst'),
    }),
    reply: outlookReply,
    summary:
      'Every engine over some weeks: hires of its boat, when its tasks fall due and how surely, and jobs handed out.',
  }),
  listEntries: route({
    method: 'get',
    path: '/api/service/entries',
    roles: EVERYONE,
    query: pageQuery.extend({
      engineId: z.coerce.number().int().positive().optional(),
      task: taskKind.optional(),
      q: z.string().max(80).optional(),
    }),
    reply: pageOf(entry),
    summary: 'The service log, newest first.',
  }),
  addEntries: route({
    method: 'post',
    path: '/api/service/entries',
    roles: STEER,
    reply: z.object({ ids: z.array(id) }),
    body: z.object({
      engineId: id,
      tasks: z
        .array(taskKind)
        .min(1, 'needs one at least')
        .max(TASK_KINDS.length)
        .refine((all) => new Set(all).size === all.length, 'names one twice'),
      doneOn: day,
      hours: hours.nullable(),
      doneBy: z.string().trim().max(80).nullable(),
      remark: remark.nullable(),
      oldPart: z
        .enum(OLD_PART)
        .nullable()
        .default(null)
        .meta({ description: 'How the old part was: sound, or worn out or broken; null: nobody looked.' }),
      confirm: reason
        .optional()
        .meta({ description: 'Why the hours are right although no meter seems to have shown them.' }),
    }),
    summary: 'Write down work done before the book or outside it, all of one day on one engine.',
  }),
  cancelEntry: route({
    method: 'post',
    path: '/api/service/entries/:id/cancel',
    roles: WORK,
    params: idParam,
    reply: done,
    body: z.object({ reason }),
    summary: 'Correct a wrong entry by a further one; nothing is erased.',
  }),
};
