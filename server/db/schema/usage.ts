import { desc, sql } from 'drizzle-orm';
import {
  bigint,
  check,
  customType,
  date,
  foreignKey,
  index,
  integer,
  pgEnum,
  pgTable,
  text,
} from 'drizzle-orm/pg-core';
import { DOUBTS } from '@diurna/core/usage';
import { hoursColumn, instant } from './columns.ts';
import { meter } from './fleet.ts';
import { person } from './people.ts';

export const readingSourceEnum = pgEnum('reading_source', ['typed', 'job', 'import', 'meter change', 'gateway']);
export const doubtEnum = pgEnum('doubt', DOUBTS);

/** What a meter showed. Never changed; a wrong one is taken back and stays in the book. */
export const reading = pgTable(
  'reading',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    engineId: integer().notNull(),
    meterId: integer().notNull(),
    /** The day at the base on which it was read. */
    day: date({ mode: 'string' }).notNull(),
    at: instant().notNull(),
    count: hoursColumn().notNull(),
    source: readingSourceEnum().notNull(),
    doubt: doubtEnum(),
    reason: text(),
    personId: integer().references(() => person.id),
    withdrawnAt: instant(),
    withdrawnBy: integer().references(() => person.id),
    withdrawnReason: text(),
  },
  (t) => [
    foreignKey({ columns: [t.meterId, t.engineId], foreignColumns: [meter.id, meter.engineId] }),
    // The engine stands behind its meter: the one key holds both.
    index('reading_of_engine')
      .on(t.engineId, desc(t.day), desc(t.id))
      .where(sql`${t.withdrawnAt} is null`),
    check('reading_count', sql`${t.count} >= 0`),
    check('reading_doubt_has_reason', sql`${t.doubt} is null or btrim(${t.reason}) <> ''`),
    check('reading_withdrawn', sql`(${t.withdrawnAt} is null) = (${t.withdrawnReason} is null)`),
  ],
);

const xid8 = customType<{ data: string }>({ dataType: () => 'xid8' });

/**
 * A cache's marks: which engines a transaction touched in anything their due dates are made of. Written by
 * triggers, read to refresh what the server keeps in fleet. Rows are only added, so that two people who
 * write at the same time never wait here; the oldest are thrown away.
 */
export const engineTouchCache = pgTable(
  'engine_touch_cache',
  {
    id: bigint({ mode: 'bigint' }).primaryKey().generatedAlwaysAsIdentity(),
    xid: xid8().notNull(),
    engineIds: integer().array().notNull(),
  },
  (t) => [index('engine_touch_xid').on(t.xid)],
);

/**
 * A cache's marks as well: which transactions changed anything that people see of the book. Written by a trigger on
 * every such table, read to know whether an answer that was worked out still holds.
 */
export const bookTouchCache = pgTable(
  'book_touch_cache',
  { id: bigint({ mode: 'bigint' }).primaryKey().generatedAlwaysAsIdentity(), xid: xid8().notNull() },
  (t) => [index('book_touch_xid').on(t.xid)],
);
