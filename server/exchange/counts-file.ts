import { asc, eq, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { csvText, inTurn, low, type Line } from './csv.ts';
import { shelfCounts } from './shelf-counts.ts';

const { part, base, stockMovement } = tables;

/** Reads what was counted on the shelves, part by part. */
export async function analyseCounts(tx: Tx, lines: Line[], personId: number, now: Date): Promise<() => Promise<void>> {
  const parts = new Map((await tx.select().from(part)).map((p) => [low(p.number), p]));
  const counts = await shelfCounts(tx);
  for await (const line of inTurn(lines)) {
    const number = line.required('part');
    line.required('count');
    line.required('base');
    const known = parts.get(low(number));
    if (!known && number !== '') line.fault('part', `no part "${number}" on the shelf list; read the parts file first`);
    counts.read(line, number, known?.unit ?? null, known);
  }
  const ids = new Map([...parts].map(([number, p]) => [number, p.id]));
  return () => counts.write(ids, personId, now);
}

/** What the ledger says lies on each shelf, as a counting sheet has it. */
export async function* countsFile(db: Db): AsyncGenerator<string> {
  yield csvText([['part', 'base', 'count', 'name', 'unit']]);
  const rows = await db
    .select({
      number: part.number,
      base: base.name,
      n: sql<string>`sum(${stockMovement.quantity})`,
      name: part.name,
      unit: part.unit,
    })
    .from(stockMovement)
    .innerJoin(part, eq(part.id, stockMovement.partId))
    .innerJoin(base, eq(base.id, stockMovement.baseId))
    .groupBy(part.id, base.id)
    .orderBy(asc(base.name), asc(part.number));
  yield csvText(rows.filter((r) => Number(r.n) >= 0).map((r) => [r.number, r.base, Number(r.n), r.name, r.unit]));
}
