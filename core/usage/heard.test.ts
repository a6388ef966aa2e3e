import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { weighEngineTime, type EngineTime } from './index.ts';

const H = 3600;
const now = Date.UTC(2026, 5, 15, 12);
const at = (minutes: number, seconds: number): EngineTime => ({ at: now + minutes * 60_000, seconds });

describe('engine time from a box on the boat', () => {
  test('an hour in an hour is taken; the same again is not taken twice', () => {
    expect(weighEngineTime(at(-60, 100 * H), at(0, 101 * H), now)).toEqual({ is: 'taken', at: now, clockOff: false });
    expect(weighEngineTime(at(0, 101 * H), at(0, 101 * H), now)).toEqual({ is: 'repeated' });
  });
  test('out of order: older ones are known already', () => {
    expect(weighEngineTime(at(0, 101 * H), at(-30, 100.5 * H), now)).toEqual({ is: 'late' });
  });
  test('a week without signal is no fault', () => {
    expect(weighEngineTime(at(-7 * 1440, 100 * H), at(-1, 160 * H), now).is).toBe('taken');
  });
  test('a clock ahead, or never set, is taken as now and said', () => {
    for (const wrong of [now + 3 * 86_400_000, 0, Number.NaN])
      expect(weighEngineTime(at(-60, 100 * H), { at: wrong, seconds: 100.5 * H }, now)).toEqual({
        is: 'taken',
        at: now,
        clockOff: true,
      });
  });
  test('a reset, more hours than the clock has, and nonsense are refused in words', () => {
    expect(weighEngineTime(at(-60, 100 * H), at(0, 0), now)).toMatchObject({
      is: 'refused',
      why: expect.stringContaining('went down from 100.0 to 0.0 h'),
    });
    expect(weighEngineTime(at(-60, 100 * H), at(0, 130 * H), now)).toMatchObject({
      is: 'refused',
      why: '30.0 h more within 1.0 h by the clock',
    });
    for (const bad of [-5, 1e12, Number.NaN]) expect(weighEngineTime(null, at(0, bad), now).is).toBe('refused');
  });
  test('whatever the order and however often sent, the last word is the highest true one', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 59 }), { minLength: 1, maxLength: 40 }), (order) => {
        // The engine runs all the time; message i is sent i minutes after the start.
        const message = (i: number) => at(i - 60, 500 * H + i * 60);
        let last: EngineTime | null = null;
        let taken = 0;
        for (const i of [...order, ...order]) {
          const heard = weighEngineTime(last, message(i), now);
          expect(heard.is).not.toBe('refused');
          if (heard.is === 'taken') {
            last = { at: heard.at, seconds: message(i).seconds };
            taken++;
          }
        }
        expect(last!.seconds).toBe(500 * H + Math.max(...order) * 60);
        expect(taken).toBeLessThanOrEqual(new Set(order).size);
      }),
    );
  });
});
