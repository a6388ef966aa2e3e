import { SEASON_VISITS } from '@diurna/core/season';
import { z } from 'zod';
import { day, done, id, idParam, name, reason, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { partLine } from './jobs.ts';
import { EVERYONE, route } from './route.ts';
import { seasonPlan, seasonVisit } from './season-plan.ts';

const monthDay = z
  .string()
  .regex(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, 'is no day of a year; write it as MM-DD')
  .refine(
    (text) => Number(text.slice(3)) <= [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][Number(text.slice(0, 2)) - 1]!,
    'is no day of a year; write it as MM-DD',
  );

const cost = z
  .int('is no whole sum')
  .min(0, 'cannot be below 0')
  .max(1_000_000, 'is more than any of these boats is worth')
  .nullable()
  .default(null);

const baseSeason = z.object({
  closes: monthDay.nullable().meta({ description: 'Last day of the season, MM-DD; null: it never closes.' }),
  opens: monthDay.nullable().meta({ description: 'First day of the next season, MM-DD.' }),
  lows: z
    .array(z.int().min(-60, 'is colder than anywhere').max(60, 'is hotter than anywhere'))
    .length(12, 'has twelve months')
    .nullable()
    .meta({ description: 'The coldest night of each month in °C, January first; null: nobody entered it.' }),
  doseMlPerTen: z
    .int()
    .min(1, 'is no dose')
    .max(500, 'is more than any stabiliser wants')
    .nullable()
    .default(null)
    .meta({ description: 'Stabiliser in mL to 10 L of fuel, as its bottle says; null: the usual 30.' }),
  frostDay: cost.meta({
    description: 'A day a boat stands unprotected in frost, in whole units of the currency; null: the usual estimate.',
  }),
  waitDay: cost.meta({ description: 'A day a boat waits with a finding.' }),
  oldOil: cost.meta({ description: 'A last hire on old oil and untreated fuel.' }),
  notAtAll: cost.meta({ description: 'A boat that is not put away, or not brought out, at all.' }),
});
const seasonName = z
  .string()
  .regex(/^\d{4}$/, 'is no season; it is the year it opens in')
  .meta({ description: 'The time of standing, by the year it opens in.' });
export const STORAGE_KINDS = ['hall', 'yard', 'afloat'] as const;

const seasonTask = z.object({
  engineId: id,
  position,
  task: taskKind,
  because: z.string(),
  doneOn: day.nullable(),
  job: z.object({ id, day, technician: z.string() }).nullable(),
});
const boatVisit = z.object({
  visit: seasonVisit,
  open: z.int(),
  done: z.int(),
  minutes: z.number().meta({ description: 'Minutes of the open work in one visit, at the estimate’s pace.' }),
  freeMinutes: z.number().meta({ description: 'The same of what is on no card.' }),
  tasks: z.array(seasonTask),
});
const seasonBoat = z.object({
  boatId: id,
  boatName: z.string(),
  berth: z.string().nullable(),
  version: z.int().meta({ description: 'Of what the season keeps of it; 0: nothing yet.' }),
  season: seasonName,
  staysOut: z.boolean(),
  placeId: id.nullable(),
  tankLitres: z.number().nullable(),
  held: z.array(z.string()),
  /** The last hire before the closing, and the first after the opening. */
  lastOut: day.nullable(),
  lastBack: day.nullable(),
  firstOut: day.nullable(),
  visits: z.array(boatVisit),
  leftOut: z.array(z.object({ engineId: id, position, task: taskKind, because: z.string() })),
  changes: z
    .array(z.object({ engineId: id, task: taskKind, put: seasonVisit.nullable(), by: z.string().nullable(), on: day }))
    .meta({ description: 'What somebody decided about its lists; put null: left out. Earlier ones are in the audit.' }),
  laidUpOn: day.nullable(),
  readyOn: day.nullable(),
  next: seasonVisit.nullable().meta({ description: 'The visit that comes next; null: nothing is left.' }),
  by: day
    .nullable()
    .meta({ description: 'By when it is wanted: before the last hire, before frost, before the first.' }),
  note: z.string().nullable().meta({ description: 'What has to be known before the next visit.' }),
});
export type SeasonBoat = z.infer<typeof seasonBoat>;

const pace = z.object({
  total: z.int(),
  done: z.int(),
  left: z.int(),
  by: day,
  needed: z.number(),
  reached: z.number().nullable(),
  finish: z.object({ early: day, likely: day, late: day }).nullable(),
  weeks: z
    .array(z.object({ from: day, done: z.int() }))
    .meta({ description: 'Boats done in each week, the oldest first.' }),
});
export type SeasonPace = z.infer<typeof pace>;

/** The time of standing everything of the room is about. */
export const aboutSeason = z.object({
  baseId: id,
  today: day,
  season: baseSeason.extend({ version: z.int(), entered: z.boolean() }),
  off: z
    .object({ name: z.string(), closes: day, opens: day, frost: day.nullable(), putAwayBy: day })
    .nullable()
    .meta({ description: 'The time of standing it is about; null: the base never closes.' }),
});
export type AboutSeason = z.infer<typeof aboutSeason>;

const seasonRoom = aboutSeason.extend({
  phase: z.enum(['running', 'closing', 'standing', 'opening']).nullable(),
  boats: z.array(seasonBoat).meta({ description: 'Those whose next visit is nearest first.' }),
  layUp: pace.nullable(),
  recommission: pace.nullable(),
  parts: z.array(
    partLine
      .pick({ partId: true, number: true, name: true, unit: true, quantity: true, onHand: true })
      .extend({ packs: z.string().nullable().meta({ description: 'Of a fluid: which containers it is short of.' }) }),
  ),
  partsUnknown: z.int().meta({ description: 'Pieces of work for which no part is known to fit.' }),
  stabiliser: z
    .object({ ml: z.number(), withoutTank: z.int(), secondDoses: z.int() })
    .meta({ description: 'For first doses, where tanks may be full; boats that still want only the second.' }),
  deferred: z.array(
    z.object({
      id,
      boatId: id,
      boatName: z.string(),
      engineId: id,
      position,
      task: taskKind,
      until: day,
      reason: z.string(),
      by: z.string().nullable(),
      on: day,
      lapsed: z.boolean().meta({ description: 'Put off for more than a season, or its day is over.' }),
    }),
  ),
  places: z.array(
    z.object({ id, version, name: z.string(), kind: z.enum(STORAGE_KINDS), room: z.int(), boats: z.int() }),
  ),
});
export type SeasonRoom = z.infer<typeof seasonRoom>;

export const seasonRoutes = {
  planSeason: route({
    method: 'get',
    path: '/api/season/plan',
    roles: EVERYONE,
    query: z.object({
      baseId: z.coerce.number().int().positive(),
      share: z.coerce
        .number()
        .int()
        .min(5)
        .max(100)
        .default(50)
        .meta({ description: 'Per cent of the hands that are free which the campaign gets.' }),
    }),
    reply: seasonPlan,
    quota: 'plan',
    summary: 'The next visits of a campaign laid backwards over its days, priced, with what would help.',
  }),
  readSeason: route({
    method: 'get',
    path: '/api/season',
    roles: EVERYONE,
    query: z.object({ baseId: z.coerce.number().int().positive() }),
    reply: seasonRoom,
    summary: 'Lay-up and recommission of a base: its boats, pace, parts, batteries, and what was put off.',
  }),
  seasonFile: route({
    method: 'get',
    path: '/api/season/file',
    roles: EVERYONE,
    query: z.object({ baseId: z.coerce.number().int().positive() }),
    gives: 'text/csv',
    reply: z.string(),
    quota: 'export',
    summary: 'The campaign as a file: each piece of work of each engine, by when, why, and how it stands.',
  }),
  seasonCalendar: route({
    method: 'get',
    path: '/api/season/calendar',
    roles: EVERYONE,
    query: z.object({ baseId: z.coerce.number().int().positive() }),
    gives: 'text/calendar',
    reply: z.string(),
    quota: 'export',
    summary: 'The days of the campaign as iCalendar: closing, frost, opening, and when each boat is wanted.',
  }),
  editBaseSeason: route({
    method: 'put',
    path: '/api/season/bases/:id',
    roles: ['administrator', 'coordinator'],
    params: idParam,
    body: baseSeason
      .extend({ version: z.int().min(0) })
      .refine((s) => (s.closes === null) === (s.opens === null), {
        path: ['opens'],
        error: 'goes with the closing day: both, or none',
      })
      .refine((s) => s.closes === null || s.closes !== s.opens, {
        path: ['opens'],
        error: 'is the closing day itself',
      }),
    reply: z.object({ version }),
    summary: 'Say when a base closes and opens, and how cold its nights get.',
  }),
  editBoatSeason: route({
    method: 'put',
    path: '/api/season/boats/:id',
    roles: ['administrator', 'coordinator', 'technician'],
    params: idParam,
    body: z.object({
      staysOut: z.boolean(),
      placeId: id.nullable(),
      tankLitres: z.number().min(1, 'is no tank').max(20_000, 'is more than any of these boats holds').nullable(),
      version: z.int().min(0),
    }),
    reply: z.object({ version }),
    summary: 'Say whether a boat stays out, where it stands, and how large its tank is.',
  }),
  changeSeason: route({
    method: 'put',
    path: '/api/season/engines/:id',
    roles: ['administrator', 'coordinator'],
    params: idParam,
    body: z.object({
      task: taskKind,
      put: z.enum([...SEASON_VISITS, 'left out', 'as usual']),
      reason,
      season: seasonName.optional().meta({ description: 'Of the boat’s list; the base’s own where it is left out.' }),
    }),
    reply: done,
    summary: 'Leave a piece of the season’s work out at one engine, put it to another visit, or take that back.',
  }),
  addStoragePlace: route({
    method: 'post',
    path: '/api/season/places',
    roles: ['administrator', 'coordinator'],
    body: z.object({ baseId: id, name, kind: z.enum(STORAGE_KINDS), room: z.int().min(1, 'takes no boat').max(9999) }),
    reply: z.object({ id, version }),
    summary: 'Write down a place where boats stand.',
  }),
  editStoragePlace: route({
    method: 'put',
    path: '/api/season/places/:id',
    roles: ['administrator', 'coordinator'],
    params: idParam,
    body: z.object({ name, kind: z.enum(STORAGE_KINDS), room: z.int().min(1, 'takes no boat').max(9999), version }),
    reply: z.object({ version }),
    summary: 'Change a place where boats stand.',
  }),
};
