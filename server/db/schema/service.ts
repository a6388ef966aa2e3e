import { desc, sql } from 'drizzle-orm';
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
  smallint,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { OLD_PART, type SchoolChoices } from '@diurna/core/service';
import type { AccessTemplate, WorkedBy } from '@diurna/core/visit';
import { decimal, hoursColumn, identity, instant, versionColumn } from './columns.ts';
import { boat, engine, taskKindEnum, volumeUnitEnum } from './fleet.ts';
import { person } from './people.ts';

export const jobStatusEnum = pgEnum('job_status', ['open', 'done', 'cancelled']);
export const jobTaskStateEnum = pgEnum('job_task_state', ['open', 'done', 'left']);

/** The card of a visit: one technician at one boat on one day. */
export const job = pgTable(
  'job',
  {
    id: identity(),
    boatId: integer()
      .notNull()
      .references(() => boat.id),
    technicianId: integer()
      .notNull()
      .references(() => person.id),
    day: date({ mode: 'string' }).notNull(),
    /** When it begins, in minutes after midnight at the base; null = some time of the day. */
    startMinute: smallint(),
    /** Fixed where it stands by a person: a new plan does not move it. */
    pinned: boolean().notNull().default(false),
    status: jobStatusEnum().notNull().default('open'),
    remark: text(),
    finishedAt: instant(),
    version: versionColumn(),
    /** Versions of the steps of access and visit it was issued with, by their names. */
    accessVersions: jsonb().$type<Partial<Record<AccessTemplate, number>>>().notNull().default({}),
    /** The yard's answers to questions of school it was issued with: another answer changes new cards only. */
    schoolAnswers: jsonb().$type<SchoolChoices>().notNull().default({}),
    /** What it was worked by, once it is finished. */
    workedBy: jsonb().$type<WorkedBy>(),
    /** It was handed out although something was against it: what, and why all the same. */
    insisted: jsonb().$type<{ why: string; against: string[] }>(),
  },
  (t) => [
    index('job_day').on(t.day),
    index('job_technician_day').on(t.technicianId, t.day),
    index('job_boat').on(t.boatId),
    check('job_start', sql`${t.startMinute} between 0 and 1439`),
    check('job_finished', sql`(${t.status} = 'done') = (${t.finishedAt} is not null)`),
  ],
);

export const jobTask = pgTable(
  'job_task',
  {
    jobId: integer()
      .notNull()
      .references(() => job.id),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    task: taskKindEnum().notNull(),
    state: jobTaskStateEnum().notNull().default('open'),
    /** True while the job is open: a task of an engine stands on one open card only. */
    onOpenJob: boolean().notNull().default(true),
    /** The version of the task's steps the card was issued with. */
    templateVersion: integer().notNull().default(1),
  },
  (t) => [
    primaryKey({ columns: [t.jobId, t.engineId, t.task] }),
    uniqueIndex('job_task_once')
      .on(t.engineId, t.task)
      .where(sql`${t.onOpenJob}`),
  ],
);

/**
 * The service log. Rows are never changed or erased (a trigger refuses it); a wrong one is cancelled
 * by a further row that names it and says why.
 */
export const oldPartEnum = pgEnum('old_part', OLD_PART);
export const serviceEntry = pgTable(
  'service_entry',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    task: taskKindEnum().notNull(),
    doneOn: date({ mode: 'string' }).notNull(),
    /** Life hours when it was done; null when nobody wrote them down. */
    hours: hoursColumn(),
    personId: integer().references(() => person.id),
    doneBy: text(),
    jobId: integer().references(() => job.id),
    volumeValue: decimal(7, 3)(),
    volumeUnit: volumeUnitEnum(),
    remark: text(),
    /** How the old part was, where somebody looked and no card says. */
    oldPart: oldPartEnum(),
    /** Minutes hands were on it, measured by the ticks of its card; null where nobody ticked. */
    minutes: decimal(6, 1)(),
    /** What its drain took, where somebody stood by and saw it. */
    drained: decimal(6, 1)(),
    enteredAt: instant().notNull(),
    /** When hands began on it and when it was over, by the ticks of its card; null where nobody ticked. */
    beganAt: instant(),
    endedAt: instant(),
    /** The entry this one cancels. */
    cancels: integer(),
    reason: text(),
  },
  (t) => [
    foreignKey({ columns: [t.cancels], foreignColumns: [t.id] }),
    index('service_entry_of_engine').on(t.engineId, t.task, desc(t.doneOn), desc(t.id)),
    uniqueIndex('service_entry_cancelled_once').on(t.cancels),
    index('service_entry_job').on(t.jobId),
    check('service_entry_hours', sql`${t.hours} >= 0`),
    check('service_entry_minutes', sql`${t.minutes} > 0`),
    check('service_entry_cancel_reason', sql`${t.cancels} is null or btrim(${t.reason}) <> ''`),
    check('service_entry_volume', sql`(${t.volumeValue} is null) = (${t.volumeUnit} is null)`),
  ],
);

/** Work put off knowingly; what is over is ended, never erased. */
export const deferral = pgTable(
  'deferral',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    task: taskKindEnum().notNull(),
    until: date({ mode: 'string' }).notNull(),
    spring: boolean().notNull().default(false),
    reason: text().notNull(),
    /** Who allowed it. */
    personId: integer().references(() => person.id),
    /** By the clock of the engine's base. */
    day: date({ mode: 'string' }).notNull(),
    at: instant().notNull(),
    endedAt: instant(),
    endedBy: integer().references(() => person.id),
  },
  (t) => [
    uniqueIndex('deferral_open')
      .on(t.engineId, t.task)
      .where(sql`${t.endedAt} is null`),
    check('deferral_reason', sql`btrim(${t.reason}) <> ''`),
    check('deferral_until', sql`${t.until} >= ${t.day}`),
  ],
);

/** What was run in of a new engine, outing by outing. Rows are never changed or erased (a trigger refuses it). */
export const breakInEntry = pgTable(
  'break_in_entry',
  {
    id: identity(),
    engineId: integer()
      .notNull()
      .references(() => engine.id),
    day: date({ mode: 'string' }).notNull(),
    /** Hours run on this outing. */
    hours: hoursColumn().notNull(),
    personId: integer().references(() => person.id),
    remark: text(),
    at: instant().notNull(),
  },
  (t) => [index('break_in_engine').on(t.engineId), check('break_in_hours', sql`${t.hours} > 0 and ${t.hours} <= 24`)],
);
