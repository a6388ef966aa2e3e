import { sql } from 'drizzle-orm';
import { check, customType, date, foreignKey, index, integer, pgTable, text } from 'drizzle-orm/pg-core';
import { identity, instant, versionColumn } from './columns.ts';
import { boat, engine } from './fleet.ts';
import { person } from './people.ts';

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

/** Trouble reported on a boat. Closed with a remark, never erased. */
export const snag = pgTable(
  'snag',
  {
    id: identity(),
    boatId: integer()
      .notNull()
      .references(() => boat.id),
    engineId: integer().references(() => engine.id),
    /** The day at the base on which it was reported. */
    day: date({ mode: 'string' }).notNull(),
    text: text().notNull(),
    /** What was noticed, where it is one of the usual troubles. */
    symptom: text(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    closedAt: instant(),
    closedBy: integer().references(() => person.id),
    closedRemark: text(),
    version: versionColumn(),
  },
  (t) => [
    index('snag_boat').on(t.boatId),
    index('snag_open')
      .on(t.at)
      .where(sql`${t.closedAt} is null`),
    check('snag_text', sql`btrim(${t.text}) <> ''`),
    check('snag_closed', sql`(${t.closedAt} is null) = (${t.closedRemark} is null)`),
  ],
);

/** In a table of its own, so that lists do not carry pictures. */
export const snagPhoto = pgTable(
  'snag_photo',
  { snagId: integer().primaryKey(), type: text().notNull(), bytes: bytea().notNull() },
  (t) => [
    foreignKey({ columns: [t.snagId], foreignColumns: [snag.id] }),
    check('snag_photo_type', sql`${t.type} in ('image/jpeg', 'image/png', 'image/webp')`),
  ],
);
