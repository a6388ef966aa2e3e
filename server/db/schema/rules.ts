import { sql } from 'drizzle-orm';
import { check, index, integer, pgTable, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { hoursColumn, identity, instant, versionColumn } from './columns.ts';
import { base, boat, engine, taskKindEnum } from './fleet.ts';
import { person } from './people.ts';

/** How the book answers a question on which schools differ; no row = as usual. */
export const schoolChoice = pgTable('school_choice', {
  school: text().primaryKey(),
  answer: text().notNull(),
  personId: integer().references(() => person.id),
  at: instant().notNull(),
});

/** A rule of its own for one task of an engine, a boat or a base. Ended, never erased. */
export const ruleOverride = pgTable(
  'rule_override',
  {
    id: identity(),
    baseId: integer().references(() => base.id),
    boatId: integer().references(() => boat.id),
    engineId: integer().references(() => engine.id),
    task: taskKindEnum().notNull(),
    everyHours: hoursColumn(),
    everyMonths: smallint(),
    reason: text().notNull(),
    personId: integer().references(() => person.id),
    at: instant().notNull(),
    endedAt: instant(),
    version: versionColumn(),
  },
  (t) => [
    index('rule_override_engine').on(t.engineId),
    uniqueIndex('rule_override_once')
      .on(sql`coalesce(${t.baseId}, 0)`, sql`coalesce(${t.boatId}, 0)`, sql`coalesce(${t.engineId}, 0)`, t.task)
      .where(sql`${t.endedAt} is null`),
    check('rule_override_one_place', sql`num_nonnulls(${t.baseId}, ${t.boatId}, ${t.engineId}) = 1`),
    check('rule_override_some_limit', sql`${t.everyHours} is not null or ${t.everyMonths} is not null`),
    check('rule_override_positive', sql`coalesce(${t.everyHours}, 1) > 0 and coalesce(${t.everyMonths}, 1) > 0`),
    check('rule_override_reason', sql`btrim(${t.reason}) <> ''`),
  ],
);
