import { describe, expect, test } from '@jest/globals';
import jstat from 'jstat';
import { addDays } from '../calendar/index.ts';
import type { LastDone } from '../service/index.ts';
import { countsFrom, doneOn, paceOf } from './index.ts';

const OFF = { closes: '2026-10-31', opens: '2027-04-01', name: '2026/27' };
const done = (day: string): LastDone => ({ day, hours: 100, from: 'service' });

describe('what counts as this season’s work', () => {
  test('oil from some weeks before the closing on; what comes after the last hire only from its end on', () => {
    const from = countsFrom(OFF, '2026-10-25');
    const of = (visit: 'before' | 'after' | 'spring', day: string) =>
      doneOn({ visit, task: 'gear-lube' }, new Map([['gear-lube', done(day)]]), from);
    expect(of('before', '2026-10-01')).toBe('2026-10-01');
    expect(of('before', '2026-09-01')).toBeNull();
    expect(of('after', '2026-10-20')).toBeNull();
    expect(of('after', '2026-10-25')).toBe('2026-10-25');
    expect(of('spring', '2026-11-20')).toBeNull();
    expect(of('spring', '2027-03-10')).toBe('2027-03-10');
    expect(doneOn({ visit: 'after', task: 'flush' }, new Map(), from)).toBeNull();
  });
  test('without a hire left, from the weeks before the closing on', () => {
    expect(countsFrom(OFF, null)).toEqual({ before: '2026-09-26', after: '2026-09-26', spring: '2027-02-18' });
    expect(countsFrom(OFF, '2026-06-01').after).toBe('2026-09-26');
  });
});

describe('the pace', () => {
  const days = (n: number, from: string, every: number) =>
    Array.from({ length: n }, (_, i) => addDays(from, i * every));
  test('what is left against the weeks left, and against the weeks behind', () => {
    // Eight boats in four weeks to a day, twelve left, three weeks to go.
    const pace = paceOf(20, days(8, '2026-10-18', 3), '2026-09-26', '2026-12-05', '2026-11-14');
    expect(pace.left).toBe(12);
    expect(pace.needed).toBeCloseTo(4, 6);
    expect(pace.reached).toBeCloseTo(2, 1);
    expect(pace.finish!.likely > '2026-12-05').toBe(true);
    expect(pace.finish!.early < pace.finish!.likely && pace.finish!.likely < pace.finish!.late).toBe(true);
  });
  test('nothing done tells nothing; all done is done on the last day', () => {
    expect(paceOf(20, [], '2026-09-26', '2026-12-05', '2026-11-14')).toMatchObject({ reached: null, finish: null });
    const over = paceOf(3, ['2026-11-10', '2026-11-02', '2026-11-05'], '2026-09-26', '2026-12-05', '2026-11-14');
    expect(over).toMatchObject({ left: 0, needed: 0, finish: { late: '2026-11-10' } });
  });
  test('its spread is that of two gammas, as a statistics package draws it', () => {
    // Ratio of Gamma(left) to Gamma(done) is left/done times F(2 left, 2 done).
    for (const [left, n] of [
      [12, 8],
      [40, 10],
      [100, 30],
    ] as const) {
      const pace = paceOf(left + n, days(n, '2026-10-18', 0), '2026-09-26', '2026-12-05', '2026-11-14');
      const weeks = (day: string) => (Date.parse(day) - Date.parse('2026-11-14')) / (7 * 86_400_000);
      const span = 28 / 7;
      const exact = (p: number) => (span * left * jstat.centralF.inv(p, 2 * left, 2 * n)) / n;
      expect(Math.abs(weeks(pace.finish!.early) / exact(0.1) - 1)).toBeLessThan(0.12);
      expect(Math.abs(weeks(pace.finish!.late) / exact(0.9) - 1)).toBeLessThan(0.12);
    }
  });
});
