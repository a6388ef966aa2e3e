import { FILE_KINDS } from '@diurna/contract/exchange';
import { sql } from 'drizzle-orm';
import { integer, jsonb, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { identity } from './columns.ts';
import { supplier } from './ordering.ts';

/** Which column of somebody's own file is which of the book's: found once, remembered for the next file like it. */
export const fileMatch = pgTable(
  'file_match',
  {
    id: identity(),
    kind: text({ enum: FILE_KINDS }).notNull(),
    /** Whose files are so; null = everybody else's. */
    supplierId: integer().references(() => supplier.id, { onDelete: 'cascade' }),
    /** The column of the book, and what it is called in the file. */
    columns: jsonb().$type<Record<string, string>>().notNull(),
  },
  (t) => [uniqueIndex('file_match_once').on(t.kind, sql`coalesce(${t.supplierId}, 0)`)],
);
