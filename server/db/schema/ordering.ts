import { sql } from 'drizzle-orm';
import { boolean, check, date, index, integer, jsonb, pgEnum, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { PURCHASE_SERVICE } from '@diurna/contract/ordering';
import { identity, instant, quantityColumn, versionColumn } from './columns.ts';
import { base } from './fleet.ts';
import { contact } from './messages.ts';
import { person } from './people.ts';
import { part } from './stores.ts';

export const purchaseServiceEnum = pgEnum('purchase_service', PURCHASE_SERVICE);

/** Whom the yard buys from. */
export const supplier = pgTable(
  'supplier',
  {
    id: identity(),
    name: text().notNull(),
    /** Who is written to there. */
    contactId: integer().references(() => contact.id),
    leadDays: integer().notNull(),
    /** Days of the week on which orders are taken, 1 = Monday. */
    weekdays: integer().array().notNull(),
    carriageMinor: integer().notNull(),
    /** Goods value from which no carriage is charged; null = always charged. */
    freeFromMinor: integer(),
    /** Goods value below which no order is taken. */
    leastMinor: integer().notNull().default(0),
    /** Where its service takes orders; null = it has none. */
    serviceUrl: text(),
    retired: boolean().notNull().default(false),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('supplier_name').on(sql`lower(${t.name})`),
    check('supplier_numbers', sql`${t.leadDays} >= 0 and ${t.carriageMinor} >= 0 and ${t.leastMinor} >= 0`),
  ],
);

/** What a supplier sells a part in, and for how much. */
export const offer = pgTable(
  'offer',
  {
    id: identity(),
    supplierId: integer()
      .notNull()
      .references(() => supplier.id, { onDelete: 'cascade' }),
    partId: integer()
      .notNull()
      .references(() => part.id, { onDelete: 'cascade' }),
    /** The supplier's own number. */
    number: text(),
    /** Pieces or mL in a pack. */
    packQuantity: quantityColumn().notNull(),
    breaks: jsonb().$type<{ packs: number; priceMinor: number }[]>().notNull(),
  },
  (t) => [
    uniqueIndex('offer_once').on(t.supplierId, t.partId, t.packQuantity),
    index('offer_part').on(t.partId),
    check('offer_pack', sql`${t.packQuantity} > 0`),
  ],
);

/** An order with a supplier; its lines are what is on the way. */
export const purchase = pgTable(
  'purchase',
  {
    id: identity(),
    supplierId: integer()
      .notNull()
      .references(() => supplier.id),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    /** The day it is placed on. */
    day: date({ mode: 'string' }).notNull(),
    carriageMinor: integer().notNull(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    /** How it stands with the supplier's service: null = it was not sent there. */
    service: purchaseServiceEnum(),
    /** Why it could not be sent, or what the answer was about, in words. */
    serviceSays: text(),
  },
  (t) => [index('purchase_supplier').on(t.supplierId, t.day)],
);
