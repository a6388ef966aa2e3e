import { bigint, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { instant } from './columns.ts';
import { person } from './people.ts';

/** Who changed what, when, before and after. Rows are never changed or erased (a trigger refuses it). */
export const audit = pgTable(
  'audit',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    at: instant().notNull(),
    personId: integer().references(() => person.id),
    requestId: text(),
    act: text().notNull(),
    subject: text().notNull(),
    subjectId: integer(),
    /** A name people know it by, as it was then. */
    title: text(),
    before: jsonb(),
    after: jsonb(),
  },
  (t) => [index('audit_subject').on(t.subject, t.subjectId), index('audit_person').on(t.personId)],
);

/** What a process told of itself for an hour: how many requests, how long they took. Forgotten after a week. */
export const watchedHour = pgTable(
  'watched_hour',
  { hour: instant().notNull(), process: uuid().notNull(), at: instant().notNull(), told: jsonb().notNull() },
  (t) => [primaryKey({ columns: [t.hour, t.process] })],
);
