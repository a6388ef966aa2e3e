import type { HireSpan } from '@diurna/core/hires';
import { DAYS_BEHIND } from '@diurna/core/usage';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { type Db, rowsOf } from '../db/index.ts';

/** Two numbers after each other in one text, because a row for each reading or hire costs several times as much. */
export const numbers = (text: string) => text.split(' ').map(Number);

/** Hires of these boats, or of all, as far back as habits are learned; cancelled ones are left out. */
export async function readHires(db: Db, boatIds: number[] | null, now: Date): Promise<Map<number, HireSpan[]>> {
  const since = new Date(now.getTime() - DAYS_BEHIND * 86_400_000).toISOString();
  const rows = await rowsOf(
    db,
    z.object({ boat_id: z.number(), spans: z.string() }),
    sql`
    select boat_id, string_agg(extract(epoch from out_at)::bigint || ' ' || extract(epoch
      from back_at)::bigint || ' ' || coalesce(extract(epoch from made_at)::bigint, -1) || ' ' || coalesce(extract(epoch
      from let_go_at)::bigint, -1) || ' ' || coalesce(extract(epoch from came_back_at)::bigint, -1), ' ' order by out_at) as spans
    from hire
    where cancelled_at is null and back_at > ${since}::timestamptz
      and ${boatIds === null ? sql`true` : sql`boat_id = any(${sql.param(boatIds)}::int[])`}
    group by boat_id`,
  );
  return new Map(
    rows.map((r) => {
      const all = numbers(r.spans);
      const spans: HireSpan[] = [];
      for (let i = 0; i < all.length; i += 5) {
        const [out, back, made, went, came] = all.slice(i, i + 5) as [number, number, number, number, number];
        spans.push({
          out: out * 1000,
          back: back * 1000,
          madeOn: made < 0 ? null : made * 1000,
          ...(went >= 0 && { went: went * 1000 }),
          ...(came >= 0 && { came: came * 1000 }),
        });
      }
      return [r.boat_id, spans];
    }),
  );
}
