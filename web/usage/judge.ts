import type { HoursRow } from '@diurna/contract/usage';
import type { Day } from '@diurna/core/calendar';
import { round } from '@diurna/core/units';
import { lifeHours, questionReading, type Question } from '@diurna/core/usage';

/** What a person has typed for an engine, and why a questioned figure is right. */
export interface Typed {
  count: string;
  reason: string;
}
export type Sheet = Record<number, Typed>;

export interface Reading {
  engineId: number;
  count: number;
  confirm?: string;
}

/** The figure typed, with a point or a comma; null when it is none. */
export function parseCount(text: string): number | null {
  const clean = text.trim().replace(',', '.');
  if (!/^\d{1,5}(\.\d)?$/.test(clean)) return null;
  return Number(clean);
}

/** The state of one line: nothing typed, no figure, questioned, or good. */
export function judge(
  row: HoursRow,
  typed: Typed | undefined,
  day: Day,
): { state: 'empty' | 'bad' | 'question' | 'good'; text: string; question: Question | null } {
  if (!typed || typed.count.trim() === '') return { state: 'empty', text: '', question: null };
  const count = parseCount(typed.count);
  if (count === null) return { state: 'bad', text: 'Figures only, one decimal: 418.9', question: null };
  const question = questionReading(
    row.recent.filter((r) => r.day <= day),
    { day, hours: lifeHours(row.meterOffset, count) },
    row.recent.find((r) => r.day > day) ?? null,
  );
  if (question) return { state: 'question', text: question.text, question };
  const rise = row.lastCount === null ? null : round(count - row.lastCount, 1);
  return { state: 'good', text: rise === null ? 'first reading' : `+${rise} h`, question: null };
}

/** The readings a sheet holds, once every figure on it is good or has its reason. */
export function readingsOf(rows: HoursRow[], sheet: Sheet, day: Day): { readings: Reading[]; open: number } {
  let open = 0;
  const readings: Reading[] = [];
  for (const row of rows) {
    const typed = sheet[row.engineId];
    const verdict = judge(row, typed, day);
    if (verdict.state === 'bad' || (verdict.state === 'question' && typed!.reason.trim().length < 3)) open++;
    else if (verdict.state !== 'empty') {
      readings.push({
        engineId: row.engineId,
        count: parseCount(typed!.count)!,
        ...(verdict.question && { confirm: typed!.reason.trim() }),
      });
    }
  }
  return { readings, open };
}
