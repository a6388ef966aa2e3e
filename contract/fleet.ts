import { POSITIONS } from '@diurna/core/fleet';
import { DUE_STATES, RULE_BASES, TASK_KINDS } from '@diurna/core/service';
import { VOLUME_UNITS } from '@diurna/core/units';
import { z } from 'zod';
import { created, day, hours, id, idParam, name, pageOf, pageQuery, reason, version } from './common.ts';
import { timeZone } from './people.ts';
import { EVERYONE, route, STEER, WORK } from './route.ts';
import { modelTraits, transom, variant } from './traits.ts';

export const taskKind = z.enum(TASK_KINDS);
export const position = z.enum(POSITIONS);
export const METER_KINDS = ['computer', 'dash', 'logger'] as const;
export const meterKind = z.enum(METER_KINDS);

export const baseEdit = z.object({
  name,
  timeZone,
  hemisphere: z.enum(['north', 'south']),
  dayMinutes: z.int().min(0).max(1440).meta({ description: 'Minutes a technician works on a working day.' }),
  workdays: z.array(z.int().min(1).max(7)).max(7).meta({ description: 'ISO weekdays with work, 1 = Monday.' }),
  opensAt: z
    .int()
    .min(0)
    .max(1439)
    .optional()
    .meta({
      description: 'Minutes after midnight from which boats can be worked on; left out: as before, 7:00 of a new base.',
    }),
  closesAt: z.int().min(1).max(1440).optional(),
  liftSlots: z.int().min(0).max(99).optional().meta({ description: 'Visits a day that need the lift or stand.' }),
  breakMinutes: z
    .int()
    .min(0)
    .max(240)
    .optional()
    .meta({ description: 'The break of a working day in one piece; 0: none; left out: as before, 30 of a new base.' }),
  breakFrom: z.int().min(0).max(1439).optional().meta({ description: 'It begins then at the earliest.' }),
  breakTo: z.int().min(1).max(1440).optional().meta({ description: 'And is over by then.' }),
});
export const base = baseEdit.extend({
  id,
  version,
  today: day,
  opensAt: z.int(),
  closesAt: z.int(),
  liftSlots: z.int(),
  breakMinutes: z.int(),
  breakFrom: z.int(),
  breakTo: z.int(),
});
export type Base = z.infer<typeof base>;

export const printedVolume = z.object({
  value: z.number().positive('must be above 0').max(200, 'is more than any engine holds'),
  unit: z.enum(VOLUME_UNITS),
});

const percent = (least: number, most: number) =>
  z
    .int()
    .min(least, `must be between ${least} and ${most} %`)
    .max(most, `must be between ${least} and ${most} %`)
    .nullable()
    .optional();

export const rule = z
  .object({
    task: taskKind,
    everyHours: z.number().positive('must be above 0').max(10_000).nullable(),
    everyMonths: z.int().positive('must be above 0').max(240).nullable(),
    seasonEnd: z
      .boolean()
      .optional()
      .meta({ description: 'Besides its interval, at every season’s end; left out: as before.' }),
    earlyPercent: percent(0, 50).meta({
      description: 'On a ladder: how far before a rung, in % of the interval, a job still serves it; null: 25.',
    }),
    latePercent: percent(0, 25).meta({
      description: 'Past the limit by no more than this % of the interval it is due, not over; null: 0.',
    }),
    sandPercent: percent(10, 100).meta({
      description: 'Hours for boats in sand and shallows, in % of the usual; null: 50 for the pump, else 100.',
    }),
    saltPercent: percent(10, 100).meta({
      description: 'Months for boats in salt water, in % of the usual; null: 100.',
    }),
    basis: z
      .enum(RULE_BASES)
      .optional()
      .meta({ description: 'Whose figures; left out: as before, or the yard’s own when they change.' }),
  })
  .refine((r) => r.everyHours !== null || r.everyMonths !== null, {
    message: 'needs hours, months or both; leave the task out where it does not apply',
    path: ['everyHours'],
  });

export const modelEdit = z
  .object({
    maker: name,
    name,
    powerHp: z.number().positive('must be above 0').max(2000),
    stroke: z.union([z.literal(2), z.literal(4)]),
    cylinders: z.int().min(1).max(12),
    sump: printedVolume.nullable(),
    gearCase: printedVolume.nullable(),
    traits: modelTraits.optional().meta({ description: 'Left out: as before.' }),
    variants: z
      .array(variant)
      .max(20)
      .optional()
      .meta({ description: 'What some of its engines are built like otherwise; left out: as before.' }),
    rules: z.array(rule).max(40),
  })
  .superRefine((m, ctx) => {
    if (m.stroke === 2 && m.sump !== null) {
      ctx.addIssue({ code: 'custom', path: ['sump'], message: 'a two-stroke has no sump; leave it empty' });
    }
    const seen = new Set<string>();
    m.rules.forEach((r, i) => {
      if (seen.has(r.task)) {
        ctx.addIssue({ code: 'custom', path: ['rules', i, 'task'], message: 'stands in the programme twice' });
      }
      seen.add(r.task);
    });
  });
export const model = z.object({ ...modelEdit.shape, id, version, engines: z.int() });
export type Model = z.infer<typeof model>;

export const boatEdit = z.object({
  name,
  baseId: id,
  berth: z.string().trim().max(40).nullable(),
  boatClass: z
    .string()
    .trim()
    .max(40)
    .nullable()
    .optional()
    .meta({
      description:
        'What it is hired out as: boats of one class stand in for each other. Null: boats with the same engines; left out: as before.',
    }),
  sand: z.boolean().optional().meta({ description: 'Works in sand and shallows; left out: as before.' }),
  salt: z.boolean().optional().meta({ description: 'Lies in salt water; left out: as before.' }),
  hireDayMinor: z
    .int()
    .min(0)
    .max(100_000_000)
    .nullable()
    .optional()
    .meta({ description: 'Income of a day on hire in minor units; null: the book’s usual; left out: as before.' }),
});

/** The nearest limit of an engine: of which task, how it stands, in the yard's words. */
export const nearest = z.object({ task: z.enum(TASK_KINDS), state: z.enum(DUE_STATES), text: z.string() });
export const engineOnBoat = z.object({
  id,
  version,
  position,
  serial: z.string(),
  modelId: id,
  modelName: z.string(),
  lifeHours: z.number().nullable(),
  lastReadDay: day.nullable(),
  nearest: nearest.nullable().meta({ description: 'Null: nothing is counted, or it is out of use.' }),
});
/** By what boats are put in order; `due`: whose work is furthest over first. */
export const BOAT_ORDERS = ['boat', 'base', 'model', 'hours', 'read', 'due'] as const;
export type BoatOrder = (typeof BOAT_ORDERS)[number];
export const boat = boatEdit.extend({
  id,
  version,
  retired: z.boolean(),
  baseName: z.string(),
  engines: z.array(engineOnBoat),
});
export type Boat = z.infer<typeof boat>;

export const engineEdit = z.object({
  serial: z.string().trim().min(1, 'is missing').max(40),
  modelId: id,
  boatId: id.nullable(),
  position,
  transom: transom
    .nullable()
    .optional()
    .meta({ description: 'Made for a transom of this height; null: nobody looked; left out: as before.' }),
  inServiceOn: day.nullable(),
  boughtNew: z
    .boolean()
    .meta({
      description: 'True: limits count from the day in service. False: unknown until a service is written down.',
    }),
});
export const meter = z.object({
  id,
  kind: meterKind,
  fittedOn: day,
  removedOn: day.nullable(),
  offset: z.number().meta({ description: 'Life hours = offset + the meter’s count.' }),
  reason: z.string().nullable(),
});
export const engine = engineEdit.extend({
  id,
  version,
  retired: z.boolean(),
  boatName: z.string().nullable(),
  baseId: id.nullable(),
  baseName: z.string().nullable(),
  modelName: z.string(),
  maker: z.string(),
  powerHp: z.number(),
  stroke: z.union([z.literal(2), z.literal(4)]),
  lifeHours: z.number().nullable(),
  hoursPerWeek: z.number().nullable(),
  lastReadDay: day.nullable(),
  meters: z.array(meter),
  twins: z.array(z.object({ id, position, lifeHours: z.number().nullable() })),
});
export type Engine = z.infer<typeof engine>;

const firstMeter = z.object({
  kind: meterKind,
  offset: z.number().min(0).max(99_999).meta({ description: 'Hours the engine had before this meter.' }),
});
const retire = z.object({ version, retired: z.boolean() });
const lists = { baseId: z.coerce.number().int().positive().optional(), q: z.string().max(80).optional() };

export const searchHit = z.object({
  kind: z.enum(['boat', 'engine', 'part', 'person', 'model']),
  id,
  title: z.string(),
  detail: z.string(),
});
export type SearchHit = z.infer<typeof searchHit>;

export const fleetRoutes = {
  listBases: route({
    method: 'get',
    path: '/api/fleet/bases',
    roles: EVERYONE,
    reply: z.array(base),
    summary: 'Bases with the day it is there.',
  }),
  addBase: route({
    method: 'post',
    path: '/api/fleet/bases',
    roles: STEER,
    body: baseEdit,
    reply: created,
    summary: 'Add a base.',
  }),
  editBase: route({
    method: 'put',
    path: '/api/fleet/bases/:id',
    roles: STEER,
    params: idParam,
    body: baseEdit.extend({ version }),
    reply: created,
    summary: 'Edit a base.',
  }),
  listModels: route({
    method: 'get',
    path: '/api/fleet/models',
    roles: EVERYONE,
    reply: z.array(model),
    summary: 'Engine models with their programmes.',
  }),
  addModel: route({
    method: 'post',
    path: '/api/fleet/models',
    roles: STEER,
    body: modelEdit,
    reply: created,
    summary: 'Add an engine model.',
  }),
  editModel: route({
    method: 'put',
    path: '/api/fleet/models/:id',
    roles: STEER,
    params: idParam,
    body: modelEdit.safeExtend({
      version,
      reason: reason.optional().meta({ description: 'Why a maker’s limit is passed; asked for only then.' }),
    }),
    reply: created,
    summary: 'Edit a model and its programme.',
  }),
  listBoats: route({
    method: 'get',
    path: '/api/fleet/boats',
    roles: EVERYONE,
    reply: pageOf(boat),
    query: pageQuery.extend({
      ...lists,
      retired: z.enum(['yes', 'no']).default('no'),
      order: z.enum(BOAT_ORDERS).default('boat'),
      down: z.enum(['yes', 'no']).default('no').meta({ description: 'The other way round.' }),
    }),
    summary: 'Boats with their engines; `q` finds in anything of the line: boat, base, berth, model, serial.',
  }),
  readBoat: route({
    method: 'get',
    path: '/api/fleet/boats/:id',
    roles: EVERYONE,
    params: idParam,
    reply: boat,
    summary: 'One boat.',
  }),
  addBoat: route({
    method: 'post',
    path: '/api/fleet/boats',
    roles: STEER,
    body: boatEdit,
    reply: created,
    summary: 'Add a boat.',
  }),
  editBoat: route({
    method: 'put',
    path: '/api/fleet/boats/:id',
    roles: STEER,
    params: idParam,
    body: boatEdit.extend({ version }),
    reply: created,
    summary: 'Edit a boat.',
  }),
  retireBoat: route({
    method: 'post',
    path: '/api/fleet/boats/:id/retire',
    roles: STEER,
    params: idParam,
    body: retire,
    reply: created,
    summary: 'Retire a boat, or take it back into the fleet.',
  }),
  readEngine: route({
    method: 'get',
    path: '/api/fleet/engines/:id',
    roles: EVERYONE,
    params: idParam,
    reply: engine,
    summary: 'One engine with meters and twins.',
  }),
  addEngine: route({
    method: 'post',
    path: '/api/fleet/engines',
    roles: STEER,
    body: engineEdit.extend({ meter: firstMeter.nullable() }),
    reply: created,
    summary: 'Add an engine, with its meter where it has one.',
  }),
  editEngine: route({
    method: 'put',
    path: '/api/fleet/engines/:id',
    roles: STEER,
    params: idParam,
    body: engineEdit.extend({ version }),
    reply: created,
    summary: 'Edit an engine; moves it when the boat changes.',
  }),
  retireEngine: route({
    method: 'post',
    path: '/api/fleet/engines/:id/retire',
    roles: STEER,
    params: idParam,
    body: retire,
    reply: created,
    summary: 'Retire an engine, or take it back.',
  }),
  changeMeter: route({
    method: 'post',
    path: '/api/fleet/engines/:id/meters',
    roles: WORK,
    params: idParam,
    reply: created,
    body: z.object({
      kind: meterKind,
      day,
      oldCount: hours
        .nullable()
        .meta({ description: 'What the old meter showed last; null when it is dead or there was none.' }),
      newCount: hours.meta({ description: 'What the new meter shows as fitted.' }),
      reason,
    }),
    summary: 'Change the meter; life hours go on without a step.',
  }),
  search: route({
    method: 'get',
    path: '/api/search',
    roles: EVERYONE,
    reply: z.array(searchHit),
    query: z.object({ q: z.string().trim().min(1).max(80) }),
    summary: 'Any boat, engine, model, part or person by a piece of its name.',
  }),
};
