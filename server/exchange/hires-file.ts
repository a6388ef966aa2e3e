import { clockInZone, dayInZone, instantInZone } from '@diurna/core/calendar';
import { and, asc, eq, gt, inArray, isNull } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { csvText, type Line, inTurn } from './csv.ts';

const { hire, boat, base } = tables;
const CHUNK = 2000;
const LONGEST_MS = 400 * 86_400_000;

/** Day and time by the clock of the base. */
function timeOf(line: Line, column: string, zone: string): Date | null {
  const time = line.time(column);
  return time && instantInZone(time.day, time.minute, zone);
}

/** Reads hires. A boat that goes out at the same minute is the same hire: its return is changed. */
export async function analyseHires(tx: Tx, lines: Line[]): Promise<() => Promise<void>> {
  const boats = new Map(
    (
      await tx
        .select({ id: boat.id, name: boat.name, timeZone: base.timeZone })
        .from(boat)
        .innerJoin(base, eq(base.id, boat.baseId))
        .where(eq(boat.retired, false))
    ).map((b) => [b.name.toLowerCase(), b]),
  );
  const wanted: {
    line: Line;
    boatId: number;
    outAt: Date;
    backAt: Date;
    madeAt: Date | null;
    reference: string | null;
  }[] = [];
  for await (const line of inTurn(lines)) {
    const name = line.required('boat');
    const found = boats.get(name.toLowerCase());
    if (name !== '' && !found)
      line.fault('boat', `no boat "${name.slice(0, 40)}" in the book; read the fleet file in first`);
    for (const column of ['out', 'back'])
      if (line.text(column) === null) line.fault(column, 'is empty; write day and time, like 2026-04-15 09:30');
    const zone = found?.timeZone ?? 'UTC';
    const outAt = timeOf(line, 'out', zone);
    const backAt = timeOf(line, 'back', zone);
    const booked = line.day('booked_on');
    const reference = line.text('reference');
    if (reference !== null && reference.length > 80) line.fault('reference', 'is longer than 80 characters');
    if (outAt !== null && backAt !== null && backAt <= outAt) line.fault('back', 'is not after the boat goes out');
    else if (outAt !== null && backAt !== null && backAt.getTime() - outAt.getTime() > LONGEST_MS)
      line.fault('back', 'is more than 400 days after it goes out; check the year');
    if (found && outAt !== null && backAt !== null && line.faults.length === 0) {
      // A day has no clock time: the middle of it.
      wanted.push({
        line,
        boatId: found.id,
        outAt,
        backAt,
        madeAt: booked === null ? null : instantInZone(booked, 12 * 60, zone),
        reference,
      });
    }
  }
  const ids = [...new Set(wanted.map((w) => w.boatId))];
  const known = new Map(
    (ids.length === 0
      ? []
      : await tx
          .select()
          .from(hire)
          .where(and(inArray(hire.boatId, ids), isNull(hire.cancelledAt)))
    ).map((h) => [`${h.boatId} ${h.outAt.getTime()}`, h]),
  );
  const adds: (typeof hire.$inferInsert)[] = [];
  const changes: { id: number; version: number; backAt: Date; reference: string | null }[] = [];
  const seen = new Set<string>();
  for await (const { line, ...fields } of inTurn(wanted)) {
    const key = `${fields.boatId} ${fields.outAt.getTime()}`;
    const before = known.get(key);
    if (seen.has(key)) {
      line.fault('out', 'the boat goes out at this time in a line above already');
      continue;
    }
    seen.add(key);
    if (!before) {
      line.does = 'add';
      adds.push(fields);
    } else if (
      before.backAt.getTime() !== fields.backAt.getTime() ||
      (fields.reference !== null && before.reference !== fields.reference)
    ) {
      if (before.feedId !== null) {
        line.fault('out', 'this hire is kept by a calendar feed; change it there');
        continue;
      }
      line.does = 'change';
      changes.push({
        id: before.id,
        version: before.version + 1,
        backAt: fields.backAt,
        reference: fields.reference ?? before.reference,
      });
    }
  }
  return async () => {
    for (let i = 0; i < adds.length; i += CHUNK) await tx.insert(hire).values(adds.slice(i, i + CHUNK));
    for (const { id, ...set } of changes) await tx.update(hire).set(set).where(eq(hire.id, id));
  };
}

export async function* hiresFile(db: Db): AsyncGenerator<string> {
  yield csvText([['boat', 'out', 'back', 'booked_on', 'reference']]);
  let after = 0;
  for (;;) {
    const rows = await db
      .select({ h: hire, boat: boat.name, zone: base.timeZone })
      .from(hire)
      .innerJoin(boat, eq(boat.id, hire.boatId))
      .innerJoin(base, eq(base.id, boat.baseId))
      .where(and(gt(hire.id, after), isNull(hire.cancelledAt)))
      .orderBy(asc(hire.id))
      .limit(10_000);
    if (rows.length === 0) return;
    const at = (time: Date, zone: string) => `${dayInZone(time, zone)} ${clockInZone(time, zone)}`;
    yield csvText(
      rows.map(({ h, boat: name, zone }) => [
        name,
        at(h.outAt, zone),
        at(h.backAt, zone),
        h.madeAt === null ? null : dayInZone(h.madeAt, zone),
        h.reference,
      ]),
    );
    after = rows.at(-1)!.h.id;
  }
}
