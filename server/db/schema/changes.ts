import type { CardStand } from '@diurna/core/changes';
import { sql } from 'drizzle-orm';
import {
  bigint,
  check,
  foreignKey,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  text,
} from 'drizzle-orm/pg-core';
import { identity, instant } from './columns.ts';
import { person } from './people.ts';
import { job } from './service.ts';

export const changeKindEnum = pgEnum('change_kind', ['plan', 'slip', 'card', 'undo']);

/** One decision about cards, however many it touched: it can be looked at and taken back as one. */
export const change = pgTable(
  'change',
  {
    id: identity(),
    kind: changeKindEnum().notNull(),
    /** What was decided, in words. */
    text: text().notNull(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    /** The change this one took back. */
    undoes: integer(),
    /** The last entry on any card when it was made: what comes after was worked since. */
    seenEntry: bigint({ mode: 'number' }).notNull(),
  },
  (t) => [
    foreignKey({ columns: [t.undoes], foreignColumns: [t.id] }),
    index('change_undoes').on(t.undoes),
    check('change_undo', sql`(${t.kind} = 'undo') = (${t.undoes} is not null)`),
  ],
);

/** What became of one card: as it stood before and after. */
export const changeCard = pgTable(
  'change_card',
  {
    changeId: integer()
      .notNull()
      .references(() => change.id),
    jobId: integer()
      .notNull()
      .references(() => job.id),
    /** Null = it was not there. */
    before: jsonb().$type<CardStand>(),
    after: jsonb().$type<CardStand>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.changeId, t.jobId] }), index('change_card_job').on(t.jobId)],
);
