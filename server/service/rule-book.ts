import { taskKind } from '@diurna/contract/fleet';
import type { RuleOverride, SchoolChoices } from '@diurna/core/service';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, type Tx, rowsOf } from '../db/index.ts';

const number = (text: string | null) => (text === null ? null : Number(text));

/** The answers of the schools, and overrides with the places they hold for. */
export interface RuleBook {
  choices: SchoolChoices;
  overrides: (RuleOverride & { baseId: number | null; boatId: number | null; engineId: number | null })[];
}

/** Reads the answers and the rules of their own that hold now. */
export async function readRuleBook(db: Db | Tx): Promise<RuleBook> {
  // One after the other: it is read in transactions too, which have one connection.
  const choices = await rowsOf(
    db,
    z.object({ school: z.string(), answer: z.string() }),
    sql`select school, answer from school_choice`,
  );
  const overrides = await rowsOf(
    db,
    z.object({
      id: z.number(),
      base_id: z.number().nullable(),
      boat_id: z.number().nullable(),
      engine_id: z.number().nullable(),
      task: taskKind,
      every_hours: z.string().nullable(),
      every_months: z.number().nullable(),
      reason: z.string(),
      author: z.string().nullable(),
    }),
    sql`
      select o.id, o.base_id, o.boat_id, o.engine_id, o.task, o.every_hours, o.every_months, o.reason, p.name as author
      from rule_override o left join person p on p.id = o.person_id where o.ended_at is null`,
  );
  return {
    choices: Object.fromEntries(choices.map((c) => [c.school, c.answer])),
    overrides: overrides.map((o) => ({
      id: o.id,
      baseId: o.base_id,
      boatId: o.boat_id,
      engineId: o.engine_id,
      scope: o.engine_id !== null ? 'engine' : o.boat_id !== null ? 'boat' : 'base',
      task: o.task,
      everyHours: number(o.every_hours),
      everyMonths: o.every_months,
      reason: o.reason,
      author: o.author,
    })),
  };
}
