import { asc, eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { nextVersion } from '../http/version.ts';
import { csvText, inTurn, low, minorCell, type Line } from './csv.ts';

const { supplier } = tables;
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
type Row = typeof supplier.$inferInsert;

/** "Mon Wed Fri", "Mon-Fri" or "1 3 5" as days of the week, 1 = Monday. */
function weekdaysOf(line: Line): number[] {
  const cell = line.required('weekdays');
  const dayAt = (word: string) => {
    const by = DAYS.findIndex((d) => word.toLowerCase().startsWith(d.toLowerCase())) + 1;
    return by > 0 ? by : /^[1-7]$/.test(word) ? Number(word) : 0;
  };
  const days = new Set<number>();
  for (const word of cell.split(/[\s,;+/]+/).filter(Boolean)) {
    const [from, to = from] = word.split(/[-–]/).map(dayAt);
    if (!from || !to || to < from) {
      line.fault('weekdays', `"${cell}" is no list of days; write them as ${DAYS.slice(0, 5).join(' ')}`);
      return [];
    }
    for (let d = from; d <= to; d++) days.add(d);
  }
  return [...days].sort((a, b) => a - b);
}

/** Reads suppliers with how they deliver; what they sell is in the prices. Cells left empty leave what is there. */
export async function analyseSuppliers(tx: Tx, lines: Line[]): Promise<() => Promise<void>> {
  const known = new Map((await tx.select().from(supplier)).map((s) => [low(s.name), s]));
  const wanted = new Map<string, { row: Row; line: Line }>();
  for await (const line of inTurn(lines)) {
    const name = line.required('supplier');
    line.required('lead_days');
    const leadDays = line.number('lead_days', { min: 0, max: 365, whole: true });
    const weekdays = weekdaysOf(line);
    const before = known.get(low(name));
    const earlier = wanted.get(low(name));
    if (earlier) line.fault('supplier', `line ${earlier.line.line} is of this supplier already`);
    if (before?.retired)
      line.fault('supplier', `${before.name} was taken out of the list; add it anew under Suppliers`);
    const row: Row = {
      name,
      leadDays: leadDays ?? 0,
      weekdays,
      carriageMinor: line.minor('carriage') ?? before?.carriageMinor ?? 0,
      freeFromMinor: line.minor('free_from') ?? before?.freeFromMinor ?? null,
      leastMinor: line.minor('least') ?? before?.leastMinor ?? 0,
    };
    wanted.set(low(name), { row, line });
    if (!before) line.does = 'add';
    else if (
      before.name !== name ||
      before.leadDays !== row.leadDays ||
      before.weekdays.join() !== weekdays.join() ||
      before.carriageMinor !== row.carriageMinor ||
      before.freeFromMinor !== row.freeFromMinor ||
      before.leastMinor !== row.leastMinor
    )
      line.does = 'change';
  }
  return async () => {
    for (const [key, { row, line }] of wanted) {
      const before = known.get(key);
      if (!before) await tx.insert(supplier).values(row);
      else if (line.does === 'change')
        await tx
          .update(supplier)
          .set({ ...row, ...nextVersion(supplier) })
          .where(eq(supplier.id, before.id));
    }
  };
}

/** All suppliers with how they deliver. */
export async function* suppliersFile(db: Db): AsyncGenerator<string> {
  yield csvText([['supplier', 'lead_days', 'weekdays', 'carriage', 'free_from', 'least']]);
  const rows = await db.select().from(supplier).where(eq(supplier.retired, false)).orderBy(asc(supplier.name));
  yield csvText(
    rows.map((s) => [
      s.name,
      s.leadDays,
      s.weekdays.map((d) => DAYS[d - 1]).join(' '),
      minorCell(s.carriageMinor),
      minorCell(s.freeFromMinor),
      minorCell(s.leastMinor),
    ]),
  );
}
