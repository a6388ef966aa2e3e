import { asc, eq, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { nextVersion } from '../http/version.ts';
import { csvText, inTurn, low, minorCell, type Line } from './csv.ts';

const { supplier, offer, part } = tables;
type Part = typeof part.$inferSelect;
type Offer = typeof offer.$inferSelect;
interface Wanted {
  supplierId: number;
  partId: number;
  packQuantity: number;
  number: string | null;
  breaks: Map<number, { priceMinor: number; line: Line }>;
}
const money = (minor: number): string => minorCell(minor)!;
const keyOf = (o: { supplierId: number; partId: number; packQuantity: number }) =>
  `${o.supplierId} ${o.partId} ${o.packQuantity}`;

/** What is sold now, to find parts by the supplier's own numbers and packs by what there is. */
async function readMarket(tx: Tx) {
  const suppliers = await tx.select().from(supplier).where(eq(supplier.retired, false));
  const parts = await tx.select().from(part);
  const offers = await tx.select().from(offer);
  const byNumber = new Map(parts.map((p) => [low(p.number), p]));
  const byId = new Map(parts.map((p) => [p.id, p]));
  /** By the supplier's own number, which may stand on several packs. */
  const theirs = new Map<string, Offer[]>();
  for (const o of offers) {
    const key = `${o.supplierId} ${low(o.number ?? '')}`;
    if (o.number !== null) theirs.set(key, [...(theirs.get(key) ?? []), o]);
  }
  const ofPart = new Map<string, Offer[]>();
  for (const o of offers) {
    const key = `${o.supplierId} ${o.partId}`;
    ofPart.set(key, [...(ofPart.get(key) ?? []), o]);
  }
  return { suppliers, byNumber, byId, theirs, ofPart, byKey: new Map(offers.map((o) => [keyOf(o), o])) };
}
type Market = Awaited<ReturnType<typeof readMarket>>;

/** Who sells it: as the line names, or whose list the file is. */
function supplierOf(line: Line, { suppliers }: Market, chosen: number | undefined): number | null {
  const named = line.text('supplier');
  if (named === null) {
    if (suppliers.some((s) => s.id === chosen)) return chosen ?? null;
    line.fault('supplier', 'is empty; say whose price list it is');
    return null;
  }
  const found = suppliers.find((s) => low(s.name) === low(named));
  if (!found) line.fault('supplier', `no supplier "${named}" in the book; read the suppliers file first`);
  return found?.id ?? null;
}

/** The pack the line prices: as it says, or the only one there is. */
function packOf(line: Line, p: Part, sold: readonly Offer[]): number | null {
  const said = line.number('pack', { min: 0.01, max: 1_000_000, whole: p.unit === 'each', decimals: 2 });
  if (said !== null || line.text('pack') !== null) return said;
  if (sold.length === 1) return sold[0]!.packQuantity;
  if (sold.length === 0 && p.unit === 'each') return 1;
  line.fault(
    'pack',
    sold.length === 0
      ? 'is empty; it needs the mL in a container'
      : `is empty; it is sold in packs of ${sold.map((o) => o.packQuantity).join(' and ')}`,
  );
  return null;
}

/** The ladder of an offer as the file leaves it: its own steps, and those above which it says nothing of. */
function ladderOf(wanted: Wanted, before: Offer | undefined, steps: boolean): Offer['breaks'] {
  const own = [...wanted.breaks].map(([packs, { priceMinor }]) => ({ packs, priceMinor }));
  const kept = steps ? [] : (before?.breaks ?? []).filter((b, i) => i > 0 && !wanted.breaks.has(b.packs));
  return [...own, ...kept].sort((a, b) => a.packs - b.packs);
}

/** Steps that go up in packs go down in price, or somebody mistook a column. */
function checkLadder(ladder: Offer['breaks'], wanted: Wanted): void {
  const any = [...wanted.breaks.values()][0]!.line;
  if (ladder.length > 8) any.fault('from_packs', 'has more than 8 steps of one pack');
  ladder.forEach((b, i) => {
    const below = ladder[i - 1];
    if (!below || b.priceMinor <= below.priceMinor) return;
    (wanted.breaks.get(b.packs)?.line ?? any).fault(
      'price',
      `from ${b.packs} packs it would be ${money(b.priceMinor)}, dearer than ${money(below.priceMinor)} from ${below.packs}`,
    );
  });
}

/** Steps that stand in the book and not in a file that speaks of steps go: its first line says so. */
function sayGone(wanted: Wanted, before: Offer | undefined, ladder: Offer['breaks']): void {
  const gone = (before?.breaks ?? []).filter((b) => !ladder.some((l) => l.packs === b.packs));
  const first = [...wanted.breaks.values()][0]!.line;
  if (gone.length === 0) return;
  first.was.from_packs = gone.map((b) => `${b.packs}: ${money(b.priceMinor)}`).join(', ');
  if (first.does === 'same') first.does = 'change';
}

/** Reads what one line prices into what is wanted of its pack. */
function readPrice(line: Line, market: Market, chosen: number | undefined, wanted: Map<string, Wanted>): void {
  const supplierId = supplierOf(line, market, chosen);
  const number = line.required('part');
  line.required('price');
  const priceMinor = line.minor('price');
  const packs = line.number('from_packs', { min: 1, max: 100_000, whole: true }) ?? 1;
  // Their number says the pack too, where it stands on one alone.
  const named = market.theirs.get(`${supplierId} ${low(number)}`) ?? [];
  const p = market.byNumber.get(low(number)) ?? market.byId.get(named[0]?.partId ?? -1);
  if (number !== '' && !p) line.does = 'left';
  if (!p || supplierId === null || priceMinor === null) return;
  const sold = market.ofPart.get(`${supplierId} ${p.id}`) ?? [];
  const pack = packOf(line, p, named.length === 1 ? named : sold);
  if (pack === null) return;
  const key = keyOf({ supplierId, partId: p.id, packQuantity: pack });
  const before = market.byKey.get(key);
  const theirs = line.text('their_number') ?? (low(number) === low(p.number) ? null : number);
  if (theirs !== null && theirs.length > 60) line.fault('their_number', 'is longer than 60 characters');
  const entry: Wanted = wanted.get(key) ?? {
    supplierId,
    partId: p.id,
    packQuantity: pack,
    number: before?.number ?? null,
    breaks: new Map(),
  };
  const earlier = entry.breaks.get(packs)?.line;
  if (earlier) line.fault('price', `line ${earlier.line} has a price of this pack already`);
  entry.breaks.set(packs, { priceMinor, line });
  if (theirs !== null) entry.number = theirs;
  wanted.set(key, entry);
  const step = before?.breaks.find((b) => b.packs === packs);
  if (step && step.priceMinor !== priceMinor) line.was.price = money(step.priceMinor);
  if (!before) line.does = 'add';
  else if (step?.priceMinor !== priceMinor || (theirs !== null && theirs !== before.number)) line.does = 'change';
}

/**
 * Reads prices: each line a part, a pack and what it costs, from so many packs on. A part is found by its own number or
 * by the supplier's. What no line speaks of stays as it is; parts that are not on the shelf list are left out.
 *
 * @param chosen whose list it is, where no column says
 */
export async function analysePrices(tx: Tx, lines: Line[], chosen: number | undefined): Promise<() => Promise<void>> {
  const market = await readMarket(tx);
  const wanted = new Map<string, Wanted>();
  for await (const line of inTurn(lines)) readPrice(line, market, chosen, wanted);
  const steps = lines.some((line) => line.text('from_packs') !== null);
  const ladders = new Map([...wanted].map(([key, w]) => [key, ladderOf(w, market.byKey.get(key), steps)]));
  for (const [key, w] of wanted) {
    checkLadder(ladders.get(key)!, w);
    sayGone(w, market.byKey.get(key), ladders.get(key)!);
  }
  return async () => {
    const touched = new Set<number>();
    for (const [key, w] of wanted) {
      const breaks = ladders.get(key)!;
      const before = market.byKey.get(key);
      if (before && before.number === w.number && JSON.stringify(before.breaks) === JSON.stringify(breaks)) continue;
      touched.add(w.supplierId);
      await tx
        .insert(offer)
        .values({ supplierId: w.supplierId, partId: w.partId, packQuantity: w.packQuantity, number: w.number, breaks })
        .onConflictDoUpdate({
          target: [offer.supplierId, offer.partId, offer.packQuantity],
          set: { number: w.number, breaks },
        });
    }
    // Whoever has one of these suppliers open is told that it changed under them.
    for (const id of touched) await tx.update(supplier).set(nextVersion(supplier)).where(eq(supplier.id, id));
  };
}

/** What every supplier asks for every pack, step by step. */
export async function* pricesFile(db: Db): AsyncGenerator<string> {
  yield csvText([['supplier', 'part', 'their_number', 'pack', 'unit', 'from_packs', 'price']]);
  const rows = await db
    .select({ o: offer, supplier: supplier.name, part: part.number, unit: part.unit })
    .from(offer)
    .innerJoin(supplier, eq(supplier.id, offer.supplierId))
    .innerJoin(part, eq(part.id, offer.partId))
    .where(sql`not ${supplier.retired}`)
    .orderBy(asc(supplier.name), asc(part.number), asc(offer.packQuantity));
  yield csvText(
    rows.flatMap(({ o, ...r }) =>
      o.breaks.map((b) => [r.supplier, r.part, o.number, o.packQuantity, r.unit, b.packs, money(b.priceMinor)]),
    ),
  );
}
