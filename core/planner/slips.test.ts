import { describe, expect, test } from '@jest/globals';
import { Planner, problemFaults, slipped, whatIf } from './index.ts';
import { smallProblem } from './test/small-problem.ts';
import { visit } from './test/visit.ts';

describe('when a day slips', () => {
  const problem = smallProblem({
    boats: [{ id: 'tern' }, { id: 'skua' }],
    technicians: [{ id: 'ines' }, { id: 'reva' }],
    tasks: [
      { id: 'tern oil', boat: 'tern', parts: { kit: 1 } },
      { id: 'skua oil', boat: 'skua' },
    ],
    parts: [{ id: 'kit', supply: [1, 0] }],
  });
  const standing = [visit('tern', 0), visit('skua', 1)];
  test('the day after stays where it is', () => {
    expect(slipped(problem, standing, []).problem.pinned).toEqual([
      { boat: 'skua', day: 1, technician: 'ines', tasks: ['skua oil'] },
    ]);
  });
  test('a later visit that cannot stand is not pinned, or nothing could be arranged at all', () => {
    const out = {
      ...problem,
      boats: problem.boats.map((b) => (b.id === 'skua' ? { ...b, free: [b.free[0]!, []] } : b)),
    };
    const now = slipped(out, standing, []);
    expect(now.problem.pinned).toEqual([]);
    expect(() => new Planner(now.problem, { standing: now.standing })).not.toThrow();
  });
  test('only work of the plan is arranged: what stood on no card waits for the next plan', () => {
    expect(slipped(problem, [standing[1]!], []).problem.tasks.map((t) => t.id)).toEqual(['skua oil']);
  });
  test('who is away has no shift; a late boat comes into its gap later; a missing part comes later', () => {
    expect(
      slipped(problem, standing, [{ kind: 'person away', technician: 'ines' }]).problem.technicians[0]!.shift,
    ).toEqual([null, { from: 480, to: 960 }]);
    expect(
      slipped(problem, standing, [{ kind: 'boat late', boat: 'tern', back: 700 }]).problem.boats[0]!.free[0],
    ).toEqual([{ from: 700, to: 1140, idleCost: 0 }]);
    expect(
      slipped(problem, standing, [{ kind: 'part missing', part: 'kit', untilDay: 1 }]).problem.parts[0]!.supply,
    ).toEqual([0, 1]);
  });
  test('a job that takes longer keeps its person and boat until it is done', () => {
    const now = slipped(problem, standing, [{ kind: 'job late', boat: 'tern', until: 800 }]);
    expect(now.underWay).toEqual([standing[0]]);
    expect(now.problem.tasks.map((t) => t.id)).toEqual(['skua oil']);
    expect(now.problem.technicians[0]!.shift[0]).toEqual({ from: 800, to: 960 });
  });
});

describe('what if', () => {
  const problem = smallProblem({ tasks: [{ id: 'oil', boat: 'tern' }], parts: [{ id: 'kit', supply: [2, 3] }] });
  test('every change leaves a whole problem, and the given one as it was', () => {
    const before = JSON.stringify(problem);
    for (const change of [
      { kind: 'technician', base: 'quay' },
      { kind: 'technician', base: 'mole' },
      { kind: 'lift out', base: 'quay', day: 0, days: 7 },
      { kind: 'late delivery', part: 'kit', days: 1 },
      { kind: 'cancelled hire', boat: 'tern', days: [0, 1], from: 420, to: 1140 },
      { kind: 'boat added', like: 'tern' },
    ] as const) {
      expect(
        problemFaults(
          whatIf(problem, {
            ...change,
            ...('days' in change && Array.isArray(change.days) ? { days: [...change.days] } : {}),
          } as Parameters<typeof whatIf>[1]),
        ),
      ).toEqual([]);
    }
    expect(JSON.stringify(problem)).toBe(before);
    expect(whatIf(problem, { kind: 'late delivery', part: 'kit', days: 1 }).parts[0]!.supply).toEqual([2, 0]);
    expect(whatIf(problem, { kind: 'lift out', base: 'quay', day: 1, days: 1 }).bases[0]!.liftSlots).toEqual([1, 0]);
  });
});
