import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { coverTogether, type WantedService } from './index.ts';

const service = (wanted: number, needs: Record<number, number>): WantedService => ({
  wanted,
  needs: new Map(Object.entries(needs).map(([p, q]) => [Number(p), q])),
});

/** The most of all choices, by trying each. */
function every(services: readonly WantedService[], onHand: ReadonlyMap<number, number>): number {
  const go = (i: number, left: Map<number, number>): number => {
    const s = services[i];
    if (!s) return 0;
    let best = 0;
    for (let n = 0; n <= s.wanted; n++) {
      const rest = new Map(left);
      for (const [p, q] of s.needs) rest.set(p, (rest.get(p) ?? 0) - n * q);
      if ([...rest.values()].some((v) => v < 0)) break;
      best = Math.max(best, n + go(i + 1, rest));
    }
    return best;
  };
  return go(0, new Map(onHand));
}

const some = fc.record({
  services: fc.array(
    fc.record({
      wanted: fc.integer({ min: 0, max: 3 }),
      needs: fc.dictionary(fc.constantFrom('1', '2', '3', '4'), fc.integer({ min: 1, max: 5 }), { maxKeys: 3 }),
    }),
    { maxLength: 5 },
  ),
  shelf: fc.tuple(...[1, 2, 3, 4].map(() => fc.integer({ min: 0, max: 12 }))),
});

describe('what a shelf can do at once', () => {
  test('is the most of all choices, with what there is', () => {
    fc.assert(
      fc.property(some, ({ services, shelf }) => {
        const list = services.map((s) => service(s.wanted, s.needs));
        const onHand = new Map(shelf.map((n, i) => [i + 1, n]));
        const cover = coverTogether(list, onHand);
        expect(cover.exact).toBe(true);
        expect(cover.total).toBe(every(list, onHand));
        for (const [part, n] of onHand)
          expect(list.reduce((sum, s, i) => sum + (s.needs.get(part) ?? 0) * cover.done[i]!, 0)).toBeLessThanOrEqual(n);
      }),
      { numRuns: 300 },
    );
  });

  test('alone each could be done, together not: small engines first, and the part that is short is named', () => {
    // 10 L of oil: four of 2.5 L, or two of 5 L.
    const cover = coverTogether(
      [service(2, { 1: 5000, 2: 1 }), service(3, { 1: 2500, 3: 1 })],
      new Map([
        [1, 10_000],
        [2, 5],
        [3, 5],
      ]),
    );
    expect(cover).toEqual({ done: [0, 3], total: 3, short: [1], exact: true });
  });

  test('what is not scarce binds nobody; what takes nothing is always done', () => {
    expect(coverTogether([service(4, { 1: 1 }), service(2, {})], new Map([[1, 4]]))).toEqual({
      done: [4, 2],
      total: 6,
      short: [],
      exact: true,
    });
  });

  test('an empty shelf does nothing; below zero is none', () => {
    expect(coverTogether([service(2, { 1: 1 })], new Map([[1, -3]]))).toMatchObject({ done: [0], short: [1] });
  });

  test('fifty kinds that share oil and washers are still told exactly', () => {
    const list = Array.from({ length: 50 }, (_, i) =>
      service(1 + (i % 6), { 1: 500 + 137 * (i % 11), 2: 1, [10 + i]: 1 }),
    );
    const onHand = new Map<number, number>([
      [1, 60_000],
      [2, 90],
      ...list.map((_, i): [number, number] => [10 + i, i % 5]),
    ]);
    const cover = coverTogether(list, onHand);
    expect(cover.total).toBeGreaterThan(0);
    expect(cover.exact).toBe(true);
  });
});
