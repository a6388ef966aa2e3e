import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { MOVEMENT_REASONS } from '@diurna/contract/stores';
import { PART_KINDS, PART_LINK_KINDS, PART_MAKES, type ContainerKind } from '@diurna/core/stores';
import type { VolumeUnit } from '@diurna/core/units';
import { identity, instant, quantityColumn, versionColumn } from './columns.ts';
import { base, engineModel, taskKindEnum, transomEnum } from './fleet.ts';
import { person } from './people.ts';
import { job } from './service.ts';

export const partMakeEnum = pgEnum('part_make', PART_MAKES);
export const partKindEnum = pgEnum('part_kind', PART_KINDS);
export const partLinkEnum = pgEnum('part_link_kind', PART_LINK_KINDS);
export const partUnitEnum = pgEnum('part_unit', ['each', 'mL']);
export const movementReasonEnum = pgEnum('movement_reason', MOVEMENT_REASONS);

/** A size as it stands on the container: figure, unit, and what it is. */
export interface PrintedContainer {
  value: number;
  unit: VolumeUnit;
  kind: ContainerKind;
}

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
    /** Of a fluid: what it is sold in, as printed. */
    containers: jsonb().$type<PrintedContainer[]>().notNull().default([]),
    /** How long it may lie, in months; null = as long as one likes. */
    shelfLifeMonths: integer(),
    version: versionColumn(),
  },
  (t) => [
    index('part_list').on(t.kind, t.number),
    uniqueIndex('part_number').on(sql`lower(${t.number})`),
    check('part_price', sql`${t.priceMinor} >= 0`),
    check('part_shelf_life', sql`${t.shelfLifeMonths} > 0`),
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

/** Another number that may be fitted instead: a newer one, or an equivalent, with who says so. */
export const partLink = pgTable(
  'part_link',
  {
    partId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    otherId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    kind: partLinkEnum().notNull(),
    approved: boolean().notNull(),
    /** Where it is written: a label, a bulletin, a letter. */
    evidence: text().notNull(),
    saidBy: text().notNull(),
    day: date({ mode: 'string' }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.partId, t.otherId] }),
    index('part_link_other').on(t.otherId),
    check('part_link_two', sql`${t.partId} <> ${t.otherId}`),
    check('part_link_evidence', sql`btrim(${t.evidence}) <> '' and btrim(${t.saidBy}) <> ''`),
  ],
);

/** What is in a kit. */
export const kitContent = pgTable(
  'kit_content',
  {
    kitId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    partId: integer()
      .notNull()
      .references(() => part.id),
    /** Each or mL. */
    quantity: quantityColumn().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.kitId, t.partId] }),
    check('kit_content_two', sql`${t.kitId} <> ${t.partId}`),
    check('kit_content_some', sql`${t.quantity} > 0`),
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
    /** Whom it was handed to, or who brought it back, for no card. */
    takenBy: integer().references(() => person.id),
    at: instant().notNull(),
    note: text(),
    /** A person took it although the shelf count said it was not there. */
    belowZero: boolean().notNull().default(false),
    cancels: integer(),
    /** Of what came: the lot printed on it, the last day it may be used, what all of it cost. */
    lot: text(),
    expires: date({ mode: 'string' }),
    costMinor: integer(),
  },
  (t) => [
    foreignKey({ columns: [t.cancels], foreignColumns: [t.id] }),
    // With what is summed up, so that a shelf is read from the index alone.
    index('stock_movement_shelf').on(t.partId, t.baseId, t.quantity),
    index('stock_movement_base').on(t.baseId, t.partId, t.quantity),
    index('stock_movement_job').on(t.jobId),
    index('stock_movement_taken').on(t.takenBy, t.partId),
    uniqueIndex('stock_movement_cancelled_once').on(t.cancels),
    check('stock_movement_some', sql`${t.quantity} <> 0 or ${t.reason} = 'counted'`),
    check('stock_movement_cost', sql`${t.costMinor} >= 0`),
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

/** A container that was opened: what is left in it is its size less what was poured. */
export const openContainer = pgTable(
  'open_container',
  {
    id: identity(),
    partId: integer()
      .notNull()
      .references(() => part.id),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    /** As it was full, mL. */
    sizeMl: quantityColumn().notNull(),
    /** As printed: "1 US qt bottle". */
    label: text().notNull(),
    openedAt: instant().notNull(),
    personId: integer().references(() => person.id),
    /** Empty, or thrown away; null while it stands open. */
    endedAt: instant(),
  },
  (t) => [
    index('open_container_shelf')
      .on(t.partId, t.baseId)
      .where(sql`${t.endedAt} is null`),
    check('open_container_size', sql`${t.sizeMl} > 0`),
  ],
);

/** What was poured out of an open container; poured back where a card was reopened. Rows are never changed. */
export const pour = pgTable(
  'pour',
  {
    id: identity(),
    containerId: integer()
      .notNull()
      .references(() => openContainer.id),
    ml: quantityColumn().notNull(),
    /** The movement it was poured for; null where a count set it right. */
    movementId: integer().references(() => stockMovement.id),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
  },
  (t) => [index('pour_container').on(t.containerId), check('pour_some', sql`${t.ml} <> 0`)],
);
