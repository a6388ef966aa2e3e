import { sql } from 'drizzle-orm';
import {
  boolean,
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
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { POSITIONS, TRANSOMS, type ModelTraits, type Variant } from '@diurna/core/fleet';
import { RULE_BASES, TASK_KINDS } from '@diurna/core/service';
import { VOLUME_UNITS } from '@diurna/core/units';
import { METER_KINDS } from '@diurna/contract/fleet';
import { decimal, hoursColumn, identity, versionColumn } from './columns.ts';

export const hemisphereEnum = pgEnum('hemisphere', ['north', 'south']);
export const positionEnum = pgEnum('engine_position', POSITIONS);
export const transomEnum = pgEnum('transom', TRANSOMS);
export const taskKindEnum = pgEnum('task_kind', TASK_KINDS);
export const meterKindEnum = pgEnum('meter_kind', METER_KINDS);
export const ruleBasisEnum = pgEnum('rule_basis', RULE_BASES);
export const volumeUnitEnum = pgEnum('volume_unit', VOLUME_UNITS);

export const base = pgTable(
  'base',
  {
    id: identity(),
    name: text().notNull(),
    timeZone: text().notNull(),
    hemisphere: hemisphereEnum().notNull(),
    dayMinutes: integer().notNull().default(480),
    workdays: smallint().array().notNull().default([1, 2, 3, 4, 5]),
    /** Between these minutes after midnight boats can be worked on. */
    opensAt: smallint().notNull().default(420),
    closesAt: smallint().notNull().default(1140),
    /** The break of a working day: so long, in one piece between these minutes after midnight; 0 = none. */
    breakMinutes: smallint().notNull().default(30),
    breakFrom: smallint().notNull().default(690),
    breakTo: smallint().notNull().default(840),
    /** Visits a day that need the lift or stand. */
    liftSlots: smallint().notNull().default(2),
    version: versionColumn(),
  },
  (t) => [
    unique('base_name').on(t.name),
    check(
      'base_opens',
      sql`${t.opensAt} between 0 and 1439 and ${t.closesAt} > ${t.opensAt} and ${t.closesAt} <= 1440 and ${t.liftSlots} between 0 and 99`,
    ),
    check(
      'base_break',
      sql`${t.breakMinutes} between 0 and 240 and ${t.breakFrom} between 0 and 1439 and ${t.breakTo} <= 1440 and ${t.breakTo} >= ${t.breakFrom} + ${t.breakMinutes}`,
    ),
    check('base_day_minutes', sql`${t.dayMinutes} between 0 and 1440`),
    check('base_workdays', sql`${t.workdays} <@ array[1,2,3,4,5,6,7]::smallint[]`),
  ],
);

export const boat = pgTable(
  'boat',
  {
    id: identity(),
    name: text().notNull(),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    berth: text(),
    /** What it is hired out as: boats of one class stand in for each other. Null = by its engines. */
    boatClass: text(),
    /** Works in sand and shallows, which eat pumps. */
    sand: boolean().notNull().default(false),
    /** Lies in salt water, which eats metal by the month. */
    salt: boolean().notNull().default(true),
    /** Income of a day on hire, in minor units; null = the book's usual. */
    hireDayMinor: integer(),
    retired: boolean().notNull().default(false),
    version: versionColumn(),
  },
  (t) => [
    check('boat_hire_day', sql`${t.hireDayMinor} >= 0`),
    uniqueIndex('boat_name')
      .on(sql`lower(${t.name})`)
      .where(sql`not ${t.retired}`),
    index('boat_base').on(t.baseId),
    check('boat_name_given', sql`btrim(${t.name}) <> ''`),
  ],
);

export const engineModel = pgTable(
  'engine_model',
  {
    id: identity(),
    maker: text().notNull(),
    name: text().notNull(),
    powerHp: decimal(6, 1)().notNull(),
    stroke: smallint().$type<2 | 4>().notNull(),
    cylinders: smallint().notNull(),
    /** As printed on the label; millilitres are worked out from it. */
    sumpValue: decimal(7, 3)(),
    sumpUnit: volumeUnitEnum(),
    gearValue: decimal(7, 3)(),
    gearUnit: volumeUnitEnum(),
    /** How it is built, as far as somebody entered it; what is missing is as usual for its size. */
    traits: jsonb().$type<Partial<ModelTraits>>().notNull().default({}),
    /** What some of its engines are built like otherwise, by serial and transom; of two that hold the later counts. */
    variants: jsonb().$type<Variant[]>().notNull().default([]),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('engine_model_name').on(sql`lower(${t.maker})`, sql`lower(${t.name})`),
    check('engine_model_stroke', sql`${t.stroke} in (2, 4)`),
    check('engine_model_cylinders', sql`${t.cylinders} between 1 and 12`),
    check('engine_model_power', sql`${t.powerHp} > 0`),
    check(
      'engine_model_sump',
      sql`(${t.sumpValue} is null) = (${t.sumpUnit} is null) and (${t.sumpValue} is null or ${t.sumpValue} > 0)`,
    ),
    check(
      'engine_model_gear',
      sql`(${t.gearValue} is null) = (${t.gearUnit} is null) and (${t.gearValue} is null or ${t.gearValue} > 0)`,
    ),
    check('engine_model_no_sump', sql`${t.stroke} = 4 or ${t.sumpValue} is null`),
  ],
);

export const programmeRule = pgTable(
  'programme_rule',
  {
    modelId: integer()
      .notNull()
      .references(() => engineModel.id, { onDelete: 'cascade' }),
    task: taskKindEnum().notNull(),
    everyHours: hoursColumn(),
    everyMonths: smallint(),
    /** Whose figures they are. */
    basis: ruleBasisEnum().notNull().default('own'),
    /** Besides, at every season's end. */
    seasonEnd: boolean().notNull().default(false),
    /** Null = as the core has it for every model. */
    earlyPercent: smallint(),
    latePercent: smallint(),
    sandPercent: smallint(),
    saltPercent: smallint(),
  },
  (t) => [
    primaryKey({ columns: [t.modelId, t.task] }),
    check(
      'programme_rule_percents',
      sql`${t.earlyPercent} between 0 and 50 and ${t.latePercent} between 0 and 25 and ${t.sandPercent} between 10 and 100 and ${t.saltPercent} between 10 and 100`,
    ),
    check('programme_rule_some_limit', sql`${t.everyHours} is not null or ${t.everyMonths} is not null`),
    check('programme_rule_positive', sql`coalesce(${t.everyHours}, 1) > 0 and coalesce(${t.everyMonths}, 1) > 0`),
  ],
);

export const engine = pgTable(
  'engine',
  {
    id: identity(),
    serial: text().notNull(),
    modelId: integer()
      .notNull()
      .references(() => engineModel.id),
    boatId: integer().references(() => boat.id),
    position: positionEnum().notNull(),
    /** Null = nobody looked. */
    transom: transomEnum(),
    inServiceOn: date({ mode: 'string' }),
    boughtNew: boolean().notNull().default(false),
    retired: boolean().notNull().default(false),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('engine_serial').on(t.modelId, sql`lower(${t.serial})`),
    uniqueIndex('engine_position_once')
      .on(t.boatId, t.position)
      .where(sql`not ${t.retired}`),
    index('engine_boat').on(t.boatId),
    check('engine_serial_given', sql`btrim(${t.serial}) <> ''`),
    check('engine_new_has_day', sql`not ${t.boughtNew} or ${t.inServiceOn} is not null`),
  ],
);

export const meter = pgTable(
  'meter',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    kind: meterKindEnum().notNull(),
    fittedOn: date({ mode: 'string' }).notNull(),
    removedOn: date({ mode: 'string' }),
    /** Life hours = offset + count. */
    hoursOffset: hoursColumn().notNull().default(0),
    reason: text(),
  },
  (t) => [
    uniqueIndex('meter_one_in_use')
      .on(t.engineId)
      .where(sql`${t.removedOn} is null`),
    unique('meter_of_engine').on(t.id, t.engineId),
    index('meter_engine').on(t.engineId),
    check('meter_days', sql`${t.removedOn} is null or ${t.removedOn} >= ${t.fittedOn}`),
  ],
);
