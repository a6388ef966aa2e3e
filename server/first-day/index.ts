import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';

const row = z.object({
  bases: z.number(),
  models: z.number(),
  boats: z.number(),
  boatsBare: z.number(),
  engines: z.number(),
  unread: z.number(),
  meterless: z.number(),
  technicians: z.number(),
  lowerUnits: z.number(),
  hires: z.number(),
  parts: z.number(),
});

/** What a yard that begins has entered. */
export const firstDayHandlers: Handlers<'firstDay'> = {
  async firstDay({ db, now }) {
    const [counts] = await rowsOf(
      db,
      row,
      sql`
      with hung as (
        select e.id, m.id as meter from engine e join boat b on b.id = e.boat_id and not b.retired
          left join meter m on m.engine_id = e.id and m.removed_on is null
        where not e.retired)
      select
        (select count(*)::int from base) as bases,
        (select count(*)::int from engine_model) as models,
        (select count(*)::int from boat where not retired) as boats,
        (select count(*)::int from boat b where not b.retired
          and not exists (select 1 from engine e where e.boat_id = b.id and not e.retired)) as "boatsBare",
        (select count(*)::int from hung) as engines,
        (select count(*)::int from hung where meter is not null and not exists (
          select 1 from reading r where r.engine_id = hung.id and r.withdrawn_at is null)) as unread,
        (select count(*)::int from hung where meter is null) as meterless,
        (select count(*)::int from person where active and role = 'technician') as technicians,
        (select count(*)::int from person where active and role = 'technician'
          and 'lower units' = any(skills)) as "lowerUnits",
        (select count(*)::int from hire where cancelled_at is null
          and back_at > ${now.toISOString()}::timestamptz) as hires,
        (select count(*)::int from part) as parts`,
    );
    return counts!;
  },
};
