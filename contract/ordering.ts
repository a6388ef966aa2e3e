import { orderProblemFaults, type OrderProblem } from '@diurna/core/ordering';
import type { ProblemFault } from '@diurna/core/problem';
import { z } from 'zod';
import { created, day, done, id as numberId, idParam, instant, name, pathText, version } from './common.ts';
import { taskKind } from './fleet.ts';
import { EVERYONE, PLAN, route, SHELVES } from './route.ts';

const amount = z.number().min(0, 'must be a number of 0 or more');
const id = z.string().min(1, 'must not be empty');
/** 8,000 parts with several offers each stay far below. */
const MOST = 100_000;

/**
 * The order problem as it is exchanged. Lists of days are as long as `days`; see `orderProblemFaults` for what a shape
 * cannot say.
 */
export const orderProblem = z.object({
  format: z.literal('diurna-order-problem', 'must be "diurna-order-problem"'),
  version: z.literal(1, 'must be 1: this reader knows no other'),
  name: z.string().optional(),
  days: z.int().min(0).max(800),
  items: z
    .array(
      z.object({
        id,
        onHand: z.number(),
        need: z.array(amount),
        arriving: z.array(z.object({ day: z.int().min(0), quantity: amount })),
        holdingPerDay: amount,
        shortPerDay: amount,
        endValue: amount,
      }),
    )
    .max(MOST),
  suppliers: z
    .array(
      z.object({
        id,
        leadDays: z.int().min(0),
        carriage: amount,
        freeFrom: amount.nullable(),
        leastValue: amount,
        orderOn: z.array(z.boolean()),
      }),
    )
    .max(MOST),
  offers: z
    .array(
      z.object({
        id,
        item: id,
        supplier: id,
        pack: z.number().positive('must be more than 0'),
        breaks: z
          .array(z.object({ packs: z.int().min(1, 'must be a whole number of 1 or more'), price: amount }))
          .min(1, 'must have one price at least'),
      }),
    )
    .max(MOST),
});

/** Reads a problem from what a file held, or says each fault with its path. */
export function readOrderProblem(
  value: unknown,
): { problem: OrderProblem; faults: null } | { problem: null; faults: ProblemFault[] } {
  const read = orderProblem.safeParse(value);
  if (!read.success)
    return { problem: null, faults: read.error.issues.map((i) => ({ path: pathText(i.path), text: i.message })) };
  const faults = orderProblemFaults(read.data);
  return faults.length > 0 ? { problem: null, faults } : { problem: read.data, faults: null };
}

const minor = z.int().min(0, 'cannot be below 0').max(1_000_000_000);
const partUnit = z.enum(['each', 'mL']);

/** What a supplier sells a part in. The first break is the least that can be bought. */
export const offerEdit = z.object({
  partId: numberId,
  number: z.string().trim().max(60).nullable().meta({ description: 'The supplier’s own number.' }),
  packQuantity: z.number().positive('must be above 0').max(1_000_000),
  breaks: z
    .array(z.object({ packs: z.int().min(1, 'must be 1 or more').max(100_000), priceMinor: minor }))
    .min(1, 'are missing: one price at least')
    .max(8)
    .refine((list) => list.every((b, i) => i === 0 || b.packs > list[i - 1]!.packs), 'must go up, pack by pack'),
});

/** How an order stands with the supplier's service. */
export const PURCHASE_SERVICE = ['waiting', 'taken', 'answered', 'failed'] as const;

export const supplierEdit = z.object({
  name,
  contactId: numberId.nullable().meta({ description: 'Who is written to there.' }),
  leadDays: z.int().min(0, 'cannot be below 0').max(365),
  weekdays: z.array(z.int().min(1).max(7)).min(1, 'are missing: choose one at least').max(7),
  carriageMinor: minor,
  freeFromMinor: minor.nullable(),
  leastMinor: minor,
  serviceUrl: z
    .url({ protocol: /^https?$/, error: 'is no web address; it begins with https://' })
    .max(300)
    .nullable()
    .optional()
    .meta({ description: 'Where its service takes orders; empty: it has none; left out: as before.' }),
  offers: z.array(offerEdit).max(10_000),
});
export const supplier = z.object({
  ...supplierEdit.shape,
  id: numberId,
  version,
  offers: z.array(offerEdit.extend({ id: numberId, part: z.string(), partName: z.string(), unit: partUnit })),
  learned: z
    .object({ orders: z.int(), days: z.number(), late: z.int() })
    .nullable()
    .meta({ description: 'Of orders that have come: how many, days on average, how many later than they were said.' }),
});
export type SupplierEdit = z.infer<typeof supplierEdit>;
export type Supplier = z.infer<typeof supplier>;

export const purchase = z.object({
  id: numberId,
  supplierId: numberId,
  supplier: z.string(),
  baseId: numberId,
  day,
  carriageMinor: minor,
  service: z
    .enum(PURCHASE_SERVICE)
    .nullable()
    .meta({ description: 'How it stands with the supplier’s service; empty: not sent there.' }),
  serviceSays: z.string().nullable(),
  by: z.string().nullable(),
  at: instant,
  lines: z.array(
    z.object({
      arrivalId: numberId,
      partId: numberId,
      number: z.string(),
      name: z.string(),
      unit: partUnit,
      packs: z.int().nullable(),
      packQuantity: z.number().nullable(),
      quantity: z.number(),
      priceMinor: minor.nullable(),
      expected: day,
      answer: z.string().nullable().meta({ description: 'What the supplier said of it.' }),
      received: z.number().nullable().meta({ description: 'What came; 0 = it will not come; empty = on its way.' }),
    }),
  ),
});
export type Purchase = z.infer<typeof purchase>;

/** What the page works an order plan out from. */
export const orderBook = z.object({
  problem: orderProblem,
  firstDay: day,
  currency: z.string(),
  share: z.number(),
  parts: z.array(
    z.object({
      partId: numberId,
      number: z.string(),
      name: z.string(),
      unit: partUnit,
      sold: z.boolean().meta({ description: 'False: no supplier offers it.' }),
      onHand: z.number(),
      mean: z.array(z.number()).meta({ description: 'Taken up to the end of each day, on average.' }),
      median: z.array(z.number()).meta({ description: 'The same in one case of two at least.' }),
      planned: z.array(z.number()).meta({ description: 'The same with the wished chance of being enough.' }),
      stock: z.array(z.number()).meta({ description: 'On hand with what is under way, at the end of each day.' }),
      sure: z
        .array(z.object({ jobId: numberId, day: z.int(), boat: z.string(), quantity: z.number() }))
        .meta({ description: 'What open cards take.' }),
      likely: z.int().meta({ description: 'Engines that likely want it within these days, besides.' }),
    }),
  ),
  names: z.object({
    suppliers: z.record(
      z.string(),
      z.object({ name: z.string(), contactId: numberId.nullable(), service: z.boolean() }),
    ),
    offers: z.record(
      z.string(),
      z.object({ part: z.string(), name: z.string(), number: z.string().nullable(), unit: partUnit }),
    ),
  }),
});
export type OrderBook = z.infer<typeof orderBook>;

/** What the shelf of a base can do of all that comes up, at once. */
export const shelfCover = z.object({
  days: z.int(),
  comesUp: z.int().meta({ description: 'Services that likely fall due within these days, or stand on cards.' }),
  possible: z.int().meta({ description: 'The most of them the shelf can do together.' }),
  exact: z.boolean().meta({ description: 'False: too many share parts; there may be more.' }),
  lacking: z
    .array(z.object({ modelId: numberId, modelName: z.string(), task: taskKind, wanted: z.int(), possible: z.int() }))
    .meta({ description: 'Kinds of which not all can be done.' }),
  short: z.array(z.object({ partId: numberId, number: z.string(), name: z.string() })),
});
export type ShelfCover = z.infer<typeof shelfCover>;

export const orderingRoutes = {
  readCover: route({
    method: 'get',
    path: '/api/ordering/cover',
    roles: EVERYONE,
    query: z.object({
      baseId: z.coerce.number().int().positive(),
      days: z.coerce.number().int().min(7).max(180).default(42),
    }),
    reply: shelfCover,
    summary: 'The most services a shelf can do together of those that come up, and what runs out.',
  }),
  listSuppliers: route({
    method: 'get',
    path: '/api/ordering/suppliers',
    roles: [...PLAN, 'stores'],
    reply: z.array(supplier),
    summary: 'Suppliers with what they sell, and how long they really take.',
  }),
  addSupplier: route({
    method: 'post',
    path: '/api/ordering/suppliers',
    roles: SHELVES,
    body: supplierEdit,
    reply: created,
    summary: 'Add a supplier with what they sell.',
  }),
  editSupplier: route({
    method: 'put',
    path: '/api/ordering/suppliers/:id',
    roles: SHELVES,
    params: idParam,
    body: supplierEdit.extend({ version }),
    reply: created,
    summary: 'Edit a supplier and what they sell.',
  }),
  retireSupplier: route({
    method: 'post',
    path: '/api/ordering/suppliers/:id/retire',
    roles: SHELVES,
    params: idParam,
    body: z.object({ version }),
    reply: done,
    summary: 'Nothing is ordered from them any more; what is on its way still comes.',
  }),
  readOrderBook: route({
    method: 'get',
    path: '/api/ordering/book',
    roles: [...PLAN, 'stores'],
    query: z.object({
      baseId: z.coerce.number().int().positive(),
      days: z.coerce.number().int().min(7).max(180).default(42),
    }),
    reply: orderBook,
    summary: 'What a base will need day by day, and the order problem made of it.',
  }),
  listPurchases: route({
    method: 'get',
    path: '/api/ordering/purchases',
    roles: [...PLAN, 'stores', 'technician'],
    query: z.object({
      baseId: z.coerce.number().int().positive().optional(),
      state: z.enum(['open', 'all']).default('open'),
    }),
    reply: z.array(purchase),
    summary: 'Orders with suppliers: those with something on its way, or all of late.',
  }),
  purchaseFile: route({
    method: 'get',
    path: '/api/ordering/purchases/:id/file',
    roles: [...PLAN, 'stores'],
    params: idParam,
    gives: 'text/csv',
    reply: z.string(),
    summary: 'An order as a file for a spreadsheet, with the supplier’s own numbers.',
  }),
  purchasePaper: route({
    method: 'get',
    path: '/api/ordering/purchases/:id/paper',
    roles: [...PLAN, 'stores'],
    params: idParam,
    gives: 'application/pdf',
    reply: z.string(),
    summary: 'An order as a page to send or to put in a folder (PDF, A4).',
  }),
  askSupplier: route({
    method: 'post',
    path: '/api/ordering/purchases/:id/ask',
    roles: SHELVES,
    params: idParam,
    reply: done,
    summary: 'Send an order to the supplier’s service again, or ask for its answer.',
  }),
  placeOrder: route({
    method: 'post',
    path: '/api/ordering/purchases',
    roles: SHELVES,
    body: z.object({
      baseId: numberId,
      supplierId: numberId,
      lines: z
        .array(z.object({ offerId: numberId, packs: z.int().min(1, 'must be 1 or more').max(100_000) }))
        .min(1, 'are missing')
        .max(500),
      mail: z.boolean().meta({ description: 'Send it to whom is written there, too.' }),
      service: z.boolean().default(false).meta({ description: 'Send it to the supplier’s service, too.' }),
    }),
    reply: z.object({ id: numberId, expected: day }),
    summary: 'Place an order today: what is ordered is on the way, and plans count on it.',
  }),
};
