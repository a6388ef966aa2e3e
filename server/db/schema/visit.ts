import { sql } from 'drizzle-orm';
import {
  bigint,
  check,
  customType,
  foreignKey,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { CardAct, TemplateKey, TemplateLine } from '@diurna/core/visit';
import { identity, instant } from './columns.ts';
import { engine, engineModel } from './fleet.ts';
import { person } from './people.ts';
import { job } from './service.ts';

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

export const templateOriginEnum = pgEnum('template_origin', ['shipped', 'own']);

/**
 * The steps of a task, of an access, or of every visit, version by version. Never changed: a card keeps the version it
 * was issued with.
 */
export const stepTemplate = pgTable(
  'step_template',
  {
    /** A task, an access, or `visit`. */
    key: text().$type<TemplateKey>().notNull(),
    version: integer().notNull(),
    /** Came with the book, or was written by the yard. */
    origin: templateOriginEnum().notNull(),
    lines: jsonb().$type<TemplateLine[]>().notNull(),
    personId: integer().references(() => person.id),
    reason: text(),
    at: instant().notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.version] }), check('step_template_version', sql`${t.version} > 0`)],
);

/**
 * What people did on a card, one after the other. Rows are never changed or erased (a trigger refuses it): the
 * card is what they add up to.
 */
export const jobEntry = pgTable(
  'job_entry',
  {
    seq: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    /** Made on the phone: an entry sent twice is kept once. */
    id: uuid().notNull().unique('job_entry_once'),
    jobId: integer()
      .notNull()
      .references(() => job.id),
    personId: integer()
      .notNull()
      .references(() => person.id),
    /** When it was done, by the phone. */
    at: instant().notNull(),
    receivedAt: instant().notNull(),
    act: jsonb().$type<CardAct>().notNull(),
    /** Of a reading: its engine; null of all else. */
    engineId: integer().references(() => engine.id),
    /** The last place in the record the phone knew of. */
    seen: bigint({ mode: 'number' }).notNull(),
    /** An entry of somebody else it stands against. */
    against: bigint({ mode: 'number' }),
  },
  (t) => [
    foreignKey({ columns: [t.against], foreignColumns: [t.seq] }),
    index('job_entry_of_job').on(t.jobId, t.seq),
    index('job_entry_of_engine')
      .on(t.engineId, t.seq)
      .where(sql`${t.engineId} is not null`),
  ],
);

export const jobPhoto = pgTable(
  'job_photo',
  {
    id: identity(),
    jobId: integer()
      .notNull()
      .references(() => job.id),
    /** The entry it belongs to; of older ones the entry names its picture. */
    entryId: uuid()
      .references(() => jobEntry.id)
      .unique('job_photo_of_entry'),
    type: text().notNull(),
    bytes: bytea().notNull(),
  },
  (t) => [
    index('job_photo_job').on(t.jobId),
    check('job_photo_type', sql`${t.type} in ('image/jpeg', 'image/png', 'image/webp')`),
  ],
);

/** The yard's own picture of a step: of one model, or of all. One is shown at a time; those before it stay. */
export const stepPicture = pgTable(
  'step_picture',
  {
    id: identity(),
    /** The step, as `stepPlace` names it. */
    place: text().notNull(),
    modelId: integer().references(() => engineModel.id),
    caption: text().notNull(),
    type: text().notNull(),
    bytes: bytea().notNull(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    at: instant().notNull(),
    droppedAt: instant(),
  },
  (t) => [
    uniqueIndex('step_picture_shown')
      .on(t.place, sql`coalesce(${t.modelId}, 0)`)
      .where(sql`${t.droppedAt} is null`),
    check('step_picture_type', sql`${t.type} in ('image/jpeg', 'image/png', 'image/webp')`),
  ],
);

/** A picture that comes in pieces, until it is whole. */
export const pictureUpload = pgTable('picture_upload', {
  entryId: uuid()
    .primaryKey()
    .references(() => jobEntry.id),
  type: text().notNull(),
  size: integer().notNull(),
  bytes: bytea().notNull(),
  at: instant().notNull(),
});
