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
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { WASTE_STREAMS, WEIGHTS, type Proposal, type ReadingValue } from '@diurna/core/findings';
import { identity, instant, quantityColumn, versionColumn } from './columns.ts';
import { base, engine, taskKindEnum } from './fleet.ts';
import { person } from './people.ts';
import { job } from './service.ts';

export const findingWeightEnum = pgEnum('finding_weight', WEIGHTS);
export const findingStateEnum = pgEnum('finding_state', ['open', 'taken', 'overridden', 'withdrawn']);
export const wasteStreamEnum = pgEnum('waste_stream', WASTE_STREAMS);

/** What was seen on a card and what a person made of it, as it was judged then. */
export const finding = pgTable(
  'finding',
  {
    id: identity(),
    jobId: integer()
      .notNull()
      .references(() => job.id),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    code: text().notNull(),
    weight: findingWeightEnum().notNull(),
    seen: text().notNull(),
    means: text().notNull(),
    does: text().notNull(),
    proposals: jsonb().$type<Proposal[]>().notNull(),
    /** The readings it rests on, as they were. */
    readings: jsonb().$type<Record<string, ReadingValue>>().notNull(),
    /** Open until a person takes or overrides it; withdrawn when its readings were corrected before. */
    state: findingStateEnum().notNull().default('open'),
    decidedBy: integer().references(() => person.id),
    decidedAt: instant(),
    reason: text(),
    at: instant().notNull(),
  },
  (t) => [
    uniqueIndex('finding_once').on(t.jobId, t.engineId, t.code),
    index('finding_engine').on(t.engineId, t.at),
    index('finding_open')
      .on(t.engineId)
      .where(sql`${t.state} = 'open'`),
    check('finding_overridden', sql`${t.state} <> 'overridden' or btrim(${t.reason}) <> ''`),
  ],
);

/** The engine must not go out. Released by a person who may, once the checks are in the log. */
export const hold = pgTable(
  'hold',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    findingId: integer().references(() => finding.id),
    why: text().notNull(),
    /** In this order, written down after it was put on. */
    checks: taskKindEnum().array().notNull(),
    at: instant().notNull(),
    putBy: integer().references(() => person.id),
    releasedAt: instant(),
    releasedBy: integer().references(() => person.id),
    releasedBecause: text(),
    version: versionColumn(),
  },
  (t) => [
    index('hold_open')
      .on(t.engineId)
      .where(sql`${t.releasedAt} is null`),
    check('hold_why', sql`btrim(${t.why}) <> ''`),
    check(
      'hold_released',
      sql`(${t.releasedAt} is null) = (${t.releasedBy} is null) and (${t.releasedAt} is null) = (${t.releasedBecause} is null)`,
    ),
  ],
);

/** Work asked for besides the programme. Whether it is done is worked out from the service log. */
export const followUp = pgTable(
  'follow_up',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    task: taskKindEnum().notNull(),
    /** Null = at the next return from a hire. */
    dueOn: date({ mode: 'string' }),
    afterId: integer(),
    findingId: integer().references(() => finding.id),
    /** The card after which it is asked for. */
    jobId: integer().references(() => job.id),
    why: text().notNull(),
    at: instant().notNull(),
    /** Called off by a person; the reason stays. */
    calledOffAt: instant(),
    calledOffBy: integer().references(() => person.id),
    calledOffBecause: text(),
  },
  (t) => [
    foreignKey({ columns: [t.afterId], foreignColumns: [t.id] }),
    index('follow_up_engine').on(t.engineId),
    check('follow_up_called_off', sql`(${t.calledOffAt} is null) = (${t.calledOffBecause} is null)`),
  ],
);

/** What was taken out, by stream. Rows are never changed or erased; a job undone books it back. */
export const wasteEntry = pgTable(
  'waste_entry',
  {
    id: identity(),
    jobId: integer().references(() => job.id),
    baseId: integer()
      .notNull()
      .references(() => base.id),
    stream: wasteStreamEnum().notNull(),
    /** mL, or pieces of what is counted. */
    quantity: quantityColumn().notNull(),
    /** False: worked out from what was filled in, nobody measured it. */
    measured: boolean().notNull().default(true),
    day: date({ mode: 'string' }).notNull(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    /** Collected and taken away: a negative quantity without a job. */
    note: text(),
  },
  (t) => [
    index('waste_entry_base_day').on(t.baseId, t.day),
    index('waste_entry_job').on(t.jobId),
    check('waste_entry_some', sql`${t.quantity} <> 0`),
  ],
);

/** Parts of a task that a finding asks for; open until Stores ordered them or says why not. */
export const partWanted = pgTable(
  'part_wanted',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    task: taskKindEnum().notNull(),
    findingId: integer().references(() => finding.id),
    jobId: integer().references(() => job.id),
    why: text().notNull(),
    askedBy: integer().references(() => person.id),
    at: instant().notNull(),
    closedAt: instant(),
    closedBy: integer().references(() => person.id),
    /** What was done about it: ordered, or why not. */
    closedBecause: text(),
  },
  (t) => [
    index('part_wanted_open')
      .on(t.at)
      .where(sql`${t.closedAt} is null`),
    index('part_wanted_engine').on(t.engineId),
    check('part_wanted_closed', sql`(${t.closedAt} is null) = (${t.closedBecause} is null)`),
  ],
);
