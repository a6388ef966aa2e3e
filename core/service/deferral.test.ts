import { describe, expect, test } from '@jest/globals';
import { dayNumber } from '../calendar/index.ts';
import { deferralHolds, deferredDue, dueState, nextSpring, type Deferral, type EngineUse } from './index.ts';

const put = (more: Partial<Deferral> = {}): Deferral => ({
  id: 1,
  task: 'impeller',
  until: '2026-06-01',
  spring: false,
  reason: 'Renewed last spring, few hours since',
  by: 'Ilse',
  on: '2026-04-15',
  ...more,
});
const use: EngineUse = { lifeHours: 520, lastReadDay: '2026-04-14', ahead: null };
const rule = { task: 'impeller' as const, everyHours: 200, everyMonths: 12 };
const due = (doneOn: string, hours: number, today: string) =>
  dueState(rule, { day: doneOn, hours, from: 'service' }, use, today);
const at = (today: string, of = put()) => deferredDue(due('2025-04-01', 300, today), of, dayNumber(today));

describe('work put off (common practice, no source)', () => {
  test('over by its own limits, it stands by the day it comes back, and is over after that', () => {
    expect(due('2025-04-01', 300, '2026-04-15').state).toBe('over');
    expect(at('2026-04-15')).toMatchObject({ state: 'fine', by: 'months', daysLeft: 47, limitDay: '2026-06-01' });
    expect(at('2026-04-21')).toMatchObject({ state: 'soon', daysLeft: 41 });
    expect(at('2026-05-25')).toMatchObject({ state: 'due', daysLeft: 7 });
    expect(at('2026-06-01')).toMatchObject({ state: 'due', daysLeft: 0 });
    expect(at('2026-06-02')).toMatchObject({ state: 'over', daysLeft: -1 });
  });
  test('where its own limit comes later than the day, nothing is put off', () => {
    const own = due('2026-03-01', 515, '2026-04-15');
    expect(deferredDue(own, put(), dayNumber('2026-04-15'))).toBe(own);
  });
  test('done on that day or since, it holds no more; done before, it does', () => {
    const done = (day: string) => deferralHolds(put(), { day, hours: null, from: 'service' });
    expect([done('2026-04-14'), done('2026-04-15'), done('2026-05-01')]).toEqual([true, false, false]);
    expect(deferralHolds(put(), null)).toBe(true);
    expect(deferralHolds(put(), { day: '2026-05-01', hours: 0, from: 'new' })).toBe(true);
  });
  test('spring is half a year apart in the two hemispheres, and always ahead', () => {
    expect(nextSpring('north', '2026-04-15')).toBe('2027-04-01');
    expect(nextSpring('north', '2026-11-30')).toBe('2027-04-01');
    expect(nextSpring('north', '2027-04-01')).toBe('2028-04-01');
    expect(nextSpring('south', '2026-04-15')).toBe('2026-10-01');
    expect(nextSpring('south', '2028-02-29')).toBe('2028-10-01');
  });
});
