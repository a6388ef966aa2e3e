import { z } from 'zod';
import { created, day, done, id, idParam, instant, name, reason, version } from './common.ts';
import { EVERYONE, HOURS, route, STEER } from './route.ts';

export const hire = z.object({
  id,
  boatId: id,
  boatName: z.string(),
  baseId: id,
  out: instant,
  back: instant,
  /** The same at the base, for people. */
  outDay: day,
  outTime: z.string(),
  backDay: day,
  backTime: z.string(),
  madeAt: instant.nullable(),
  reference: z.string().nullable(),
  source: z
    .string()
    .nullable()
    .meta({ description: 'The feed or file it came from; null when entered by hand or by CSV.' }),
  /** Kept by a feed: changed there, not here. */
  fromFeed: z.boolean(),
  cancelled: z.boolean(),
  givenFrom: z
    .object({ boatId: id, boatName: z.string() })
    .nullable()
    .meta({ description: 'The boat it was booked for, where another was given instead.' }),
  letGo: z
    .object({ at: instant, by: z.string().nullable() })
    .nullable()
    .meta({ description: 'When the boat was let go, and by whom.' }),
  cameBack: z
    .object({ at: instant, by: z.string().nullable() })
    .nullable()
    .meta({ description: 'When the boat was back at the dock, and who said so.' }),
  held: z.array(z.string()).meta({ description: 'Why it may not go, one line for each held engine.' }),
  notReady: z
    .string()
    .nullable()
    .meta({
      description: 'Put away and not brought out yet: what is open. Whoever plans may let it go with a reason.',
    }),
  underWay: z
    .array(z.string())
    .meta({
      description: 'Work that is begun and not finished on it, one line for each card. Told up to a day ahead.',
    }),
  snags: z.array(z.string()).meta({ description: 'What is reported on it and open. Told up to a day ahead.' }),
  runIn: z
    .array(z.string())
    .meta({ description: 'What to say to whoever takes it, one line for each engine that is not run in yet.' }),
  version,
});
export type Hire = z.infer<typeof hire>;

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time; write it like 09:30');

export const hireEdit = z.object({
  boatId: id,
  outDay: day,
  outTime: clock,
  backDay: day,
  backTime: clock,
  reference: z.string().trim().max(80, 'is longer than 80 characters').nullable(),
});

export const hireSaved = created.extend({
  overlaps: z
    .array(z.string())
    .meta({ description: 'Other hires of the boat at the same time, in words; the hire is kept all the same.' }),
});

/** The longest stretch that is listed at once (days). */
export const MOST_HIRE_DAYS = 200;

export const feedEdit = z.object({
  name,
  url: z
    .url({ protocol: /^https?$/, error: 'is no web address; it begins with https://' })
    .max(500, 'is longer than 500 characters'),
  baseId: id,
  active: z.boolean(),
});
export const hireFeed = feedEdit.extend({
  id,
  url: z.string().nullable().meta({ description: 'Told to administrators, who keep the feeds.' }),
  version,
  readAt: instant.nullable(),
  outcome: z.string().nullable(),
  failed: z.boolean(),
  hires: z.int().meta({ description: 'Hires of it that are not over.' }),
});
export type HireFeed = z.infer<typeof hireFeed>;

export const calendarEvent = z.object({
  uid: z.string(),
  title: z.string(),
  boatName: z.string().nullable(),
  out: instant.nullable(),
  back: instant.nullable(),
  outText: z.string().nullable(),
  backText: z.string().nullable(),
  does: z.enum(['add', 'change', 'same', 'cancel', 'faulty']),
  fault: z.string().nullable(),
});
export const calendarResult = z.object({
  counts: z.object({ add: z.int(), change: z.int(), same: z.int(), cancel: z.int(), faulty: z.int() }),
  events: z.array(calendarEvent).meta({ description: 'Faulty ones first, at most 500.' }),
  written: z.boolean(),
});
export type CalendarResult = z.infer<typeof calendarResult>;

/**
 * What was seen at the dock: a phone tells later what it kept without signal, and the hire may have another boat then.
 */
const seen = z.object({
  boatId: id.meta({ description: 'The boat that was seen.' }),
  at: instant.optional().meta({ description: 'When it was so; now, where it is left out.' }),
});
const atTheDock = created.extend({
  clash: z
    .string()
    .nullable()
    .meta({ description: 'What somebody else has written, or what it went against; it is in the book all the same.' }),
});

const calendarQuery = z.object({
  baseId: z.coerce
    .number()
    .int()
    .positive()
    .meta({ description: 'The base whose clock holds for times without a zone.' }),
});

export const hiresRoutes = {
  listHires: route({
    method: 'get',
    path: '/api/hires',
    roles: EVERYONE,
    query: z.object({
      from: day,
      days: z.coerce.number().int().min(1).max(MOST_HIRE_DAYS).default(42),
      baseId: z.coerce.number().int().positive().optional(),
      boatId: z.coerce.number().int().positive().optional(),
      cancelled: z.enum(['yes', 'no']).default('no'),
      q: z.string().trim().max(80).optional().meta({ description: 'A piece of a boat’s name or of a reference.' }),
      page: z.coerce.number().int().min(1).max(1000).default(1),
      size: z.coerce.number().int().min(1).max(500).default(500),
    }),
    reply: z.object({ rows: z.array(hire), total: z.int(), page: z.int(), size: z.int() }),
    summary: 'Hires that touch a stretch of days, in the order they go out.',
  }),
  addHire: route({
    method: 'post',
    path: '/api/hires',
    roles: STEER,
    body: hireEdit.extend({
      repeat: z
        .object({ everyDays: z.int().min(1).max(366), times: z.int().min(2).max(60) })
        .optional()
        .meta({ description: 'The same again so many days later, so many times in all.' }),
    }),
    reply: hireSaved.extend({ hires: z.int() }),
    summary: 'Book a boat out, in the time of its base; once, or again and again.',
  }),
  editHire: route({
    method: 'put',
    path: '/api/hires/:id',
    roles: STEER,
    params: idParam,
    body: hireEdit.extend({ version }),
    reply: hireSaved,
    summary: 'Change a hire; one of a feed is changed where it is kept.',
  }),
  cancelHire: route({
    method: 'post',
    path: '/api/hires/:id/cancel',
    roles: STEER,
    params: idParam,
    body: z.object({ version, cancelled: z.boolean() }),
    reply: created,
    summary: 'Call a hire off, or take that back.',
  }),
  giveHire: route({
    method: 'post',
    path: '/api/hires/:id/give',
    roles: STEER,
    params: idParam,
    body: z.object({ version, boatId: id }),
    reply: created,
    summary:
      'Let another boat of the base go out on a hire; refused while that one is out, held or worked on. A feed that still names the first boat changes nothing.',
  }),
  letGo: route({
    method: 'post',
    path: '/api/hires/:id/let-go',
    roles: HOURS,
    params: idParam,
    body: seen.extend({
      out: z.boolean().default(true).meta({ description: 'False: it is here after all.' }),
      reason: reason
        .optional()
        .meta({ description: 'Why it goes though it is not brought out; of whoever plans alone.' }),
    }),
    reply: atTheDock,
    summary:
      'Let the boat go on its hire, or take that back; refused while one of its engines is held, or it is not brought out of its lay-up.',
  }),
  comeBack: route({
    method: 'post',
    path: '/api/hires/:id/come-back',
    roles: HOURS,
    params: idParam,
    body: seen.extend({ back: z.boolean().default(true).meta({ description: 'False: it is not back after all.' }) }),
    reply: atTheDock,
    summary: 'Write down that the boat is back at the dock, or take that back.',
  }),
  previewCalendar: route({
    method: 'post',
    path: '/api/hires/calendar/preview',
    roles: STEER,
    query: calendarQuery,
    takes: 'text/calendar',
    body: z.string(),
    reply: calendarResult,
    quota: 'import',
    summary: 'Read an iCalendar file (RFC 5545) and say what each event would do; nothing is written.',
  }),
  importCalendar: route({
    method: 'post',
    path: '/api/hires/calendar',
    roles: STEER,
    query: calendarQuery,
    takes: 'text/calendar',
    body: z.string(),
    reply: calendarResult,
    quota: 'import',
    summary: 'Read an iCalendar file in; events without a boat are left out. Repeating it changes nothing.',
  }),
  listFeeds: route({
    method: 'get',
    path: '/api/hires/feeds',
    roles: EVERYONE,
    reply: z.array(hireFeed),
    summary: 'Calendars read again every quarter of an hour.',
  }),
  addFeed: route({
    method: 'post',
    path: '/api/hires/feeds',
    roles: ['administrator'],
    body: feedEdit,
    reply: created,
    summary: 'Follow a calendar. The server reads the address, so only administrators name one.',
  }),
  editFeed: route({
    method: 'put',
    path: '/api/hires/feeds/:id',
    roles: ['administrator'],
    params: idParam,
    body: feedEdit.extend({ version }),
    reply: created,
    summary: 'Change a feed or stop following it.',
  }),
  readFeed: route({
    method: 'post',
    path: '/api/hires/feeds/:id/read',
    roles: STEER,
    params: idParam,
    reply: done.extend({ outcome: z.string(), failed: z.boolean() }),
    quota: 'import',
    summary: 'Read a feed now.',
  }),
};
