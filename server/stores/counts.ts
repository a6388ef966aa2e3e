import type { Fault } from '@diurna/contract';
import type { CountLine, countsRoutes } from '@diurna/contract/counts';
import { byPlace, countDoubt } from '@diurna/core/stores';
import { eq, inArray, sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { countOpen } from './containers.ts';
import { lockShelves, onHandByPart, refuseHalves, TWICE } from './store.ts';

const { base, part, stockMovement } = tables;

/** Parts that lie on a shelf, or have lain at the base, in the order of the places. */
async function readSheet(db: Db, { baseId, shelf }: { baseId: number; shelf: string }): Promise<CountLine[]> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.number(),
      number: z.string(),
      name: z.string(),
      unit: z.enum(['each', 'mL']),
      place: z.string().nullable(),
      said: z.string(),
      counted: z.string().nullable(),
      received: z.string(),
      used: z.string(),
      moved: z.string(),
      written_off: z.string(),
    }),
    sql`
    with at_base as (select time_zone from base where id = ${baseId}),
    lately as (
      select part_id, max(id) filter (where reason = 'counted') as last from stock_movement
      where base_id = ${baseId} group by part_id
    )
    select p.id, p.number, p.name, p.unit, s.place,
      coalesce(sum(m.quantity), 0) as said,
      (max(m.at) filter (where m.id = l.last) at time zone (select time_zone from at_base))::date::text as counted,
      coalesce(sum(m.quantity) filter (where m.reason = 'received' and m.id > coalesce(l.last, 0)), 0) as received,
      coalesce(sum(m.quantity) filter (where m.reason in ('used', 'returned') and m.id > coalesce(l.last, 0)), 0) as used,
      coalesce(sum(m.quantity) filter (where m.reason = 'moved' and m.id > coalesce(l.last, 0)), 0) as moved,
      coalesce(sum(m.quantity) filter (where m.reason = 'written off' and m.id > coalesce(l.last, 0)), 0) as written_off
    from part p
      left join shelf_place s on s.part_id = p.id and s.base_id = ${baseId}
      left join lately l on l.part_id = p.id
      left join stock_movement m on m.part_id = p.id and m.base_id = ${baseId}
    where case when ${shelf} = '' then s.place is not null or l.part_id is not null
      else starts_with(lower(s.place), lower(${shelf})) end
    group by p.id, s.place
    order by s.place nulls last, p.number
    limit 500`,
  );
  return rows
    .map(({ said, received, used, moved, written_off: off, ...r }) => ({
      ...r,
      said: Number(said),
      since: { received: Number(received), used: Number(used), moved: Number(moved), writtenOff: Number(off) },
    }))
    .sort(byPlace);
}

/** What stands against booking a count, line by line. */
function faultsOf(
  lines: z.output<typeof countsRoutes.countShelf.body>['lines'],
  parts: readonly (typeof part.$inferSelect)[],
  onHand: ReadonlyMap<number, number>,
): { faults: Fault[]; type: 'questioned' | 'stale' } {
  const faults: Fault[] = [];
  const moved: string[] = [];
  lines.forEach((l, i) => {
    const p = parts.find((x) => x.id === l.partId);
    const path = `lines.${i}.counted`;
    if (!p) throw faulty(path, 'This part is not on the shelf list any more. Load the sheet again.');
    refuseHalves(p, l.counted, path);
    const now = onHand.get(l.partId) ?? 0;
    if (Math.abs(now - l.said) > 1e-6) {
      moved.push(p.number);
      faults.push({
        path,
        text: `${p.number}: the shelf changed from ${l.said} to ${now} while you counted. Count it again.`,
      });
      return;
    }
    if (!l.again && countDoubt(l.counted, now, p.unit).large)
      faults.push({ path, text: `${p.number} is far from what the ledger says. Count it a second time.` });
  });
  return { faults, type: moved.length > 0 ? 'stale' : 'questioned' };
}

/** Counting rounds: what a shelf should hold, and what was found. */
export const countHandlers: Handlers<'countSheet' | 'countShelf'> = {
  countSheet: ({ db, query }) => readSheet(db, query),

  countShelf: ({ body, write, who, now }) =>
    write(async (tx, audit) => {
      const [at] = await tx.select().from(base).where(eq(base.id, body.baseId));
      if (!at) throw faulty('baseId', 'Choose a base.');
      const ids = body.lines.map((l) => l.partId);
      if (new Set(ids).size < ids.length) throw faulty('lines', TWICE);
      const parts = await tx.select().from(part).where(inArray(part.id, ids));
      await lockShelves(tx, at.id, ids);
      const onHand = await onHandByPart(tx, at.id, ids);
      const { faults, type } = faultsOf(body.lines, parts, onHand);
      if (faults.length > 0)
        throw new HttpProblem(
          409,
          faults
            .map((f) => f.text)
            .slice(0, 3)
            .join(' '),
          faults,
          type,
        );
      await tx
        .insert(stockMovement)
        .values(
          body.lines.map((l) => ({
            partId: l.partId,
            baseId: at.id,
            quantity: Math.round((l.counted - (onHand.get(l.partId) ?? 0)) * 100) / 100,
            reason: 'counted' as const,
            personId: who.id,
            note: 'counting round',
            at: now,
          })),
        );
      for (const l of body.lines)
        if (parts.find((p) => p.id === l.partId)!.unit === 'mL')
          await countOpen(
            tx,
            { partId: l.partId, baseId: at.id, counted: l.counted, found: [] },
            { personId: who.id, now },
          );
      const right = body.lines.filter((l) => Math.abs(l.counted - (onHand.get(l.partId) ?? 0)) < 1e-6).length;
      await audit({
        act: 'changed',
        subject: 'stock',
        title: at.name,
        after: {
          counted: body.lines.length,
          right,
          lines: body.lines.map((l) => ({ ...l, number: parts.find((p) => p.id === l.partId)!.number })),
        },
      });
      return { booked: body.lines.length, right };
    }),
};
