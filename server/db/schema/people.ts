import { sql } from 'drizzle-orm';
import { boolean, check, index, integer, json, pgEnum, pgTable, text, timestamp, uniqueIndex, varchar } from 'drizzle-orm/pg-core';
import { ROLES } from '@diurna/contract';
import { identity, versionColumn } from './columns.ts';
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
    active: boolean().notNull().default(true),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('person_username').on(t.username),
    check('person_username_lower', sql`${t.username} = lower(${t.username}) and ${t.username} <> ''`),
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
    version: versionColumn(),
  },
  (t) => [check('setting_one_row', sql`${t.id} = 1`), check('setting_currency', sql`${t.currency} ~ '^[A-Z]{3}$'`)],
);

/** Laid out as connect-pg-simple expects it. */
export const session = pgTable(
  'session',
  {
    sid: varchar().primaryKey(),
    sess: json().notNull(),
    expire: timestamp({ precision: 6, mode: 'date' }).notNull(),
  },
  (t) => [index('session_expire').on(t.expire)],
);

/** Made by the first process that needs it, shared by all: the key that signs session cookies. */
export const appSecret = pgTable('app_secret', { name: text().primaryKey(), value: text().notNull() });
