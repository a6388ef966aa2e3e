import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  foreignKey,
  index,
  integer,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { MOVEMENT_REASONS } from '@diurna/contract/stores';
import { PART_KINDS, PART_MAKES } from '@diurna/core/stores';
import { identity, instant, quantityColumn, versionColumn } from './columns.ts';
import { base, engineModel, taskKindEnum, transomEnum } from './fleet.ts';
import { person } from './people.ts';
import { job } from './service.ts';

export const partMakeEnum = pgEnum('part_make', PART_MAKES);
export const partKindEnum = pgEnum('part_kind', PART_KINDS);
export const partUnitEnum = pgEnum('part_unit', ['each', 'mL']);
export const movementReasonEnum = pgEnum('movement_reason', MOVEMENT_REASONS);

export const part = pgTable(
  'part',
  {
    id: identity(),
    number: text().notNull(),
    name: text().notNull(),
    kind: partKindEnum().notNull(),
    unit: partUnitEnum().notNull(),
    /** Whose part it is; null = nobody said. */
    make: partMakeEnum(),
    /** Of one, or of one litre; minor units of the book's currency. */
    priceMinor: integer(),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('part_number').on(sql`lower(${t.number})`),
    check('part_price', sql`${t.priceMinor} >= 0`),
    check('part_names', sql`btrim(${t.number}) <> '' and btrim(${t.name}) <> ''`),
  ],
);

export const fitment = pgTable(
  'fitment',
  {
    id: identity(),
    partId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    modelId: integer()
      .notNull()
      .references(() => engineModel.id),
    task: taskKindEnum().notNull(),
    /** Each or mL; null = the volume the task fills on the model. */
    quantity: quantityColumn(),
    serialFrom: text(),
    serialTo: text(),
    transom: transomEnum(),
  },
  (t) => [
    index('fitment_part').on(t.partId),
    index('fitment_model').on(t.modelId, t.task),
    uniqueIndex('fitment_once').on(
      t.partId,
      t.modelId,
      t.task,
      sql`coalesce(${t.serialFrom}, '')`,
      sql`coalesce(${t.serialTo}, '')`,
      sql`coalesce(${t.transom}, 'short')`,
      sql`(${t.transom} is null)`,
    ),
    check('fitment_quantity', sql`${t.quantity} > 0`),
  ],
);

/** The ledger of the shelves: what is on hand is the sum. Rows are never changed or erased (a trigger refuses it). */
export const stockMovement = pgTable(
  'stock_movement',
  {
    id: identity(),
    partId: integer()
      .notNull()
      .references(() => part.id),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    /** Each or mL, in or out by sign. A count that found the shelf right is a movement of 0. */
    quantity: quantityColumn().notNull(),
    reason: movementReasonEnum().notNull(),
    jobId: integer().references(() => job.id),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    note: text(),
    /** A person took it although the shelf count said it was not there. */
    belowZero: boolean().notNull().default(false),
    cancels: integer(),
  },
  (t) => [
    foreignKey({ columns: [t.cancels], foreignColumns: [t.id] }),
    index('stock_movement_shelf').on(t.partId, t.baseId),
    index('stock_movement_job').on(t.jobId),
    uniqueIndex('stock_movement_cancelled_once').on(t.cancels),
    check('stock_movement_some', sql`${t.quantity} <> 0 or ${t.reason} = 'counted'`),
    check('stock_movement_used_out', sql`${t.reason} <> 'used' or ${t.quantity} < 0`),
  ],
);

/** Where a part lies at a base: rack, shelf, box. */
export const shelfPlace = pgTable(
  'shelf_place',
  {
    partId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    place: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.partId, t.baseId] }), check('shelf_place_some', sql`btrim(${t.place}) <> ''`)],
);
