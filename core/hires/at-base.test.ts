import { describe, expect, test } from '@jest/globals';
import { areIntervalsOverlapping } from 'date-fns';
import fc from 'fast-check';
import { atBase, type Span } from './index.ts';

const base = { opensAt: 420, closesAt: 1080 };
const at = (day: number, hour: number) => day + hour / 24;
const look = (hires: Span[], now: number, days = 2, shortest = 3) => atBase(hires, { now, days, base, shortest });

describe('when a boat can be worked on at its base', () => {
  test('at five in the morning, out at nine: two hours are open, which is no gap for a visit', () => {
    expect(look([[at(0, 9), at(0, 18)]], at(0, 5))).toEqual([{ from: at(0, 18), to: 2, openHours: 11 }]);
    expect(look([[at(0, 9), at(0, 18)]], at(0, 5), 2, 2)[0]).toMatchObject({ from: at(0, 5), openHours: 2 });
  });
  test('what is past is not offered: at noon the morning is gone, and a boat that is out is away until it is back', () => {
    expect(look([[at(0, 13), at(1, 17)]], at(0, 12))).toEqual([]);
    expect(look([[at(0, 9), at(0, 14)]], at(0, 12))[0]).toMatchObject({ from: at(0, 14), openHours: 4 + 11 });
  });
  test('a night between two hires is none, however long', () => {
    const hires: Span[] = [
      [at(0, 7), at(0, 18)],
      [at(1, 7), at(1, 18)],
    ];
    expect(look(hires, 0)).toEqual([]);
  });
  test('open minutes are those in which no hire runs, against date-fns minute by minute', () => {
    const hour = fc.integer({ min: 0, max: 71 });
    fc.assert(
      fc.property(fc.array(fc.tuple(hour, hour), { maxLength: 5 }), hour, (pairs, now) => {
        const hires = pairs.map(([a, b]): Span => [Math.min(a, b) / 24, Math.max(a, b) / 24]);
        const found = look(hires, now / 24, 3, 0).reduce((sum, gap) => sum + gap.openHours, 0);
        let expected = 0;
        for (let h = now; h < 72; h++) {
          const inside = h % 24 >= 7 && h % 24 < 18;
          const slot = { start: h * 3.6e6, end: (h + 1) * 3.6e6 };
          const away = hires.some(
            ([out, back]) =>
              out < back &&
              areIntervalsOverlapping(slot, {
                start: Math.round(out * 24) * 3.6e6,
                end: Math.round(back * 24) * 3.6e6,
              }),
          );
          if (inside && !away) expected++;
        }
        expect(found).toBeCloseTo(expected, 6);
      }),
    );
  });
});
