import { expiredOn, partWorth, replayShelf, type LotLeft, type ShelfMovement } from '@diurna/core/stores';
import { addDays, dayInZone, type Day } from '@diurna/core/calendar';
import type { StoreWorth } from '@diurna/contract/stores';
import { asc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Db, type Tx } from '../db/index.ts';

const { base, part } = tables;

const YEAR_DAYS = 365;
/** What expires within so many days is looked for. */
const SOON_DAYS = 60;

/** The price of one piece, or of one mL. */
const fallbackOf = (p: { priceMinor: number | null; unit: 'each' | 'mL' }): number | null =>
  p.priceMinor === null ? null : p.unit === 'mL' ? p.priceMinor / 1000 : p.priceMinor;

/** Ledgers by part and base, in their order. @param of null = of all parts, or all bases */
export async function ledgers(
  db: Db | Tx,
  of: { partId: number | null; baseId: number | null },
): Promise<Map<number, Map<number, ShelfMovement[]>>> {
  const rows = await rowsOf(
    db,
    z.object({
      part_id: z.number(),
      base_id: z.number(),
      quantity: z.string(),
      day: z.string(),
      lot: z.string().nullable(),
      expires: z.string().nullable(),
      cost_minor: z.number().nullable(),
      work: z.boolean(),
    }),
    sql`
    select m.part_id, m.base_id, m.quantity, (m.at at time zone b.time_zone)::date::text as day, m.lot,
      m.expires::text as expires, m.cost_minor, m.reason in ('used', 'returned') as work
    from stock_movement m join base b on b.id = m.base_id
    where (${of.partId}::int is null or m.part_id = ${of.partId}::int)
      and (${of.baseId}::int is null or m.base_id = ${of.baseId}::int)
    order by m.id`,
  );
  const found = new Map<number, Map<number, ShelfMovement[]>>();
  for (const r of rows) {
    const shelves = found.get(r.part_id) ?? new Map<number, ShelfMovement[]>();
    found.set(r.part_id, shelves);
    const own = shelves.get(r.base_id) ?? [];
    shelves.set(r.base_id, own);
    own.push({
      quantity: Number(r.quantity),
      day: r.day,
      lot: r.lot,
      expires: r.expires,
      costMinor: r.cost_minor,
      used: r.work,
    });
  }
  return found;
}

/** One part by its ledgers: lots, money, what has expired. */
export async function readShelves(
  db: Db | Tx,
  p: { id: number; priceMinor: number | null; unit: 'each' | 'mL' },
  now: Date,
): Promise<{
  lots: (LotLeft & { baseId: number })[];
  worth: { baseId: number; expired: number; averageMinor: number | null; worthMinor: number; worthFifoMinor: number }[];
}> {
  const shelves = (await ledgers(db, { partId: p.id, baseId: null })).get(p.id) ?? new Map<number, ShelfMovement[]>();
  const zones = new Map((await db.select().from(base).orderBy(asc(base.id))).map((b) => [b.id, b.timeZone]));
  const states = [...shelves].map(([baseId, movements]) => ({ baseId, ...replayShelf(movements, fallbackOf(p)) }));
  return {
    lots: states.flatMap(({ baseId, lots }) => lots.map((l) => ({ ...l, baseId }))),
    worth: states.map(({ baseId, lots, average, worth, worthFifo }) => ({
      baseId,
      expired: expiredOn(lots, dayInZone(now, zones.get(baseId)!)),
      averageMinor: average,
      worthMinor: Math.round(worth),
      worthFifoMinor: Math.round(worthFifo),
    })),
  };
}

/** What a quantity that leaves a shelf takes of its money, by the moving average; null where nothing has a price. */
export async function costOf(
  tx: Tx,
  p: { id: number; priceMinor: number | null; unit: 'each' | 'mL' },
  baseId: number,
  quantity: number,
): Promise<number | null> {
  const own = (await ledgers(tx, { partId: p.id, baseId })).get(p.id)?.get(baseId) ?? [];
  const each = replayShelf(own, fallbackOf(p)).average;
  return each === null ? null : Math.round(each * quantity);
}

/** Money tied up on shelves, how often it turns over, what is dead, expired or soon will be. */
export async function readWorth(db: Db | Tx, now: Date, { baseId }: { baseId: number | null }): Promise<StoreWorth> {
  const [all, parts, [first]] = await Promise.all([
    ledgers(db, { partId: null, baseId }),
    db.select().from(part).orderBy(asc(part.kind), asc(part.number)),
    db
      .select()
      .from(base)
      .where(baseId === null ? undefined : eq(base.id, baseId))
      .orderBy(asc(base.id))
      .limit(1),
  ]);
  const today: Day = dayInZone(now, first?.timeZone ?? 'UTC');
  const from = addDays(today, -YEAR_DAYS);
  const soon = addDays(today, SOON_DAYS);
  let used = 0;
  const rows = parts.flatMap((p) => {
    const shelves = [...(all.get(p.id)?.values() ?? [])];
    if (shelves.length === 0) return [];
    const worth = partWorth(shelves, fallbackOf(p), { from, to: today });
    used += (worth.turns ?? 0) * worth.worthMinor;
    const states = shelves.map((m) => replayShelf(m, fallbackOf(p)));
    const lots = states.flatMap((s) => s.lots);
    const expired = expiredOn(lots, today);
    return [
      {
        id: p.id,
        number: p.number,
        name: p.name,
        unit: p.unit,
        onHand: states.reduce((sum, s) => sum + s.onHand, 0),
        ...worth,
        expired,
        expiresSoon: expiredOn(lots, soon) - expired,
      },
    ];
  });
  const sum = (of: (r: (typeof rows)[number]) => number) => rows.reduce((n, r) => n + of(r), 0);
  const told = rows.filter((r) => r.turns !== null);
  const totalMinor = sum((r) => r.worthMinor);
  return {
    totalMinor,
    totalFifoMinor: sum((r) => r.worthFifoMinor),
    deadMinor: sum((r) => (r.dead ? r.worthMinor : 0)),
    turns: told.length > 0 ? used / told.reduce((n, r) => n + r.worthMinor, 0) : null,
    parts: rows.sort((a, b) => b.worthMinor - a.worthMinor),
  };
}
