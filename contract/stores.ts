import { z } from 'zod';
import { created, day, done, id, idParam, instant, pageOf, pageQuery, reason, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { lotText, moveBody, movement } from './movements.ts';
import { kitCheck, otherPart, part, partEdit, partPage, whichPart } from './parts.ts';
import { EVERYONE, PLAN, route, SHELVES } from './route.ts';

export * from './movements.ts';
export * from './parts.ts';

export const storeWorth = z.object({
  totalMinor: z.number(),
  totalFifoMinor: z.number(),
  deadMinor: z.number(),
  turns: z.number().nullable(),
  parts: z.array(
    z.object({
      ...otherPart.shape,
      onHand: z.number(),
      worthMinor: z.number(),
      worthFifoMinor: z.number(),
      turns: z.number().nullable(),
      lastUsed: day.nullable(),
      dead: z.boolean(),
      expired: z.number(),
      expiresSoon: z.number().meta({ description: 'Expires within 60 days.' }),
    }),
  ),
});
export type StoreWorth = z.infer<typeof storeWorth>;

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
  fromBaseId: id.nullable().meta({ description: 'Sent by this base of the yard; empty = from outside.' }),
});

export type Arrival = z.infer<typeof arrival>;

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
    reply: partPage,
    summary: 'One part, with what may be fitted instead, its open containers, its lots and its money.',
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
  whichParts: route({
    method: 'get',
    path: '/api/stores/engines/:id/parts',
    roles: EVERYONE,
    params: idParam,
    reply: z.array(whichPart),
    summary: 'Which part each task takes on this engine: one answer by its serial, or what is in doubt.',
  }),
  checkKit: route({
    method: 'get',
    path: '/api/stores/parts/:id/kit-check',
    roles: EVERYONE,
    params: idParam,
    query: z.object({
      modelId: z.coerce.number().int().positive(),
      serial: z.string().trim().max(40).default(''),
      tasks: z.string().max(400).meta({ description: 'Tasks of the service, separated by commas.' }),
    }),
    reply: kitCheck,
    summary: 'A service less what a kit brings: what is missing.',
  }),
  readWorth: route({
    method: 'get',
    path: '/api/stores/worth',
    roles: [...PLAN, 'stores'],
    query: z.object(atBase),
    reply: storeWorth,
    summary: 'Money tied up on the shelves, how often it turns over, what is dead or expired.',
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
    body: moveBody,
    summary:
      'Receive, count, send to another base, hand to a person, bring back, write off; open a container, or pour one into another.',
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
    body: z.object({
      received: z
        .number()
        .min(0)
        .max(1_000_000)
        .meta({ description: '0 = it will not come; what another base sent goes back there.' }),
      lot: lotText,
      expires: day.nullable().default(null),
      restOn: day
        .nullable()
        .default(null)
        .meta({ description: 'When the rest comes, where less came than was ordered; empty: it does not come.' }),
    }),
    reply: done,
    summary: 'They have come, and are on the shelf; or will not come.',
  }),
};
