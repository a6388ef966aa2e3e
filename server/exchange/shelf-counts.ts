import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Tx } from '../db/index.ts';
import { lockShelves } from '../stores/index.ts';
import { low, type Line } from './csv.ts';

const { base, stockMovement } = tables;

/**
 * Counts of a file: what stands on the shelf. Only the difference to the ledger is booked, so reading one twice books
 * nothing.
 */
export async function shelfCounts(tx: Tx) {
  const bases = new Map((await tx.select().from(base)).map((b) => [low(b.name), b]));
  const shelves = await rowsOf(
    tx,
    z.object({ part_id: z.number(), base_id: z.number(), n: z.string() }),
    sql`
    select part_id, base_id, sum(quantity) as n from stock_movement group by 1, 2`,
  );
  const onHand = new Map(shelves.map((s) => [`${s.part_id}|${s.base_id}`, Number(s.n)]));
  const counts = new Map<string, { number: string; baseId: number; counted: number; line: number }>();

  /** Reads the count of a line, if it has one. @param known the part of the book, where it is there already */
  function read(line: Line, number: string, unit: 'each' | 'mL' | null, known: { id: number } | undefined): void {
    const at = line.text('base');
    const counted = line.number('count', { min: 0, max: 1_000_000, whole: unit === 'each', decimals: 2 });
    if (at === null && line.text('count') !== null)
      line.fault('base', 'is empty; a count needs the base where it was made');
    if (at === null || counted === null) return;
    const where = bases.get(low(at));
    if (!where) {
      line.fault('base', `no base "${at}" in the book; read the fleet file in first`);
      return;
    }
    const key = `${low(number)}|${where.id}`;
    const earlier = counts.get(key);
    if (earlier) line.fault('count', `line ${earlier.line} counts this part at ${where.name} already`);
    counts.set(key, { number: low(number), baseId: where.id, counted, line: line.line });
    const stands = known && (onHand.get(`${known.id}|${where.id}`) ?? 0);
    if (stands === counted) return;
    if (stands !== undefined) line.was.count = String(stands);
    if (line.does === 'same') line.does = known ? 'change' : 'add';
  }

  /** Books what is off. @param ids the parts by their number in small letters */
  async function write(ids: ReadonlyMap<string, number>, personId: number, now: Date): Promise<void> {
    for (const c of counts.values()) {
      const partId = ids.get(c.number)!;
      await lockShelves(tx, c.baseId, [partId]);
      const change = c.counted - (onHand.get(`${partId}|${c.baseId}`) ?? 0);
      if (change !== 0)
        await tx
          .insert(stockMovement)
          .values({
            partId,
            baseId: c.baseId,
            quantity: change,
            reason: 'counted',
            personId,
            note: 'read in from a file',
            at: now,
          });
    }
  }
  return { read, write };
}
