import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bunches, glyphFor, covers, tails, type Mark } from './marks.ts';

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
  test('what is over stands at today although work is handed out there, and whatever else joins it', () => {
    const over = mark(null, { state: 'over', early: null });
    const [alone, ...none] = bunches([over], scale, [2.5]);
    expect(none).toEqual([]);
    expect(alone!.x).toBe(2.4);
    expect(covers(alone!, 2.5, scale)).toBe(true);
    expect(covers(alone!, 9.5, scale)).toBe(false);
    // Joined by what falls due the day after, it begins no later than today.
    const [both] = bunches([over, mark(3)], scale, [2.5]);
    expect(both!.marks).toHaveLength(2);
    expect(both!.x).toBeCloseTo(2.4, 6);
    // What only falls due makes room as before.
    expect(covers(bunches([mark(10)], scale, [10.5])[0]!, 10.5, scale)).toBe(false);
  });
  test('no mark is lost, no bunch covers the next, none is cut off at the left', () => {
    const some = fc.array(fc.record({ day: fc.integer({ min: 0, max: 41 }), over: fc.boolean() }), { maxLength: 14 });
    fc.assert(
      fc.property(some, fc.array(fc.integer({ min: 2, max: 20 }), { maxLength: 2 }), (all, handed) => {
        const found = bunches(
          all.map(({ day, over }) => mark(day, over ? { state: 'over' } : {})),
          scale,
          handed.map((day) => day + 0.5),
        );
        expect(found.flatMap((b) => b.marks)).toHaveLength(all.length);
        const edge = (b: (typeof found)[number], side: 1 | -1) =>
          b.x * scale.pixelsPerDay + (side * (b.marks.length * scale.glyph)) / 2;
        found.forEach((b, i) => {
          expect(edge(b, -1)).toBeGreaterThan(i === 0 ? -0.01 : edge(found[i - 1]!, 1) - 0.01);
          // What is over begins at today or before it.
          if (b.marks.some((m) => m.state === 'over'))
            expect(edge(b, -1)).toBeLessThanOrEqual(scale.today * scale.pixelsPerDay);
        });
      }),
      { numRuns: 2000 },
    );
  });
  test('so many marks on so narrow a chart grow narrower, and none is cut off at the right', () => {
    expect(glyphFor(4, 300)).toBe(22);
    expect(glyphFor(17, 300)).toBe(17);
    // Before the chart is measured they are as wide as they are.
    expect(glyphFor(17, 0)).toBe(22);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 290, max: 700 }), (marks, width) => {
        const own = { days: 42, today: 2.4, pixelsPerDay: width / 42, glyph: glyphFor(marks, width) };
        const all = Array.from({ length: marks }, (_, i) => mark(2, i % 2 ? { state: 'over' } : {}));
        for (const b of bunches(all, own))
          expect(b.x * own.pixelsPerDay + (b.marks.length * own.glyph) / 2).toBeLessThanOrEqual(width + 0.01);
      }),
    );
  });
});
