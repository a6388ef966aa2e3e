import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  index,
  integer,
  json,
  pgEnum,
  pgTable,
  smallint,
  text,
  timestamp,
  uniqueIndex,
  varchar,
} from 'drizzle-orm/pg-core';
import { ROLES } from '@diurna/contract';
import { decimal, identity, versionColumn } from './columns.ts';
import { base } from './fleet.ts';

export const roleEnum = pgEnum('role', ROLES);
export const shelfPolicyEnum = pgEnum('shelf_policy', ['refuse', 'mark']);

export const person = pgTable(
  'person',
  {
    id: identity(),
    name: text().notNull(),
    username: text().notNull(),
    role: roleEnum().notNull(),
    baseId: integer().references(() => base.id),
    passwordHash: text().notNull(),
    /** Beyond everyday work. */
    skills: text().array().notNull().default([]),
    /** 1 = estimates hold, 1.2 = a fifth slower. */
    pace: decimal(4, 2)().notNull().default(1),
    /** An hour's cost in minor units; null = the book's usual. */
    rateMinor: integer(),
    overtimeMinutes: smallint().notNull().default(60),
    /** 150 = half as much again. */
    overtimePercent: smallint().notNull().default(150),
    /** SHA-256 of the key in the address of the person's calendar; null = none given out. */
    calendarKeyHash: text(),
    active: boolean().notNull().default(true),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('person_username').on(t.username),
    check('person_username_lower', sql`${t.username} = lower(${t.username}) and ${t.username} <> ''`),
    check('person_pace', sql`${t.pace} between 0.3 and 5`),
    check(
      'person_money',
      sql`coalesce(${t.rateMinor}, 0) >= 0 and ${t.overtimeMinutes} between 0 and 600 and ${t.overtimePercent} between 100 and 400`,
    ),
    uniqueIndex('person_calendar_key').on(t.calendarKeyHash),
    check('person_name_given', sql`btrim(${t.name}) <> ''`),
  ],
);

/** One row: settings of the whole book. */
export const setting = pgTable(
  'setting',
  {
    id: integer().primaryKey().default(1),
    company: text().notNull(),
    currency: text().notNull(),
    shelfPolicy: shelfPolicyEnum().notNull().default('refuse'),
    /** The book was filled with the invented fleet: its accounts may be offered at the door. */
    demo: boolean().notNull().default(false),
    /** How much running past limits weighs in plans, in % of the estimate. */
    lateWeightPercent: smallint().notNull().default(100),
    /** What moving a task that was planned costs a new plan, in minor units. */
    moveCostMinor: integer().notNull().default(400),
    /** An hour of a technician and a day on hire, where nothing else is written down. */
    rateMinor: integer().notNull().default(4500),
    hireDayMinor: integer().notNull().default(12000),
    version: versionColumn(),
  },
  (t) => [
    check('setting_one_row', sql`${t.id} = 1`),
    check(
      'setting_planning',
      sql`${t.lateWeightPercent} between 0 and 1000 and ${t.moveCostMinor} >= 0 and ${t.rateMinor} >= 0 and ${t.hireDayMinor} >= 0`,
    ),
    check('setting_currency', sql`${t.currency} ~ '^[A-Z]{3}$'`),
  ],
);

/** Laid out as connect-pg-simple expects it. */
export const session = pgTable(
  'session',
  { sid: varchar().primaryKey(), sess: json().notNull(), expire: timestamp({ precision: 6, mode: 'date' }).notNull() },
  (t) => [index('session_expire').on(t.expire)],
);

/** Made by the first process that needs it, shared by all: the key that signs session cookies. */
export const appSecret = pgTable('app_secret', { name: text().primaryKey(), value: text().notNull() });
