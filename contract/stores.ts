import { PART_KINDS, PART_MAKES } from '@diurna/core/stores';
import { z } from 'zod';
import { created, day, done, id, idParam, instant, name, pageOf, pageQuery, reason, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { EVERYONE, PLAN, route, SHELVES } from './route.ts';
import { serialEnd, transom } from './traits.ts';

export const partKind = z.enum(PART_KINDS);

export const fitment = z.object({
  modelId: id,
  task: taskKind,
  quantity: z
    .number()
    .positive('must be above 0')
    .max(10_000)
    .nullable()
    .meta({ description: 'Each, or mL; empty = the volume the task fills on this model.' }),
  from: serialEnd,
  to: serialEnd,
  transom: transom.nullable().optional(),
});

export const partEdit = z.object({
  number: z.string().trim().min(1, 'is missing').max(40),
  name,
  kind: partKind,
  unit: z.enum(['each', 'mL']),
  make: z.enum(PART_MAKES).nullable().optional().meta({ description: 'Whose part it is; left out: as before.' }),
  priceMinor: z
    .int()
    .min(0)
    .max(100_000_000)
    .nullable()
    .meta({ description: 'Price of one, or of one litre, in minor units of the book’s currency.' }),
  fitments: z.array(fitment).max(200),
});
export const part = z.object({
  ...partEdit.shape,
  id,
  version,
  onHand: z.array(z.object({ baseId: id, quantity: z.number() })),
  places: z.array(z.object({ baseId: id, place: z.string() })).meta({ description: 'Where it lies at each base.' }),
  keptBack: z.array(z.object({ baseId: id, quantity: z.number() })).meta({ description: 'What open cards will take.' }),
});
export type Part = z.infer<typeof part>;

export const MOVEMENT_REASONS = ['received', 'counted', 'used', 'returned', 'moved', 'written off'] as const;
export const movement = z.object({
  id,
  at: z.string(),
  baseId: id,
  baseName: z.string(),
  quantity: z.number(),
  balance: z.number(),
  reason: z.enum(MOVEMENT_REASONS),
  jobId: id.nullable(),
  by: z.string().nullable(),
  note: z.string().nullable(),
  belowZero: z.boolean(),
});
export type Movement = z.infer<typeof movement>;

export const modelShelf = z.object({
  modelId: id,
  modelName: z.string(),
  stroke: z.union([z.literal(2), z.literal(4)]),
  engines: z.int(),
  tasks: z.array(
    z.object({
      task: taskKind,
      serials: z.string(),
      count: z.int().nullable(),
      limitedBy: z.object({ id, number: z.string(), name: z.string() }).nullable(),
      dueSoon: z.int().meta({ description: 'How many of these are over, due or soon now.' }),
    }),
  ),
});
export type ModelShelf = z.infer<typeof modelShelf>;

export const wantedPart = z.object({
  id,
  engineId: id,
  boatName: z.string(),
  position,
  serial: z.string(),
  baseId: id,
  baseName: z.string(),
  task: taskKind,
  why: z.string(),
  at: instant,
  by: z.string().nullable(),
  jobId: id.nullable(),
  parts: z
    .array(
      z.object({
        partId: id,
        number: z.string(),
        name: z.string(),
        unit: z.enum(['each', 'mL']),
        quantity: z.number(),
        onHand: z.number(),
        onTheWay: z.number(),
      }),
    )
    .meta({ description: 'What fits this serial, with what its base has and expects. Empty: no part is known.' }),
});
export type WantedPart = z.infer<typeof wantedPart>;

export const arrival = z.object({
  id,
  partId: id,
  number: z.string(),
  name: z.string(),
  unit: z.enum(['each', 'mL']),
  baseId: id,
  day,
  quantity: z.number(),
  note: z.string().nullable(),
});

const atBase = { baseId: z.coerce.number().int().positive().optional() };

export const storesRoutes = {
  listParts: route({
    method: 'get',
    path: '/api/stores/parts',
    roles: EVERYONE,
    query: pageQuery.extend({ ...atBase, q: z.string().max(80).optional() }),
    reply: pageOf(part),
    summary: 'Parts with what is on hand at each base.',
  }),
  readPart: route({
    method: 'get',
    path: '/api/stores/parts/:id',
    roles: EVERYONE,
    params: idParam,
    reply: part,
    summary: 'One part.',
  }),
  addPart: route({
    method: 'post',
    path: '/api/stores/parts',
    roles: SHELVES,
    body: partEdit,
    reply: created,
    summary: 'Add a part with what it fits.',
  }),
  editPart: route({
    method: 'put',
    path: '/api/stores/parts/:id',
    roles: SHELVES,
    params: idParam,
    body: partEdit.extend({ version }),
    reply: created,
    summary: 'Edit a part and what it fits.',
  }),
  ledger: route({
    method: 'get',
    path: '/api/stores/parts/:id/ledger',
    roles: EVERYONE,
    params: idParam,
    query: pageQuery.extend(atBase),
    reply: pageOf(movement),
    summary: 'Every movement of a part, newest first, with the balance after it.',
  }),
  modelShelves: route({
    method: 'get',
    path: '/api/stores/models',
    roles: EVERYONE,
    query: z.object(atBase),
    reply: z.array(modelShelf),
    summary: 'How many services of each kind the shelf can still do, by model.',
  }),
  putPlace: route({
    method: 'put',
    path: '/api/stores/parts/:id/place',
    roles: SHELVES,
    params: idParam,
    body: z.object({
      baseId: id,
      place: z
        .string()
        .trim()
        .max(60)
        .nullable()
        .transform((text) => text || null),
    }),
    reply: done,
    summary: 'Say where a part lies at a base; empty = nowhere in particular.',
  }),
  listWanted: route({
    method: 'get',
    path: '/api/stores/wanted',
    roles: EVERYONE,
    query: z.object(atBase),
    reply: z.array(wantedPart),
    summary: 'Parts that findings on cards ask for, oldest first.',
  }),
  closeWanted: route({
    method: 'post',
    path: '/api/stores/wanted/:id/close',
    roles: SHELVES,
    params: idParam,
    reply: done,
    body: z.discriminatedUnion('act', [
      z.object({
        act: z.literal('order'),
        day,
        lines: z
          .array(z.object({ partId: id, quantity: z.number().positive('must be above 0').max(1_000_000) }))
          .min(1, 'are missing: say how many')
          .max(20),
      }),
      z.object({ act: z.literal('not needed'), because: reason }),
    ]),
    summary: 'Order what is wanted, with the day it is expected; or say why it is not needed.',
  }),
  moveStock: route({
    method: 'post',
    path: '/api/stores/movements',
    roles: SHELVES,
    reply: z.object({ onHand: z.number() }),
    body: z.discriminatedUnion('act', [
      z.object({
        act: z.literal('receive'),
        partId: id,
        baseId: id,
        quantity: z.number().positive('must be above 0').max(1_000_000),
        note: z.string().trim().max(200).nullable(),
      }),
      z.object({
        act: z.literal('count'),
        partId: id,
        baseId: id,
        counted: z.number().min(0, 'cannot be below 0').max(1_000_000),
        note: z.string().trim().max(200).nullable(),
      }),
      z.object({
        act: z.literal('move'),
        partId: id,
        baseId: id,
        toBaseId: id,
        quantity: z.number().positive('must be above 0').max(1_000_000),
        note: z.string().trim().max(200).nullable(),
      }),
      z.object({
        act: z.literal('write off'),
        partId: id,
        baseId: id,
        quantity: z.number().positive('must be above 0').max(1_000_000),
        note: z.string().trim().min(3, 'wants a few words why').max(200),
      }),
    ]),
    summary: 'Receive, count, move between bases or write off.',
  }),
  listArrivals: route({
    method: 'get',
    path: '/api/stores/arrivals',
    roles: [...PLAN, 'stores', 'technician'],
    query: z.object({ partId: z.coerce.number().int().positive().optional() }),
    reply: z.array(arrival),
    summary: 'Parts on their way.',
  }),
  addArrival: route({
    method: 'post',
    path: '/api/stores/arrivals',
    roles: SHELVES,
    body: z.object({
      partId: id,
      baseId: id,
      day,
      quantity: z.number().positive('must be above 0').max(1_000_000),
      note: z.string().trim().max(200).nullable(),
    }),
    reply: created.omit({ version: true }),
    summary: 'Parts that are ordered, with the day they are expected: plans count on them.',
  }),
  closeArrival: route({
    method: 'post',
    path: '/api/stores/arrivals/:id/close',
    roles: SHELVES,
    params: idParam,
    body: z.object({ received: z.number().min(0).max(1_000_000).meta({ description: '0 = it will not come.' }) }),
    reply: done,
    summary: 'They have come, and are on the shelf; or will not come.',
  }),
};
