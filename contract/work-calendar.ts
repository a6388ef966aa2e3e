import { planSettings } from './planner.ts';
import { SKILLS } from '@diurna/core/service';
import { z } from 'zod';
import { created, day, done, id, idParam, name, role, version } from './common.ts';
import { PLAN, route, STEER } from './route.ts';

const minute = z.int().min(0, 'is no time of the day').max(1440, 'is no time of the day');
const order = { message: 'ends before it begins', path: ['toMinute'] };
const shift = z
  .object({ weekday: z.int().min(1).max(7), fromMinute: minute, toMinute: minute, baseId: id.nullable() })
  .refine((s) => s.toMinute > s.fromMinute, order);

const exceptionDays = { firstDay: day, lastDay: day, reason: z.string().trim().max(200).nullable() };
const exceptionEdit = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('away'), ...exceptionDays }),
    z.object({ kind: z.literal('base'), baseId: id, ...exceptionDays }),
    z.object({ kind: z.literal('hours'), fromMinute: minute, toMinute: minute, ...exceptionDays }),
  ])
  .refine((x) => x.lastDay >= x.firstDay, { message: 'lies before the first day', path: ['lastDay'] })
  .refine((x) => x.kind !== 'hours' || x.toMinute > x.fromMinute, order);

export const personWork = z.object({
  skills: z.array(z.enum(SKILLS)).max(20),
  pace: z
    .number()
    .min(0.3, 'is between 0.3 and 5')
    .max(5, 'is between 0.3 and 5')
    .meta({ description: '1 = estimates hold, 1.2 = a fifth slower.' }),
  rateMinor: z
    .int()
    .min(0)
    .max(1_000_000)
    .nullable()
    .meta({ description: 'An hour’s cost in minor units; null = the book’s usual.' }),
  overtimeMinutes: z.int().min(0).max(600),
  overtimePercent: z.int().min(100, 'is at least 100').max(400),
  shifts: z
    .array(shift)
    .max(7)
    .refine((all) => new Set(all.map((s) => s.weekday)).size === all.length, 'holds a weekday twice')
    .meta({ description: 'The usual week; none = the working days of the base.' }),
});

export const workException = z.object({
  id,
  kind: z.enum(['away', 'base', 'hours']),
  firstDay: day,
  lastDay: day,
  baseId: id.nullable(),
  fromMinute: z.int().nullable(),
  toMinute: z.int().nullable(),
  reason: z.string().nullable(),
});
export const workingPerson = personWork.extend({
  id,
  version,
  name,
  role,
  baseId: id.nullable(),
  calendar: z.boolean().meta({ description: 'A calendar address has been given out.' }),
  exceptions: z.array(workException),
  pace: z.number().nullable().meta({ description: 'Null for whoever does not plan.' }),
  overtimePercent: z.int().nullable().meta({ description: 'Null for whoever does not plan.' }),
});
export type WorkingPerson = z.infer<typeof workingPerson>;

export const workCalendarRoutes = {
  readWorkCalendar: route({
    method: 'get',
    path: '/api/people/work',
    roles: PLAN,
    query: z.object({ from: day }),
    reply: z.object({
      people: z.array(workingPerson),
      closed: z.array(z.object({ id, baseId: id, day, name: z.string() })),
      liftOut: z.array(z.object({ id, baseId: id, firstDay: day, lastDay: day, slots: z.int(), reason: z.string() })),
      settings: planSettings.extend({ version }),
    }),
    summary: 'Who works when, with which skills, at which base and for what; days without work; the lift.',
  }),
  editPersonWork: route({
    method: 'put',
    path: '/api/people/:id/work',
    roles: STEER,
    params: idParam,
    body: personWork.extend({ version }),
    reply: created,
    summary: 'A person’s skills, pace, rate and usual week.',
  }),
  setPace: route({
    method: 'put',
    path: '/api/people/:id/pace',
    roles: STEER,
    params: idParam,
    body: personWork.pick({ pace: true }).extend({ version }),
    reply: created,
    summary: 'Plan with another pace of a person, as it was learned from cards.',
  }),
  addException: route({
    method: 'post',
    path: '/api/people/:id/exceptions',
    roles: STEER,
    params: idParam,
    body: exceptionEdit,
    reply: created.omit({ version: true }),
    summary: 'Days on which a person is away, at another base or there at other hours.',
  }),
  removeException: route({
    method: 'delete',
    path: '/api/people/exceptions/:id',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'Take such days back.',
  }),
  addClosedDay: route({
    method: 'post',
    path: '/api/fleet/bases/:id/closed-days',
    roles: STEER,
    params: idParam,
    body: z.object({ day, name }),
    reply: created.omit({ version: true }),
    summary: 'A day without work at a base.',
  }),
  removeClosedDay: route({
    method: 'delete',
    path: '/api/fleet/closed-days/:id',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'Work on that day after all.',
  }),
  importClosedDays: route({
    method: 'post',
    path: '/api/fleet/bases/:id/closed-days/calendar',
    roles: STEER,
    params: idParam,
    takes: 'text/calendar',
    body: z.string(),
    reply: z.object({ added: z.int(), known: z.int() }),
    quota: 'import',
    summary: 'Days without work from an iCalendar file: every day an event touches, three years ahead.',
  }),
  addLiftOut: route({
    method: 'post',
    path: '/api/fleet/bases/:id/lift-out',
    roles: STEER,
    params: idParam,
    reply: created.omit({ version: true }),
    body: z
      .object({ firstDay: day, lastDay: day, slots: z.int().min(0).max(99), reason: name })
      .refine((x) => x.lastDay >= x.firstDay, { message: 'lies before the first day', path: ['lastDay'] }),
    summary: 'Days on which the lift takes fewer visits.',
  }),
  removeLiftOut: route({
    method: 'delete',
    path: '/api/fleet/lift-out/:id',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'The lift works as usual after all.',
  }),
  giveCalendarKey: route({
    method: 'post',
    path: '/api/session/calendar-key',
    roles: 'signed in',
    reply: z.object({ path: z.string() }),
    showsSecret: true,
    summary: 'A new address of one’s own calendar of work; an older one ends.',
  }),
  personCalendar: route({
    method: 'get',
    path: '/api/calendars/:key',
    roles: 'anyone',
    params: z.object({ key: z.string().regex(/^[\w-]{20,80}(\.ics)?$/) }),
    gives: 'text/calendar',
    reply: z.string(),
    summary: 'A person’s work as an iCalendar feed, by its secret address.',
  }),
};
