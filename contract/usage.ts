import { DUE_STATES } from '@diurna/core/service';
import { DOUBTS } from '@diurna/core/usage';
import { z } from 'zod';
import { day, done, hours, id, idParam, pageOf, pageQuery, reason } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { EVERYONE, HOURS, route } from './route.ts';

export const hoursRow = z.object({
  engineId: id,
  boatId: id,
  boatName: z.string(),
  baseId: id,
  position,
  modelName: z.string(),
  meterId: id,
  meterOffset: z.number(),
  /** Count on the meter, not life hours: what a person reads. */
  lastCount: z.number().nullable(),
  lastDay: day.nullable(),
  daysSince: z.int().nullable(),
  recent: z
    .array(z.object({ day, hours: z.number() }))
    .meta({ description: 'Life hours of the last readings, oldest first, for questioning in place.' }),
});
export type HoursRow = z.infer<typeof hoursRow>;

export const typedReading = z.object({
  engineId: id,
  count: hours,
  confirm: reason.optional().meta({ description: 'Why a questioned figure is right; it stays marked.' }),
});

export const reading = z.object({
  id,
  day,
  at: z.string(),
  count: z.number(),
  lifeHours: z.number(),
  source: z.enum(['typed', 'job', 'import', 'meter change', 'gateway']),
  doubt: z.enum(DOUBTS).nullable(),
  reason: z.string().nullable(),
  by: z.string().nullable(),
  withdrawn: z.string().nullable().meta({ description: 'Why it was taken back; null while it counts.' }),
});
export type Reading = z.infer<typeof reading>;

/** An engine's hours over time: what was read, and what is ahead at 10, 50 and 90 %. */
export const usageCurve = z.object({
  /** True where there is no reading: hours are counted from today, as its hires let expect. */
  estimated: z.boolean(),
  today: day,
  read: z
    .array(z.object({ day, hours: z.number() }))
    .meta({ description: 'The last reading of each week, up to two years back.' }),
  ahead: z.array(z.object({ day, low: z.number(), likely: z.number(), high: z.number() })),
  limits: z.array(z.object({ task: taskKind, hours: z.number(), state: z.enum(DUE_STATES) })),
  weeks: z
    .array(z.object({ monday: day, hours: z.number(), hired: z.number().nullable() }))
    .meta({
      description: 'Hours run in each of the last weeks, readings spread evenly between their days, and hours on hire.',
    }),
  share: z.number().nullable().meta({ description: 'Hours run for each hour on hire, as far as is known.' }),
});
export type UsageCurve = z.infer<typeof usageCurve>;

/** Older than this many days, the hours of an engine are wanted. */
export const HOURS_WANTED_DAYS = 7;

export const usageRoutes = {
  hoursSheet: route({
    method: 'get',
    path: '/api/usage/hours',
    roles: EVERYONE,
    reply: pageOf(hoursRow),
    query: pageQuery.extend({
      baseId: z.coerce.number().int().positive().optional(),
      q: z.string().max(80).optional(),
      wanted: z.enum(['yes', 'no']).default('no').meta({ description: 'Only engines whose last reading is old.' }),
      boatId: z.coerce.number().int().positive().optional(),
      boats: z
        .string()
        .max(2000)
        .regex(/^\d+(,\d+)*$/, 'are no numbers of boats')
        .optional()
        .meta({ description: 'Of these boats, their numbers with commas between them.' }),
    }),
    summary: 'The sheet to type hours on: engines with a meter, their last reading and habit.',
  }),
  typeHours: route({
    method: 'post',
    path: '/api/usage/readings',
    roles: HOURS,
    body: z.object({
      day: day.optional().meta({ description: 'The day they were read; today at the base when left out.' }),
      readings: z.array(typedReading).min(1, 'are missing').max(500, 'are more than 500 at once'),
    }),
    reply: z.object({ saved: z.int(), unchanged: z.int() }),
    summary: 'Write down many readings, all or none. A questioned one needs a reason.',
  }),
  listReadings: route({
    method: 'get',
    path: '/api/usage/engines/:id/readings',
    roles: EVERYONE,
    params: idParam,
    query: pageQuery,
    reply: pageOf(reading),
    summary: 'Readings of an engine, newest first.',
  }),
  usageCurve: route({
    method: 'get',
    path: '/api/usage/engines/:id/curve',
    roles: EVERYONE,
    params: idParam,
    reply: usageCurve,
    summary: 'Hours of an engine over time with what is ahead, the limits above it, and its weeks.',
  }),
  withdrawReading: route({
    method: 'post',
    path: '/api/usage/readings/:id/withdraw',
    roles: HOURS,
    params: idParam,
    reply: done,
    body: z.object({ reason }),
    summary: 'Take a wrong reading back; it stays in the book, struck out.',
  }),
};
