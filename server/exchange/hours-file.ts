import { dayInZone } from '@diurna/core/calendar';
import { lifeHours, questionReading, type LifeReading } from '@diurna/core/usage';
import { and, asc, gt, isNull, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import { insertReadings, type ReadingRow } from '../usage/index.ts';
import { csvText, type Line, inTurn } from './csv.ts';
import { engineFinder } from './lookup.ts';

const { reading, meter, engine, engineModel } = tables;
const CHUNK = 10_000;

/** Where a day falls in readings sorted by day: the number of readings on or before it. */
function countUpTo(readings: readonly LifeReading[], day: string): number {
  let low = 0;
  let high = readings.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (readings[mid]!.day <= day) low = mid + 1;
    else high = mid;
  }
  return low;
}

/**
 * Reads hours, each questioned against the book and the lines before it. A questioned figure needs its
 * column `reason`. A figure already in the book for that day is left alone.
 */
export async function analyseHours(tx: Tx, lines: Line[], personId: number, now: Date): Promise<() => Promise<void>> {
  const find = await engineFinder(tx);
  const meters = new Map((await tx.select().from(meter)).map((m) => [m.id, m]));
  const metersOf = new Map<number, (typeof meter.$inferSelect)[]>();
  for (const m of meters.values()) metersOf.set(m.engineId, [...(metersOf.get(m.engineId) ?? []), m]);

  const wanted: { line: Line; engineId: number; day: string; count: number; meterId: number; life: number }[] = [];
  for await (const line of inTurn(lines)) {
    const found = find(line);
    const day = line.day('read_on');
    if (line.text('read_on') === null) line.fault('read_on', 'is empty; write the day it was read, like 2026-04-15');
    const count = line.number('count', { min: 0, max: 99_999.9, decimals: 1 });
    if (line.text('count') === null) line.fault('count', 'is empty; write what the meter showed');
    if (!found || day === null || count === null) continue;
    if (day > dayInZone(now, found.timeZone)) {
      line.fault('read_on', `${day} is still to come`);
      continue;
    }
    const fitted = (metersOf.get(found.id) ?? []).find(
      (m) => m.fittedOn <= day && (m.removedOn === null || day < m.removedOn),
    );
    if (!fitted) {
      line.fault(
        'serial',
        metersOf.has(found.id)
          ? `no meter was on this engine on ${day}`
          : 'this engine has no meter; fit one on its page first',
      );
      continue;
    }
    wanted.push({
      line,
      engineId: found.id,
      day,
      count,
      meterId: fitted.id,
      life: lifeHours(fitted.hoursOffset, count),
    });
  }

  const inBook = new Map<number, LifeReading[]>();
  const engineIds = [...new Set(wanted.map((w) => w.engineId))];
  if (engineIds.length > 0) {
    const rows = await rowsOf(
      tx,
      z.object({ engine_id: z.number(), day: z.string(), hours: z.string() }),
      sql`
      select r.engine_id, r.day, r.count + m.hours_offset as hours from reading r join meter m on m.id = r.meter_id
      where r.withdrawn_at is null and r.engine_id = any(${sql.param(engineIds)}::int[])
        order by r.engine_id, r.day, r.id`,
    );
    for (const r of rows) {
      const list = inBook.get(r.engine_id) ?? [];
      list.push({ day: r.day, hours: Number(r.hours) });
      inBook.set(r.engine_id, list);
    }
  }

  const values: ReadingRow[] = [];
  wanted.sort(
    (a, b) => a.engineId - b.engineId || (a.day < b.day ? -1 : a.day > b.day ? 1 : a.line.line - b.line.line),
  );
  for await (const w of inTurn(wanted)) {
    const known = inBook.get(w.engineId) ?? [];
    const at = countUpTo(known, w.day);
    let sameDay = at - 1;
    let same = false;
    for (; sameDay >= 0 && known[sameDay]!.day === w.day; sameDay--) same ||= known[sameDay]!.hours === w.life;
    if (same) continue;
    const question = questionReading(
      known.slice(Math.max(0, at - 13), at),
      { day: w.day, hours: w.life },
      known[at] ?? null,
    );
    const reason = w.line.text('reason');
    if (question && reason === null) {
      w.line.fault('count', `${question.text} If it is right, say why in a column "reason".`);
      continue;
    }
    w.line.does = 'add';
    known.splice(at, 0, { day: w.day, hours: w.life });
    inBook.set(w.engineId, known);
    values.push({
      engineId: w.engineId,
      meterId: w.meterId,
      day: w.day,
      at: now,
      count: w.count,
      source: 'import',
      personId,
      doubt: question?.doubt ?? null,
      reason: question ? reason : null,
    });
  }
  return async () => {
    for (let i = 0; i < values.length; i += CHUNK) await insertReadings(tx, values.slice(i, i + CHUNK));
  };
}

export async function* hoursFile(db: Db): AsyncGenerator<string> {
  yield csvText([['serial', 'model', 'read_on', 'count', 'reason']]);
  let after = 0;
  for (;;) {
    const rows = await db
      .select({
        id: reading.id,
        serial: engine.serial,
        maker: engineModel.maker,
        model: engineModel.name,
        day: reading.day,
        count: reading.count,
        reason: reading.reason,
      })
      .from(reading)
      .innerJoin(engine, eq(engine.id, reading.engineId))
      .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
      .where(and(gt(reading.id, after), isNull(reading.withdrawnAt)))
      .orderBy(asc(reading.id))
      .limit(10_000);
    if (rows.length === 0) return;
    yield csvText(rows.map((r) => [r.serial, `${r.maker} ${r.model}`, r.day, r.count, r.reason]));
    after = rows.at(-1)!.id;
  }
}
