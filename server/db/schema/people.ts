import { CLOCKS } from '@diurna/core/calendar';
import { VOLUME_SCHOOLS } from '@diurna/core/units';
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  json,
  pgEnum,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uniqueIndex,
  varchar,
} from 'drizzle-orm/pg-core';
import { ROLES } from '@diurna/contract';
import { decimal, identity, instant, versionColumn } from './columns.ts';
import { base } from './fleet.ts';

export const roleEnum = pgEnum('role', ROLES);
export const clockEnum = pgEnum('clock', CLOCKS);
export const volumesEnum = pgEnum('volumes', VOLUME_SCHOOLS);
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
    /** The password stands in the demo's papers: it opens the book only while that is run as the demo. */
    openPassword: boolean().notNull().default(false),
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
    /** Administrators and coordinators have to show a second factor when they sign in. */
    secondFactor: boolean().notNull().default(false),
    /** How much running past limits weighs in plans, in % of the estimate. */
    lateWeightPercent: smallint().notNull().default(100),
    /** What moving a task that was planned costs a new plan, in minor units. */
    moveCostMinor: integer().notNull().default(400),
    /** An hour of a technician and a day on hire, where nothing else is written down. */
    rateMinor: integer().notNull().default(4500),
    hireDayMinor: integer().notNull().default(12000),
    /** When the mail of a morning goes, in minutes after midnight at each base. */
    morningMinute: smallint().notNull().default(360),
    /** How the yard writes hours, weeks and volumes: day 1 is a Monday. */
    clock: clockEnum().notNull().default('24'),
    weekStarts: smallint().notNull().default(1),
    volumes: volumesEnum().notNull().default('litres'),
    version: versionColumn(),
  },
  (t) => [
    check('setting_one_row', sql`${t.id} = 1`),
    check(
      'setting_planning',
      sql`${t.lateWeightPercent} between 0 and 1000 and ${t.moveCostMinor} >= 0 and ${t.rateMinor} >= 0 and ${t.hireDayMinor} >= 0`,
    ),
    check('setting_week', sql`${t.weekStarts} in (1, 6, 7)`),
    check('setting_morning', sql`${t.morningMinute} between 0 and 1079`),
    check('setting_currency', sql`${t.currency} ~ '^[A-Z]{3}$'`),
  ],
);

/** Laid out as connect-pg-simple expects it, and when its person was last there. */
export const session = pgTable(
  'session',
  {
    sid: varchar().primaryKey(),
    sess: json().notNull(),
    expire: timestamp({ precision: 6, mode: 'date' }).notNull(),
    seenAt: instant(),
  },
  (t) => [index('session_expire').on(t.expire)],
);

/** What shows besides the password who signs in: a secret shared with an authenticator. */
export const secondFactor = pgTable('second_factor', {
  personId: integer()
    .primaryKey()
    .references(() => person.id),
  secret: text().notNull(),
  /** Null while it is being set up: it counts once its first code was right. */
  confirmedAt: instant(),
  /** The last step of time whose code was used; none is taken twice. */
  lastStep: bigint({ mode: 'number' }).notNull().default(0),
});

/** For whoever lost the authenticator; each opens once. */
export const recoveryCode = pgTable(
  'recovery_code',
  {
    id: identity(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    /** SHA-256; the code itself is shown once. */
    codeHash: text().notNull(),
    usedAt: instant(),
  },
  (t) => [uniqueIndex('recovery_code_of_person').on(t.personId, t.codeHash)],
);

/** Browsers a person has signed in with: a sign-in from another one is told. */
export const knownDevice = pgTable(
  'known_device',
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    /** SHA-256 of what the browser keeps. */
    deviceHash: text().notNull(),
    lastAt: instant().notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.deviceHash] })],
);

/** Made by the first process that needs it, shared by all: the key that signs session cookies. */
export const appSecret = pgTable('app_secret', { name: text().primaryKey(), value: text().notNull() });

/**
 * Writes that came with a key of their own, kept for a day: the same sent again, because its answer was lost, is
 * answered as before and not done twice. The row stands or falls with what the request wrote.
 */
export const requestDone = pgTable(
  'request_done',
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    key: text().notNull(),
    /** SHA-256 of method, address and body: another request with the same key is an error of the client. */
    requestHash: text().notNull(),
    at: instant().notNull(),
    /** The answer, once it was made; without it the request was done and its answer never given. */
    reply: text(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.key] }), index('request_done_at').on(t.at)],
);
