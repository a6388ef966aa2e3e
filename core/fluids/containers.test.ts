import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chooseContainers, type ContainerWish } from './index.ts';

const any = (id: string, ml: number, priceMinor: number) => ({ id, ml, priceMinor, most: null });
const QUART = 946;
const OUNCE = 29.5735;

interface Judged {
  cost: number;
  left: number;
  count: number;
}

/** The best of every choice there is, by counting: what is asked for in the order it is asked for. */
function bestOfAll({ needMl, open, sizes }: ContainerWish): Judged | null {
  const opened = open.reduce((sum, o) => sum + o.leftMl, 0);
  const rest = Math.max(0, needMl - opened);
  const go = (i: number, taken: number, cost: number, count: number): Judged[] => {
    const size = sizes[i];
    if (!size) return taken < rest ? [] : [{ cost, left: opened + taken - needMl, count }];
    const most = Math.min(size.most ?? Infinity, Math.ceil(rest / size.ml));
    return Array.from({ length: most + 1 }, (_, n) =>
      go(i + 1, taken + n * size.ml, cost + n * size.priceMinor, count + n),
    ).flat();
  };
  return go(0, 0, 0, 0).sort((a, b) => a.cost - b.cost || a.left - b.left || a.count - b.count)[0] ?? null;
}

const wish = fc.record({
  needMl: fc.integer({ min: 0, max: 4000 }),
  open: fc
    .array(fc.integer({ min: 0, max: 900 }), { maxLength: 3 })
    .map((list) => list.map((leftMl, i) => ({ id: `open ${i}`, leftMl }))),
  sizes: fc
    .array(
      fc.record({
        ml: fc.constantFrom(236, 250, 400, 473, 946, 1000, 3785),
        priceMinor: fc.integer({ min: 0, max: 40 }).map((n) => n * 50),
        most: fc.option(fc.integer({ min: 0, max: 4 })),
      }),
      { maxLength: 4 },
    )
    .map((list) => list.map((s, i) => ({ ...s, id: `size ${i}` }))),
});

describe('containers for a need', () => {
  test('cost, left over and number are those of the best of all choices', () => {
    fc.assert(
      fc.property(wish, (asked) => {
        const best = bestOfAll(asked);
        const chosen = chooseContainers(asked);
        expect(
          chosen && {
            cost: chosen.costMinor,
            left: Math.round(chosen.leftMl * 1e6) / 1e6,
            count: chosen.take.reduce((sum, t) => sum + t.count, 0),
          },
        ).toEqual(best);
      }),
      { numRuns: 400 },
    );
  });

  test('what is poured and taken covers the need; open ones are empty before a new one is opened', () => {
    fc.assert(
      fc.property(wish, (asked) => {
        const chosen = chooseContainers(asked);
        if (chosen === null) return;
        const poured = chosen.pour.reduce((sum, p) => sum + p.ml, 0);
        const opened = asked.open.reduce((sum, o) => sum + o.leftMl, 0);
        const sizeOf = new Map(asked.sizes.map((s) => [s.id, s]));
        const taken = chosen.take.reduce((sum, t) => sum + t.count * sizeOf.get(t.id)!.ml, 0);
        expect(poured).toBeCloseTo(Math.min(opened, asked.needMl), 6);
        expect(poured + taken).toBeGreaterThanOrEqual(asked.needMl - 1e-6);
        if (chosen.take.length > 0) expect(poured).toBeCloseTo(opened, 6);
        expect(chosen.leftMl).toBeCloseTo(opened + taken - asked.needMl, 6);
        for (const p of chosen.pour)
          expect(p.ml).toBeLessThanOrEqual(asked.open.find((o) => o.id === p.id)!.leftMl + 1e-9);
      }),
    );
  });

  // Common practice, no source; 1 US qt = 946.353 mL, 1 US fl oz = 29.5735 mL (NIST SP 811, from memory).
  test('4.8 qt takes a four-quart jug and a quart', () => {
    const sizes = [any('quart', QUART, 900), any('jug', 4 * QUART, 3000)];
    expect(chooseContainers({ needMl: 4.8 * QUART, open: [], sizes })).toMatchObject({
      take: [
        { id: 'quart', count: 1 },
        { id: 'jug', count: 1 },
      ],
      costMinor: 3900,
    });
  });

  test('twins of 4.8 qt take ten quarts together, and 0.4 of one is left', () => {
    const chosen = chooseContainers({ needMl: 9.6 * QUART, open: [], sizes: [any('quart', QUART, 900)] })!;
    expect(chosen.take).toEqual([{ id: 'quart', count: 10 }]);
    expect(chosen.leftMl / QUART).toBeCloseTo(0.4, 6);
  });

  test('three quarts are 0.16 L short of 3.0 L: no choice when there are no more', () => {
    expect(3000 - 3 * 946.353).toBeCloseTo(160.9, 1);
    expect(
      chooseContainers({ needMl: 3000, open: [], sizes: [{ id: 'quart', ml: 946.353, priceMinor: 900, most: 3 }] }),
    ).toBeNull();
  });

  test('1.9 qt leaves 95 mL of two', () => {
    const chosen = chooseContainers({ needMl: 1.9 * 946.353, open: [], sizes: [any('quart', 946.353, 900)] })!;
    expect(chosen.take).toEqual([{ id: 'quart', count: 2 }]);
    expect(Math.round(chosen.leftMl)).toBe(95);
  });

  test('0.35 L twice comes from one bottle: the second is poured from the first’s', () => {
    const sizes = [any('litre', 1000, 1100)];
    const first = chooseContainers({ needMl: 350, open: [], sizes })!;
    expect(first).toEqual({ pour: [], take: [{ id: 'litre', count: 1 }], costMinor: 1100, leftMl: 650 });
    expect(chooseContainers({ needMl: 350, open: [{ id: 'open litre', leftMl: 650 }], sizes })).toEqual({
      pour: [{ id: 'open litre', ml: 350 }],
      take: [],
      costMinor: 0,
      leftMl: 300,
    });
  });

  test('32 fl oz is two tubes of 16 oz, or four of 8 where those cost less', () => {
    const tubes = (price8: number) => [any('8 oz', 8 * OUNCE, price8), any('16 oz', 16 * OUNCE, 900)];
    const need = { needMl: 32 * OUNCE, open: [] };
    expect(chooseContainers({ ...need, sizes: tubes(500) })!.take).toEqual([{ id: '16 oz', count: 2 }]);
    expect(chooseContainers({ ...need, sizes: tubes(440) })!.take).toEqual([{ id: '8 oz', count: 4 }]);
    // As dear: fewer containers.
    expect(chooseContainers({ ...need, sizes: tubes(450) })!.take).toEqual([{ id: '16 oz', count: 2 }]);
  });

  test('oil of a whole campaign, in drums, cans and bottles of nearly one price, is chosen as well', () => {
    const sizes = [
      any('drum', 208_000, 187_100),
      any('can', 20_000, 18_050),
      any('jug', 4000, 3630),
      any('litre', 1000, 912),
    ];
    const chosen = chooseContainers({ needMl: 5_601_300, open: [{ id: 'drum 7', leftMl: 12_700 }], sizes })!;
    // 26 drums, nine cans: the next can would be more than the jug of the rest.
    expect(chosen.leftMl).toBeLessThan(4000);
    const cost = chosen.take.reduce((sum, t) => sum + t.count * sizes.find((s) => s.id === t.id)!.priceMinor, 0);
    expect(chosen.costMinor).toBe(cost);
    expect(chosen.costMinor).toBeLessThan(5_588_600 * (187_100 / 208_000) + 3630);
  });

  test.each([
    [{ needMl: -1, open: [], sizes: [] }, 'The need is -1'],
    [{ needMl: 1, open: [{ id: 'a', leftMl: NaN }], sizes: [] }, 'What is left in a is NaN'],
    [{ needMl: 1, open: [], sizes: [any('b', 0, 1)] }, 'b holds 0 mL'],
    [{ needMl: 1, open: [], sizes: [{ ...any('b', 1, 1), most: 1.5 }] }, 'Of b there are 1.5'],
    [{ needMl: 1, open: [], sizes: [any('b', 1, 1), any('b', 2, 1)] }, 'b stands twice'],
  ])('what is no quantity is refused in words', (asked, words) => {
    expect(() => chooseContainers(asked)).toThrow(words);
  });
});
