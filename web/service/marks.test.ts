import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bunches, tails, type Mark } from './marks.ts';

const scale = { days: 42, pixelsPerDay: 18, today: 2.4, glyph: 22 };
const mark = (likely: number | null, more: Partial<Mark> = {}): Mark => ({
  task: 'engine-oil',
  state: 'fine',
  early: likely === null ? 30 : likely - 2,
  likely,
  late: likely === null ? null : likely + 3,
  text: '',
  ...more,
});

describe('marks of the chart', () => {
  test('oil and filter of one day are one bunch, with the spread of both', () => {
    const [one, ...rest] = bunches([mark(10), mark(10, { task: 'oil-filter', early: 7, late: 15 })], scale);
    expect(rest).toEqual([]);
    expect(one).toMatchObject({ x: 10.5, from: 7.5, to: 15.5, open: false });
    expect(one!.marks.map((m) => m.task)).toEqual(['engine-oil', 'oil-filter']);
  });
  test('far apart they stand alone', () => {
    expect(bunches([mark(20), mark(10)], scale).map((b) => b.x)).toEqual([10.5, 20.5]);
  });
  test('what is over, or likely passed unread, stands at today', () => {
    expect(bunches([mark(null, { state: 'over', early: null })], scale)[0]).toMatchObject({ from: 2.4, to: 2.4 });
    expect(bunches([mark(0)], scale)[0]).toMatchObject({ from: 2.4 });
    expect(bunches([mark(0)], scale)[0]!.x).toBeCloseTo(2.4, 1);
  });
  test('past the last day only the beginning of the spread is left', () => {
    expect(bunches([mark(60, { early: 38 })], scale)).toEqual([]);
    expect(tails([mark(60, { early: 38 }), mark(null)], scale)).toEqual([38.5, 30.5]);
    expect(bunches([mark(40, { late: null })], scale)[0]).toMatchObject({ to: 42, open: true });
  });
  test('work handed out is not covered: the marks move to its right', () => {
    const edge = (b: { x: number; marks: unknown[] }) => b.x - (b.marks.length * scale.glyph) / 2 / scale.pixelsPerDay;
    const found = bunches([mark(10), mark(10), mark(11)], scale, [10.5]);
    expect(found).toHaveLength(1);
    expect(edge(found[0]!)).toBeGreaterThan(10.5 + 10 / scale.pixelsPerDay);
  });
  test('no mark is lost, and no bunch covers the next', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 41 }), { maxLength: 12 }), (days) => {
        const found = bunches(
          days.map((d) => mark(d)),
          scale,
        );
        expect(found.flatMap((b) => b.marks)).toHaveLength(days.length);
        const edge = (b: (typeof found)[number], side: 1 | -1) =>
          b.x * scale.pixelsPerDay + (side * (b.marks.length * scale.glyph)) / 2;
        for (let i = 1; i < found.length; i++)
          expect(edge(found[i]!, -1)).toBeGreaterThan(edge(found[i - 1]!, 1) - 0.01);
      }),
    );
  });
});
