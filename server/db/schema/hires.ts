import { sql } from 'drizzle-orm';
import { boolean, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { identity, instant, versionColumn } from './columns.ts';
import { base, boat } from './fleet.ts';
import { person } from './people.ts';

/** A calendar of hires kept elsewhere and read again and again (RFC 5545). */
export const hireFeed = pgTable(
  'hire_feed',
  {
    id: identity(),
    name: text().notNull(),
    url: text().notNull(),
    /** Whose time zone holds for times without one, and whose boats are meant where a name is not plain. */
    baseId: integer()
      .notNull()
      .references(() => base.id),
    active: boolean().notNull().default(true),
    /** When it was last tried, and what came of it, as a sentence. */
    readAt: instant(),
    outcome: text(),
    failed: boolean().notNull().default(false),
    version: versionColumn(),
  },
  (t) => [
    uniqueIndex('hire_feed_name').on(sql`lower(${t.name})`),
    check('hire_feed_url', sql`${t.url} ~ '^https?://'`),
  ],
);

/** A boat is booked out. */
export const hire = pgTable(
  'hire',
  {
    id: identity(),
    boatId: integer()
      .notNull()
      .references(() => boat.id),
    outAt: instant().notNull(),
    backAt: instant().notNull(),
    /** When it was booked, where that is known. */
    madeAt: instant(),
    /** The booking's own number or word; no names of people. */
    reference: text(),
    feedId: integer().references(() => hireFeed.id),
    /** Of the calendar event it came from; `recurrence` is the start of one of a repeating event. */
    uid: text(),
    recurrence: text().notNull().default(''),
    cancelledAt: instant(),
    /**
     * The boat it was booked for, where another was given instead; a feed that still names that one changes nothing.
     */
    givenFrom: integer().references(() => boat.id),
    /** When the boat was let go, and by whom; null = not yet. */
    letGoAt: instant(),
    letGoBy: integer().references(() => person.id),
    /** When it was back at the dock, and who saw it; null = not yet, or nobody said. */
    cameBackAt: instant(),
    cameBackBy: integer().references(() => person.id),
    version: versionColumn(),
  },
  (t) => [
    check('hire_let_go', sql`(${t.letGoAt} is null) = (${t.letGoBy} is null)`),
    check('hire_came_back', sql`(${t.cameBackAt} is null) = (${t.cameBackBy} is null)`),
    index('hire_of_boat').on(t.boatId, t.outAt),
    index('hire_out').on(t.outAt),
    uniqueIndex('hire_event')
      .on(sql`coalesce(${t.feedId}, 0)`, t.uid, t.recurrence)
      .where(sql`${t.uid} is not null`),
    check('hire_times', sql`${t.backAt} > ${t.outAt} and ${t.backAt} - ${t.outAt} <= interval '400 days'`),
  ],
);
