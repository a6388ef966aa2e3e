import { sql } from 'drizzle-orm';
import {
  check,
  date,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  smallint,
  text,
  unique,
} from 'drizzle-orm/pg-core';
import type { PlanCost, PlannedVisit } from '@diurna/core/planner';
import { identity, instant, quantityColumn, versionColumn } from './columns.ts';
import { base } from './fleet.ts';
import { person } from './people.ts';
import { purchase } from './ordering.ts';
import { part } from './stores.ts';

export const exceptionKindEnum = pgEnum('person_exception_kind', ['away', 'base', 'hours']);

/** A person's usual week; a weekday without a row is off. Minutes after midnight at the base. */
export const personShift = pgTable(
  'person_shift',
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    /** ISO, 1 = Monday. */
    weekday: smallint().notNull(),
    fromMinute: smallint().notNull(),
    toMinute: smallint().notNull(),
    /** Null = the person's own base. */
    baseId: integer().references(() => base.id),
  },
  (t) => [
    primaryKey({ columns: [t.personId, t.weekday] }),
    check('person_shift_weekday', sql`${t.weekday} between 1 and 7`),
    check(
      'person_shift_minutes',
      sql`${t.fromMinute} between 0 and 1439 and ${t.toMinute} > ${t.fromMinute} and ${t.toMinute} <= 1440`,
    ),
  ],
);

/** Days on which a person is away, at another base or there at other hours. */
export const personException = pgTable(
  'person_exception',
  {
    id: identity(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    firstDay: date({ mode: 'string' }).notNull(),
    lastDay: date({ mode: 'string' }).notNull(),
    kind: exceptionKindEnum().notNull(),
    baseId: integer().references(() => base.id),
    fromMinute: smallint(),
    toMinute: smallint(),
    reason: text(),
    version: versionColumn(),
  },
  (t) => [
    index('person_exception_person').on(t.personId, t.lastDay),
    check('person_exception_days', sql`${t.lastDay} >= ${t.firstDay}`),
    check(
      'person_exception_kind',
      sql`(${t.kind} = 'base') = (${t.baseId} is not null) and (${t.kind} = 'hours') = (${t.fromMinute} is not null and ${t.toMinute} is not null)`,
    ),
    check(
      'person_exception_minutes',
      sql`${t.fromMinute} between 0 and 1439 and ${t.toMinute} > ${t.fromMinute} and ${t.toMinute} <= 1440`,
    ),
  ],
);

/** Days without work at a base: public holidays and the like. */
export const closedDay = pgTable(
  'closed_day',
  {
    id: identity(),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    day: date({ mode: 'string' }).notNull(),
    name: text().notNull(),
  },
  (t) => [unique('closed_day_once').on(t.baseId, t.day), check('closed_day_name', sql`btrim(${t.name}) <> ''`)],
);

/** Days on which a base's lift or stand takes fewer visits than usual. */
export const liftOut = pgTable(
  'lift_out',
  {
    id: identity(),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    firstDay: date({ mode: 'string' }).notNull(),
    lastDay: date({ mode: 'string' }).notNull(),
    slots: smallint().notNull().default(0),
    reason: text().notNull(),
  },
  (t) => [
    index('lift_out_base').on(t.baseId),
    check('lift_out_days', sql`${t.lastDay} >= ${t.firstDay}`),
    check('lift_out_slots', sql`${t.slots} >= 0`),
  ],
);

/** Parts on their way to a base. */
export const partArrival = pgTable(
  'part_arrival',
  {
    id: identity(),
    partId: integer()
      .notNull()
      .references(() => part.id),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    day: date({ mode: 'string' }).notNull(),
    quantity: quantityColumn().notNull(),
    note: text(),
    /** Sent by another base of the yard; null = from outside. */
    fromBaseId: integer().references(() => base.id),
    arrivedAt: instant(),
    /** What came of it; null while it is on its way. */
    received: quantityColumn(),
    /** The order it stands on; null = noted by hand. */
    purchaseId: integer().references(() => purchase.id),
    /** Packs of which offer, and what they cost together, as it was ordered. */
    packs: integer(),
    packQuantity: quantityColumn(),
    priceMinor: integer(),
    /** What the supplier said of it. */
    answer: text(),
    version: versionColumn(),
  },
  (t) => [
    index('part_arrival_purchase').on(t.purchaseId),
    index('part_arrival_open')
      .on(t.day)
      .where(sql`${t.arrivedAt} is null`),
    check('part_arrival_quantity', sql`${t.quantity} > 0`),
  ],
);

/** A plan as it was accepted; the newest holds. Rows are never changed. */
export const acceptedPlan = pgTable('accepted_plan', {
  id: identity(),
  firstDay: date({ mode: 'string' }).notNull(),
  days: smallint().notNull(),
  visits: jsonb().$type<PlannedVisit[]>().notNull(),
  cost: jsonb().$type<PlanCost>().notNull(),
  personId: integer().references(() => person.id),
  at: instant().notNull(),
});
