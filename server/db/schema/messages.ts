import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  date,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  smallint,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { CONTACT_HEARS, MAIL_KINDS, MAIL_STATES } from '@diurna/contract/messages';
import { MESSAGE_KINDS, type MailPart, type MessageChoices } from '@diurna/core/messages';
import { identity, instant, versionColumn } from './columns.ts';
import { base } from './fleet.ts';
import { person } from './people.ts';
import { job } from './service.ts';

export const messageKind = pgEnum('message_kind', MESSAGE_KINDS);
export const mailKind = pgEnum('mail_kind', MAIL_KINDS);
export const mailState = pgEnum('mail_state', MAIL_STATES);
export const contactHears = pgEnum('contact_hears', CONTACT_HEARS);

/** What a person is told: work handed out, moved or called off, an engine held, a hire that changed boats. */
export const notice = pgTable(
  'notice',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    at: instant().notNull(),
    kind: messageKind().notNull().default('work'),
    text: text().notNull(),
    jobId: integer().references(() => job.id),
    readAt: instant(),
  },
  (t) => [
    index('notice_unread')
      .on(t.personId, t.id)
      .where(sql`${t.readAt} is null`),
  ],
);

/** Where somebody has mail, and what they want to come there. */
export const messageChoice = pgTable('message_choice', {
  personId: integer()
    .primaryKey()
    .references(() => person.id),
  address: text().notNull(),
  /** What was chosen otherwise than usual. */
  choices: jsonb().$type<Partial<MessageChoices>>().notNull().default({}),
  /** Gets the day in one mail each morning. */
  morning: boolean().notNull().default(true),
  version: versionColumn(),
});

/** Somebody outside the book who is told by mail: the hire desk, an owner, a workshop. */
export const contact = pgTable(
  'contact',
  {
    id: identity(),
    name: text().notNull(),
    address: text().notNull(),
    /** Hears of this base only; null = of all. */
    baseId: integer().references(() => base.id),
    hears: contactHears().array().notNull().default([]),
    active: boolean().notNull().default(true),
    version: versionColumn(),
  },
  (t) => [check('contact_name_given', sql`btrim(${t.name}) <> ''`)],
);

/** A mail on its way, sent, or given up. Where it goes is read when it goes; where it went is kept. */
export const mail = pgTable(
  'mail',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    at: instant().notNull(),
    kind: mailKind().notNull(),
    personId: integer().references(() => person.id),
    contactId: integer().references(() => contact.id),
    /** Null = what its first line says. */
    subject: text(),
    parts: jsonb().$type<MailPart[]>().notNull(),
    /** Of a morning's mail: which day's, by the base's calendar. */
    day: date({ mode: 'string' }),
    state: mailState().notNull().default('waiting'),
    tries: smallint().notNull().default(0),
    /** Not before then. */
    nextAt: instant().notNull(),
    /** Of no use any more then. */
    untilAt: instant().notNull(),
    fault: text(),
    sentAt: instant(),
    sentTo: text(),
    /** Who wrote it; null = the book did. */
    writtenBy: integer().references(() => person.id),
  },
  (t) => [
    index('mail_due')
      .on(t.nextAt)
      .where(sql`${t.state} = 'waiting'`),
    index('mail_at').on(t.at),
    uniqueIndex('mail_one_morning')
      .on(t.personId, t.day)
      .where(sql`${t.day} is not null and ${t.personId} is not null`),
    uniqueIndex('mail_one_morning_outside')
      .on(t.contactId, t.day)
      .where(sql`${t.day} is not null and ${t.contactId} is not null`),
    check('mail_to_somebody', sql`(${t.personId} is null) <> (${t.contactId} is null)`),
    check('mail_sent', sql`(${t.state} = 'sent') = (${t.sentAt} is not null)`),
  ],
);
