import { describe, expect, test } from '@jest/globals';
import { levelWantedOn, oilWatched, oilWatchText, type LastDone } from './index.ts';

// Weekly, and before a hire on engines that use oil: common practice, no source.
const read = (day: string): LastDone => ({ day, hours: null, from: 'service' });

describe('the level of an engine that uses oil', () => {
  test('is wanted a week after it was read, or at once where nobody read it', () => {
    expect(levelWantedOn(read('2026-06-01'), [], '2026-06-03')).toBe('2026-06-08');
    expect(levelWantedOn(null, [], '2026-06-03')).toBe('2026-06-03');
    // Over, not moved on: it was wanted then.
    expect(levelWantedOn(read('2026-05-01'), [], '2026-06-03')).toBe('2026-05-08');
  });
  test('and before the first hire after an outing it was not read after', () => {
    const out = (from: string, back: string) => ({ out: from, back });
    // Read after the last outing: that counts for the next hire, not for the one after.
    const hires = [
      out('2026-05-28', '2026-05-30'),
      out('2026-06-04', '2026-06-05'),
      out('2026-06-06', '2026-06-07'),
      out('2026-06-20', '2026-06-21'),
    ];
    expect(levelWantedOn(read('2026-06-01'), hires, '2026-06-03')).toBe('2026-06-06');
    // Read before it came back: wanted before it goes out again.
    expect(levelWantedOn(read('2026-05-29'), hires, '2026-06-03')).toBe('2026-06-04');
    // On the day it came back it is taken for read after.
    expect(levelWantedOn(read('2026-05-30'), hires.slice(0, 2), '2026-06-03')).toBe('2026-06-06');
    // A long hire that ends after a short one begun later still ends later.
    expect(
      levelWantedOn(
        read('2026-06-02'),
        [out('2026-05-20', '2026-06-04'), out('2026-05-21', '2026-05-22'), out('2026-06-05', '2026-06-06')],
        '2026-06-03',
      ),
    ).toBe('2026-06-05');
  });
  test('until it has held three times', () => {
    const watch = (held: number) => ({ seen: 'The oil has fallen.', held });
    expect([0, 1, 2, 3].map((n) => oilWatched(watch(n)))).toEqual([true, true, true, false]);
    expect(oilWatchText(watch(0))).toBe(
      'The oil has fallen. It is read every week and before each hire, until it has held 3 times.',
    );
    expect(oilWatchText(watch(2))).toMatch(/until it has held once more\.$/);
  });
});
