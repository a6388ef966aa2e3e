import { describe, expect, test } from '@jest/globals';
import type { HoursRow } from '@diurna/contract/usage';
import { judge, parseCount, readingsOf } from './judge.ts';

const row = (engineId: number, more: Partial<HoursRow> = {}): HoursRow => ({
  engineId,
  boatId: 1,
  boatName: 'Turnstone',
  baseId: 1,
  position: 'port',
  modelName: 'Corvane 60',
  meterId: 1,
  meterOffset: 0,
  lastCount: 120,
  lastDay: '2026-04-08',
  daysSince: 7,
  recent: [
    { day: '2026-04-01', hours: 112 },
    { day: '2026-04-08', hours: 120 },
  ],
  ...more,
});
const typed = (count: string, reason = '') => ({ count, reason });

describe('a figure typed on the sheet', () => {
  test.each([
    ['418.9', 418.9],
    ['418,9', 418.9],
    [' 7 ', 7],
    ['4 18', null],
    ['1e3', null],
    ['-3', null],
    ['12.34', null],
    ['', null],
    ['100000', null],
  ])('%p reads as %p', (text, value) => {
    expect(parseCount(text)).toBe(value);
  });
  test('good, bad, questioned, empty', () => {
    expect(judge(row(1), typed('126.5'), '2026-04-15')).toMatchObject({ state: 'good', text: '+6.5 h' });
    expect(judge(row(1), typed('x'), '2026-04-15').state).toBe('bad');
    expect(judge(row(1), typed('119'), '2026-04-15')).toMatchObject({
      state: 'question',
      question: { doubt: 'lower' },
    });
    expect(judge(row(1), undefined, '2026-04-15').state).toBe('empty');
    expect(judge(row(1, { lastCount: null, recent: [] }), typed('900'), '2026-04-15').text).toBe('first reading');
  });
  test('the meter’s own count is typed, life hours are questioned', () => {
    const swapped = row(1, { meterOffset: 100, lastCount: 20 });
    expect(judge(swapped, typed('26'), '2026-04-15')).toMatchObject({ state: 'good', text: '+6 h' });
    expect(judge(swapped, typed('19'), '2026-04-15').state).toBe('question');
  });
});

test('only good figures and those with a reason are sent; the rest is counted as open', () => {
  const sheet = { 1: typed('126'), 2: typed('1'), 3: typed('2', 'new computer fitted'), 4: typed('?') };
  expect(readingsOf([row(1), row(2), row(3), row(4), row(5)], sheet, '2026-04-15')).toEqual({
    open: 2,
    readings: [
      { engineId: 1, count: 126 },
      { engineId: 3, count: 2, confirm: 'new computer fitted' },
    ],
  });
});
