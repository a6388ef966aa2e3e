import { MATTER_GROUPS } from '@diurna/core/day';
import { z } from 'zod';
import { day, id, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { engineWorks, jobStatus, jobTaskKey, partLine } from './jobs.ts';
import { EVERYONE, route } from './route.ts';
import { dueStateName } from './service.ts';

/** A visit on a person's line of the day. Minutes after midnight at the base. */
export const dayVisit = z.object({
  jobId: id,
  version,
  boatId: id,
  boatName: z.string(),
  baseId: id,
  baseName: z.string(),
  berth: z.string().nullable(),
  status: jobStatus,
  pinned: z.boolean(),
  start: z.number().nullable().meta({ description: 'Null = it found no time beside the rest.' }),
  worked: z.boolean().meta({ description: 'Begun or finished: it stands where it was.' }),
  minutes: z.number(),
  pause: z
    .object({ from: z.number(), to: z.number() })
    .nullable()
    .meta({ description: 'The person’s break, where it lies inside: the visit is over that much later.' }),
  hands: z.number(),
  drain: z
    .object({ from: z.number(), to: z.number() })
    .nullable()
    .meta({ description: 'Unattended minutes, from the visit’s start.' }),
  needsLift: z.boolean(),
  secondMinutes: z.number().meta({ description: 'Minutes a second person is wanted for; 0 = none.' }),
  beside: z.array(z.string()).meta({ description: 'Who else is on the bench at its base that day.' }),
  tasks: z.array(jobTaskKey.extend({ position, state: z.enum(['open', 'done', 'left']) })),
  works: engineWorks,
  trouble: z.string().nullable().meta({ description: 'Why it cannot be done as it stands.' }),
});
export type DayVisit = z.infer<typeof dayVisit>;

export const dayPerson = z.object({
  id,
  name: z.string(),
  baseId: id.nullable(),
  baseName: z.string().nullable(),
  skills: z.array(z.string()),
  shift: z.object({ from: z.number(), to: z.number() }).nullable(),
  pause: z.object({ from: z.number(), to: z.number() }).nullable(),
  visits: z.array(dayVisit),
});
export type DayPerson = z.infer<typeof dayPerson>;

export const dayBoat = z.object({
  boatId: id,
  boatName: z.string(),
  baseId: id,
  berth: z.string().nullable(),
  way: z.enum(['out', 'back']),
  at: z.number().meta({ description: 'Minutes after midnight of the day; beyond 1440 = the next day.' }),
  state: z.enum(['held', 'ready', 'work first', 'over', 'hours wanted', 'fine', 'gone']),
  text: z.string(),
});
export type DayBoat = z.infer<typeof dayBoat>;

const moveTo = { day, technicianId: id, startMinute: z.int().nullable() };
/** What one click does. */
export const dayAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('move'), jobId: id, version, ...moveTo, tasks: z.array(jobTaskKey) }),
  z.object({ kind: z.literal('add'), boatId: id, ...moveTo, tasks: z.array(jobTaskKey) }),
  z.object({ kind: z.literal('call off'), jobId: id, version }),
  z.object({ kind: z.literal('order'), partId: id, baseId: id, quantity: z.number(), day }),
  z
    .object({ kind: z.literal('stand in'), hireId: id, version, boatId: id })
    .meta({ description: 'The hire goes out with this boat instead.' }),
  z.object({ kind: z.literal('message'), text: z.string() }).meta({ description: 'Words ready for the hire desk.' }),
  z.object({ kind: z.literal('look'), to: z.string().meta({ description: 'Where in the book it is settled.' }) }),
  z.object({ kind: z.literal('leave') }),
]);
export type DayAct = z.infer<typeof dayAct>;

/** A matter that needs a person, with what can be done about it and what that costs. */
export const matter = z.object({
  key: z.string(),
  group: z.enum(MATTER_GROUPS),
  waiting: z
    .number()
    .nullable()
    .meta({ description: 'What leaving it costs against the best that can be done; null = nobody can say.' }),
  weight: z.enum(['now', 'soon']),
  title: z.string(),
  text: z.string(),
  state: dueStateName.nullable(),
  options: z.array(
    z.object({
      label: z.string(),
      cost: z
        .number()
        .nullable()
        .meta({ description: 'Against things as they stand, in units of money; null = nobody can say.' }),
      act: dayAct,
    }),
  ),
});
export type Matter = z.infer<typeof matter>;

export const dayReply = z.object({
  day,
  today: day,
  now: z.number().nullable().meta({ description: 'Minutes after midnight, when the day is today.' }),
  currency: z.string(),
  people: z.array(dayPerson),
  lifts: z.array(z.object({ baseId: id, baseName: z.string(), slots: z.int(), used: z.int() })),
  boats: z.array(dayBoat).meta({ description: 'Those that want somebody first, then by time; at most 60.' }),
  boatsMore: z.int().meta({ description: 'So many less pressing ones are left out.' }),
  boatsOut: z.int(),
  boatsBack: z.int().meta({ description: 'Back by noon.' }),
  boatsGoing: z.int().meta({ description: 'Going out on the next morning.' }),
  kits: z.array(
    z.object({
      jobId: id,
      boatName: z.string(),
      baseId: id,
      baseName: z.string(),
      technician: z.string(),
      start: z.number().nullable(),
      lines: z.array(partLine),
      unknown: z.array(taskKind),
    }),
  ),
  matters: z.array(matter).nullable().meta({ description: 'Null for who does not decide, and for days gone by.' }),
});
export type DayReply = z.infer<typeof dayReply>;

export const ribbonDay = z.object({
  day,
  jobs: z.int(),
  loadMinutes: z.number(),
  capacityMinutes: z.number(),
  limits: z.int().meta({ description: 'Calendar limits that run out on this day.' }),
  boatsOut: z.int().meta({ description: 'Boats on hire at some time of the day, as far as is booked.' }),
});
export type RibbonDay = z.infer<typeof ribbonDay>;

export const dayRoutes = {
  ribbon: route({
    method: 'get',
    path: '/api/day/ribbon',
    roles: EVERYONE,
    query: z.object({
      from: day,
      days: z.coerce.number().int().min(1).max(62).default(28),
      baseId: z.coerce.number().int().positive().optional(),
    }),
    reply: z.array(ribbonDay),
    summary: 'Work planned against hands, and calendar limits, day by day.',
  }),
  readDay: route({
    method: 'get',
    path: '/api/day',
    roles: EVERYONE,
    reply: dayReply,
    query: z.object({ day, baseId: z.coerce.number().int().positive().optional() }),
    summary:
      'A day by the hour: who works on what, boats out and back with their readiness, kits to pick, and what is to be decided.',
  }),
};
