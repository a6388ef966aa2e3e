import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  date,
  index,
  integer,
  pgEnum,
  pgTable,
  smallint,
  text,
  unique,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { BATTERY_KINDS, SEASON_VISITS } from '@diurna/core/season';
import { decimal, identity, instant, versionColumn } from './columns.ts';
import { base, boat, engine, taskKindEnum } from './fleet.ts';
import { person } from './people.ts';

export const seasonVisitEnum = pgEnum('season_visit', SEASON_VISITS);
export const batteryKindEnum = pgEnum('battery_kind', BATTERY_KINDS);
export const storageKindEnum = pgEnum('storage_kind', ['hall', 'yard', 'afloat']);

/**
 * When boats of a base come out and go in again; a base without a row goes by the usual year of its half of the earth.
 */
export const baseSeason = pgTable(
  'base_season',
  {
    baseId: integer()
      .primaryKey()
      .references(() => base.id),
    /** "10-31"; null = it never closes. */
    closes: text(),
    opens: text(),
    /** The coldest night of each month in °C; null = nobody entered it. */
    lows: smallint().array(),
    /** Stabiliser in mL to 10 L of fuel, as its bottle says; null = the usual 30. */
    doseMlPerTen: smallint(),
    /** What being late costs, in whole units of the currency; null = the usual estimate. */
    frostDay: integer(),
    waitDay: integer(),
    oldOil: integer(),
    notAtAll: integer(),
    version: versionColumn(),
  },
  (t) => [
    check(
      'base_season_both',
      sql`(${t.closes} is null) = (${t.opens} is null) and ${t.closes} is distinct from ${t.opens} or ${t.closes} is null`,
    ),
    check('base_season_lows', sql`${t.lows} is null or cardinality(${t.lows}) = 12`),
  ],
);

/** Where boats stand while a season is closed. */
export const storagePlace = pgTable(
  'storage_place',
  {
    id: identity(),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    name: text().notNull(),
    kind: storageKindEnum().notNull(),
    /** Boats it takes. */
    room: smallint().notNull(),
    version: versionColumn(),
  },
  (t) => [
    unique('storage_place_name').on(t.baseId, t.name),
    check('storage_place_room', sql`${t.room} between 1 and 9999`),
  ],
);

/** What a boat is to its season; without a row it is laid up, and nobody knows its tank. */
export const boatSeason = pgTable(
  'boat_season',
  {
    boatId: integer()
      .primaryKey()
      .references(() => boat.id),
    staysOut: boolean().notNull().default(false),
    placeId: integer().references(() => storagePlace.id),
    tankLitres: decimal(7, 1)(),
    version: versionColumn(),
  },
  (t) => [index('boat_season_place').on(t.placeId), check('boat_season_tank', sql`${t.tankLitres} > 0`)],
);

/** What somebody decided for one engine in one time of standing, against the list or beside it. */
export const seasonChange = pgTable(
  'season_change',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    /** Which time of standing: the year it opens in. */
    season: text().notNull(),
    task: taskKindEnum().notNull(),
    /** At which visit; null = left out. */
    visit: seasonVisitEnum(),
    reason: text().notNull(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
  },
  (t) => [uniqueIndex('season_change_once').on(t.engineId, t.season, t.task)],
);

/** A look at a boat's battery in store. */
export const batteryLook = pgTable(
  'battery_look',
  {
    id: identity(),
    boatId: integer()
      .notNull()
      .references(() => boat.id),
    day: date({ mode: 'string' }).notNull(),
    /** Rested volts; null = its charger's lamp was looked at. */
    volts: decimal(4, 2)(),
    celsius: smallint(),
    restedHours: smallint(),
    kind: batteryKindEnum().notNull(),
    charged: boolean().notNull(),
    remark: text(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
  },
  (t) => [
    index('battery_look_boat').on(t.boatId, t.day),
    check('battery_look_volts', sql`${t.volts} between 0 and 20`),
  ],
);
