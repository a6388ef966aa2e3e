import { dayInZone } from '@diurna/core/calendar';
import { lifeHours, questionReading } from '@diurna/core/usage';
import type { Tx } from '../db/index.ts';
import type { Fault } from '@diurna/contract';
import { HttpProblem } from '../http/problem.ts';
import {
  insertReadings,
  lockEngines,
  nextReadings,
  recentReadings,
  type EngineMeter,
  type ReadingRow,
} from './store.ts';

export interface NewReading {
  engineId: number;
  /** Left out: today at the base. */
  day?: string | undefined;
  /** What the meter shows. */
  count: number;
  confirm?: string | undefined;
}

export interface Written {
  engineId: number;
  name: string;
  day: string;
  count: number;
  lifeHours: number;
}

/**
 * Writes readings down, all or none. Each is questioned against the engine's earlier readings and must
 * be confirmed with a reason when in doubt; a figure already in the book for that day is left alone.
 *
 * @param path where the readings stand in what the person sent, for the faults.
 * @throws 422 with a fault for each figure; type `questioned` when all of them could be confirmed.
 */
export async function writeReadings(
  tx: Tx,
  readings: readonly NewReading[],
  how: { source: 'typed' | 'job' | 'import'; personId: number; now: Date; path: string },
): Promise<{ written: Written[]; unchanged: number }> {
  const ids = [...new Set(readings.map((r) => r.engineId))];
  if (ids.length === 0) return { written: [], unchanged: 0 };
  if (ids.length < readings.length)
    throw new HttpProblem(422, 'The same engine stands in the list twice. Keep one figure for it.');
  const engines = await lockEngines(tx, ids);
  const dayOf = (r: NewReading) => r.day ?? dayInZone(how.now, engines.get(r.engineId)?.timeZone ?? 'UTC');
  const days = [...new Set(readings.map(dayOf))];
  const earlier = new Map<string, Awaited<ReturnType<typeof recentReadings>>>();
  const later = new Map<string, Awaited<ReturnType<typeof nextReadings>>>();
  for (const day of days) {
    const those = readings.filter((r) => dayOf(r) === day).map((r) => r.engineId);
    earlier.set(day, await recentReadings(tx, those, day));
    // What is read today has nothing after it: days to come are refused below.
    const past = readings.some(
      (r) => dayOf(r) === day && day < dayInZone(how.now, engines.get(r.engineId)?.timeZone ?? 'UTC'),
    );
    if (past) later.set(day, await nextReadings(tx, those, day));
  }

  const faults: Fault[] = [];
  let questions = 0;
  let unchanged = 0;
  const rows: ReadingRow[] = [];
  const written: Written[] = [];
  readings.forEach((r, i) => {
    const engine = engines.get(r.engineId);
    const day = dayOf(r);
    const wrong = plainFault(engine, day, how.now);
    if (wrong !== null) {
      faults.push({ path: `${how.path}.${i}.count`, text: wrong });
      return;
    }
    const { meterId, offset, name } = engine!;
    const life = lifeHours(offset, r.count);
    const before = earlier.get(day)?.get(r.engineId) ?? [];
    const last = before.at(-1);
    if (last?.day === day && last.hours === life) {
      unchanged++;
      return;
    }
    const question = questionReading(before, { day, hours: life }, later.get(day)?.get(r.engineId)?.[0] ?? null);
    if (question && !r.confirm) {
      questions++;
      faults.push({ path: `${how.path}.${i}.count`, text: `${name}: ${question.text}` });
      return;
    }
    rows.push({
      engineId: r.engineId,
      meterId: meterId!,
      day,
      count: r.count,
      source: how.source,
      personId: how.personId,
      at: how.now,
      doubt: question?.doubt ?? null,
      reason: question ? r.confirm! : null,
    });
    written.push({ engineId: r.engineId, name, day, count: r.count, lifeHours: life });
  });
  if (faults.length > 0) {
    throw new HttpProblem(
      422,
      `${faults.length === 1 ? 'One figure wants' : `${faults.length} figures want`} a second look; nothing was written. ${faults[0]!.text}`,
      faults,
      questions === faults.length ? 'questioned' : 'about:blank',
    );
  }
  if (rows.length > 0) await insertReadings(tx, rows);
  return { written, unchanged };
}

function plainFault(engine: EngineMeter | undefined, day: string, now: Date): string | null {
  if (!engine) return 'This engine is not in the fleet any more.';
  if (engine.meterId === null) return `${engine.name} has no meter. Fit one on the engine’s page first.`;
  if (day > dayInZone(now, engine.timeZone)) return `${day} is still to come at the base of ${engine.name}.`;
  if (engine.fittedOn !== null && day < engine.fittedOn) {
    return `The meter of ${engine.name} was fitted on ${engine.fittedOn}; it showed nothing on ${day}.`;
  }
  return null;
}
