import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergePlans, planChanges } from './index.ts';
import { visit } from './test/visit.ts';

describe('plans of two people', () => {
  const before = [visit('tern', 0), visit('skua', 1), visit('auk', 2)];
  test('what one changed is taken from that one', () => {
    const mine = [visit('tern', 3), visit('skua', 1), visit('auk', 2)];
    const theirs = [visit('tern', 0), visit('skua', 4), visit('auk', 2)];
    const { visits, conflicts } = mergePlans(before, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(visits.map((v) => [v.boat, v.day])).toEqual([
      ['tern', 3],
      ['skua', 4],
      ['auk', 2],
    ]);
  });
  test('what both changed differently is told, and stands as theirs', () => {
    const { visits, conflicts } = mergePlans(before, [visit('tern', 3)], [visit('tern', 5), visit('skua', 1)]);
    expect(conflicts).toMatchObject([{ boat: 'tern' }]);
    expect(visits.find((v) => v.boat === 'tern')!.day).toBe(5);
  });
  test('nothing is lost whatever they do', () => {
    const plans = fc
      .uniqueArray(fc.record({ boat: fc.constantFrom('tern', 'skua', 'auk'), day: fc.nat(3) }), {
        selector: (v) => v.boat,
      })
      .map((list) => list.map((v) => visit(v.boat, v.day)));
    fc.assert(
      fc.property(plans, plans, plans, (base, mine, theirs) => {
        const { visits, conflicts } = mergePlans(base, mine, theirs);
        for (const v of theirs)
          if (!mine.some((m) => m.boat === v.boat) && !base.some((b) => b.boat === v.boat))
            expect(visits).toContainEqual(v);
        for (const v of mine)
          if (!theirs.some((m) => m.boat === v.boat) && !base.some((b) => b.boat === v.boat))
            expect(visits).toContainEqual(v);
        expect(new Set(conflicts.map((c) => c.boat)).size).toBe(conflicts.length);
      }),
    );
  });
  test('changes between plans: new, gone, moved, changed', () => {
    const after = [visit('tern', 1), visit('skua', 1, 'ines', ['skua oil', 'skua plugs']), visit('dunlin', 0)];
    expect(planChanges(before, after).map((c) => [c.boat, c.kind])).toEqual([
      ['dunlin', 'new'],
      ['tern', 'moved'],
      ['skua', 'changed'],
      ['auk', 'gone'],
    ]);
  });
});
