import { serialInRange, TRANSOMS, type Transom } from '@diurna/core/fleet';
import { taskApplies } from '@diurna/core/service';
import { COLUMNS } from '@diurna/contract/exchange';
import { PART_KINDS, PART_MAKES, type PartKind, type PartMake } from '@diurna/core/stores';
import { asc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import type { PrintedContainer } from '../db/schema/index.ts';
import { keepPlace } from '../stores/index.ts';
import { containersCell, containersOf } from './containers-cell.ts';
import { csvText, inTurn, low, minorCell, type Cell, type Line } from './csv.ts';
import { shelfCounts } from './shelf-counts.ts';

const { part, fitment, base, engineModel, shelfPlace } = tables;

/**
 * Reads parts: each line names a part and may give a count at a base, a fitment, or both. A count is
 * what stands on the shelf: the difference to the ledger is booked, so reading it twice books nothing.
 */
export async function analyseParts(tx: Tx, lines: Line[], personId: number, now: Date): Promise<() => Promise<void>> {
  const parts = await tx.select().from(part);
  const bases = await tx.select().from(base);
  const models = await tx.select().from(engineModel);
  const fitments = await tx.select().from(fitment);
  const counts = await shelfCounts(tx);
  const partBy = new Map(parts.map((p) => [low(p.number), p]));
  const baseBy = new Map(bases.map((b) => [low(b.name), b]));
  const modelBy = new Map(models.map((m) => [low(`${m.maker} ${m.name}`), m]));
  const fitKey = (f: {
    partId: number;
    modelId: number;
    task: string;
    serialFrom: string | null;
    serialTo: string | null;
    transom: Transom | null;
  }) => `${f.partId}|${f.modelId}|${f.task}|${f.serialFrom ?? ''}|${f.serialTo ?? ''}|${f.transom ?? ''}`;
  const fits = new Set(fitments.map(fitKey));
  const placeOf = new Map((await tx.select().from(shelfPlace)).map((s) => [`${s.partId}|${s.baseId}`, s.place]));
  interface Wanted {
    line: Line;
    number: string;
    name: string;
    kind: PartKind;
    make: PartMake | null;
    unit: 'each' | 'mL';
    priceMinor: number | null;
    /** Null leaves what is known. */
    containers: PrintedContainer[] | null;
    shelfLifeMonths: number | null;
  }
  const firstOf = new Map<string, Wanted>();
  const places = new Map<string, { part: string; baseId: number; place: string; line: number }>();
  const newFits: {
    part: string;
    modelId: number;
    task: (typeof fitment.$inferInsert)['task'];
    quantity: number | null;
    serialFrom: string | null;
    serialTo: string | null;
    transom: Transom | null;
  }[] = [];

  for await (const line of inTurn(lines)) {
    const number = line.required('part');
    const name = line.required('name');
    const kind = line.choice('kind', PART_KINDS);
    const unit = line.choice('unit', ['each', 'mL'] as const);
    if (line.text('kind') === null) line.fault('kind', `is empty; write one of: ${PART_KINDS.join(', ')}`);
    if (line.text('unit') === null) line.fault('unit', 'is empty; write each or mL');
    const make = line.choice('make', PART_MAKES);
    const priceMinor = line.minor('price');
    const containers = containersOf(line, unit);
    const shelfLifeMonths = line.number('shelf_life_months', { min: 1, max: 240, whole: true });
    const known = partBy.get(low(number));
    const first = firstOf.get(low(number));
    if (known && unit !== null && known.unit !== unit) line.fault('unit', `the book counts ${number} in ${known.unit}`);
    if (first && unit !== null && first.unit !== unit)
      line.fault('unit', `line ${first.line.line} counts ${number} in ${first.unit}`);
    if (!first && kind !== null && unit !== null) {
      const wanted: Wanted = { line, number, name, kind, make, unit, priceMinor, containers, shelfLifeMonths };
      firstOf.set(low(number), wanted);
      if (!known) line.does = 'add';
      else if (
        known.name !== name ||
        known.kind !== kind ||
        (make !== null && known.make !== make) ||
        (wanted.priceMinor !== null && known.priceMinor !== wanted.priceMinor) ||
        (containers !== null && containersCell(containers) !== containersCell(known.containers)) ||
        (shelfLifeMonths !== null && known.shelfLifeMonths !== shelfLifeMonths)
      )
        line.does = 'change';
    }
    counts.read(line, number, unit, known);
    readPlace(line, number);
    readFitment(line, number);
  }

  function readPlace(line: Line, number: string): void {
    const place = line.text('shelf');
    if (place === null) return;
    if (place.length > 60) line.fault('shelf', 'is longer than 60 characters');
    const at = line.text('base');
    if (at === null) line.fault('base', 'is empty; a shelf needs the base where it is');
    const where = at === null ? undefined : baseBy.get(low(at));
    if (!where) return;
    const key = `${low(number)}|${where.id}`;
    const earlier = places.get(key);
    if (earlier && earlier.place !== place)
      line.fault('shelf', `line ${earlier.line} says "${earlier.place}" of this part at ${where.name}`);
    places.set(key, { part: low(number), baseId: where.id, place, line: line.line });
    const known = partBy.get(low(number));
    if (line.does === 'same' && (!known || placeOf.get(`${known.id}|${where.id}`) !== place))
      line.does = known ? 'change' : 'add';
  }

  function readFitment(line: Line, number: string): void {
    const modelName = line.text('model');
    const task = line.task('task');
    if (modelName === null && task === null) return;
    if (modelName === null) line.fault('model', 'is empty; a fitment needs the engine model, like "Corvane 60"');
    if (task === null && line.text('task') === null)
      line.fault('task', 'is empty; a fitment needs the task that takes the part');
    const found = modelName === null ? undefined : modelBy.get(low(modelName));
    if (modelName !== null && !found)
      line.fault('model', `no model "${modelName}" in the book; read the fleet file in first`);
    if (found && task !== null && !taskApplies(task, found.stroke))
      line.fault('task', 'a two-stroke does not have this task');
    const quantity = line.number('quantity', { min: 0.01, max: 10_000, decimals: 2 });
    const serialFrom = line.text('serial_from');
    const serialTo = line.text('serial_to');
    const transom = line.choice('transom', TRANSOMS);
    if (serialFrom !== null && serialTo !== null && !serialInRange(serialFrom, { from: null, to: serialTo }))
      line.fault('serial_to', 'comes before serial_from');
    if (!found || task === null) return;
    const known = partBy.get(low(number));
    if (known && fits.has(fitKey({ partId: known.id, modelId: found.id, task, serialFrom, serialTo, transom }))) return;
    if (
      newFits.some(
        (f) =>
          f.part === low(number) &&
          f.modelId === found.id &&
          f.task === task &&
          f.serialFrom === serialFrom &&
          f.serialTo === serialTo &&
          f.transom === transom,
      )
    )
      return;
    newFits.push({ part: low(number), modelId: found.id, task, quantity, serialFrom, serialTo, transom });
    if (line.does === 'same') line.does = known ? 'change' : 'add';
  }

  return async () => {
    const ids = new Map(parts.map((p) => [low(p.number), p.id]));
    for (const [key, w] of firstOf) {
      const known = partBy.get(key);
      const values = {
        number: w.number,
        name: w.name,
        kind: w.kind,
        unit: w.unit,
        ...(w.make !== null && { make: w.make }),
        ...(w.containers !== null && { containers: w.containers }),
        ...(w.shelfLifeMonths !== null && { shelfLifeMonths: w.shelfLifeMonths }),
      };
      if (!known) {
        const [made] = await tx
          .insert(part)
          .values({ ...values, priceMinor: w.priceMinor })
          .returning({ id: part.id });
        ids.set(key, made!.id);
      } else if (w.line.does === 'change') {
        await tx
          .update(part)
          .set({ ...values, priceMinor: w.priceMinor ?? known.priceMinor, version: sql`${part.version} + 1` })
          .where(eq(part.id, known.id));
      }
    }
    if (newFits.length > 0)
      await tx.insert(fitment).values(newFits.map(({ part: key, ...f }) => ({ ...f, partId: ids.get(key)! })));
    for (const p of places.values()) await keepPlace(tx, ids.get(p.part)!, p.baseId, p.place);
    await counts.write(ids, personId, now);
  };
}

/** Parts with their counts and fitments, side by side in as few lines as they take. */
export async function* partsFile(db: Db): AsyncGenerator<string> {
  const columns = [...COLUMNS.parts.required, ...COLUMNS.parts.optional];
  yield csvText([columns]);
  const [parts, fitments, places, shelves] = await Promise.all([
    db.select().from(part).orderBy(asc(part.number)),
    db
      .select({ f: fitment, maker: engineModel.maker, model: engineModel.name })
      .from(fitment)
      .innerJoin(engineModel, eq(engineModel.id, fitment.modelId))
      .orderBy(asc(fitment.id)),
    db
      .select({ s: shelfPlace, name: base.name })
      .from(shelfPlace)
      .innerJoin(base, eq(base.id, shelfPlace.baseId))
      .orderBy(asc(base.name)),
    rowsOf(
      db,
      z.object({ part_id: z.number(), name: z.string(), n: z.string() }),
      sql`
      select m.part_id, b.name, sum(m.quantity) as n from stock_movement m join base b on b.id = m.base_id group by 1, 2
        order by 2`,
    ),
  ]);
  for (const p of parts) {
    const lies = new Map(places.filter(({ s }) => s.partId === p.id).map(({ s, name }) => [name, s.place]));
    const here = shelves.filter((s) => s.part_id === p.id && Number(s.n) >= 0);
    const counts = [
      ...here.map((s) => ({ name: s.name, n: Number(s.n) })),
      ...[...lies.keys()].filter((name) => !here.some((s) => s.name === name)).map((name) => ({ name, n: null })),
    ];
    const own = fitments.filter(({ f }) => f.partId === p.id);
    const rows: Cell[][] = [];
    for (let i = 0; i < Math.max(1, counts.length, own.length); i++) {
      const shelf = counts[i];
      const fit = own[i];
      const cells: Record<string, Cell> = {
        part: p.number,
        name: p.name,
        kind: p.kind,
        unit: p.unit,
        make: p.make,
        price: minorCell(p.priceMinor),
        containers: containersCell(p.containers) || null,
        shelf_life_months: p.shelfLifeMonths,
        base: shelf?.name,
        count: shelf?.n ?? null,
        shelf: shelf && lies.get(shelf.name),
        model: fit ? `${fit.maker} ${fit.model}` : null,
        task: fit?.f.task,
        quantity: fit?.f.quantity,
        serial_from: fit?.f.serialFrom,
        serial_to: fit?.f.serialTo,
        transom: fit?.f.transom,
      };
      rows.push(columns.map((c) => cells[c]));
    }
    yield csvText(rows);
  }
}
