import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chancePast, planTaskId, planTaskOf, problemFaults, problemOf, workOn, type YardFacts } from './index.ts';

describe('from the yard to the problem', () => {
  const facts = (change: Partial<YardFacts> = {}): YardFacts => ({
    firstDay: '2026-05-11',
    days: 7,
    lateWeight: 1,
    bases: [
      {
        id: 1,
        workdays: [1, 2, 3, 4, 5],
        dayMinutes: 480,
        opensAt: 420,
        closesAt: 1140,
        rest: null,
        closed: new Set(['2026-05-14']),
        liftSlots: 2,
        liftOut: [{ first: '2026-05-12', last: '2026-05-12', slots: 0 }],
        now: null,
      },
    ],
    people: [
      {
        id: 5,
        baseId: 1,
        skills: ['lower units'],
        pace: 1,
        ratePerHour: 48,
        overtimeMinutes: 60,
        overtimeFactor: 1.5,
        shifts: [],
        exceptions: [{ kind: 'away', first: '2026-05-12', last: '2026-05-12' }],
      },
    ],
    boats: [
      {
        id: 9,
        baseId: 1,
        hires: [
          [600, 900],
          [1440 + 480, 3 * 1440 + 600],
        ],
        hireIncome: 100,
        hireChance: [0, 0, 0, 0, 0.25, 0, 0],
        engines: [{ id: 90, cylinders: 4 }],
      },
    ],
    tasks: [
      {
        engineId: 90,
        boatId: 9,
        task: 'engine-oil',
        early: 3,
        likely: 4,
        late: 6,
        over: false,
        unknown: false,
        share: 0.9,
        partsCost: 30,
        parts: [{ partId: 2, quantity: 2700 }],
      },
    ],
    parts: [{ partId: 2, baseId: 1, onHand: 1000, arrivals: [{ day: 3, quantity: 5000 }] }],
    ...change,
  });
  const problem = problemOf(facts());
  test('is whole', () => {
    expect(problemFaults(problem)).toEqual([]);
  });
  test('gaps between hires while the base is open; a free day costs the hire it may lose', () => {
    expect(problem.boats[0]!.free.slice(0, 5)).toEqual([
      [
        { from: 420, to: 600, idleCost: 0 },
        { from: 900, to: 1140, idleCost: 0 },
      ],
      [{ from: 420, to: 480, idleCost: 0 }],
      [],
      [{ from: 600, to: 1140, idleCost: 0 }],
      [{ from: 420, to: 1140, idleCost: 25 }],
    ]);
  });
  test('working days, leave, days without work, the lift', () => {
    expect(problem.technicians[0]!.shift.map((s) => s !== null)).toEqual([
      true,
      false,
      true,
      false,
      true,
      false,
      false,
    ]);
    expect(problem.bases[0]!.liftSlots).toEqual([2, 0, 2, 2, 2, 2, 2]);
    expect(problem.parts).toEqual([{ id: '2 at 1', supply: [1000, 0, 0, 5000, 0, 0, 0] }]);
  });
  test('early throws life away, late costs the risk: cheapest about when it falls due', () => {
    const { dayCost, skipCost } = problem.tasks[0]!;
    // Today a tenth of the life is left, of parts for 30 and 25 minutes at 48 an hour.
    expect(dayCost[0]).toBeCloseTo(0.1 * (30 + 20), 1);
    const cheapest = dayCost.indexOf(Math.min(...dayCost.map((c) => c!)));
    expect(cheapest).toBeGreaterThanOrEqual(2);
    expect(cheapest).toBeLessThanOrEqual(4);
    expect(skipCost).toBeGreaterThan(dayCost[6]!);
  });
  test('what is over costs more every day, twice as much at twice the weight', () => {
    const over = (lateWeight: number) =>
      problemOf(facts({ lateWeight, tasks: [{ ...facts().tasks[0]!, over: true, share: 1.2 }] })).tasks[0]!.dayCost;
    expect(over(1).slice(0, 3)).toEqual([0, 9, 18]);
    expect(over(2).slice(0, 3)).toEqual([0, 18, 36]);
  });
  test('a hard limit gives null days once it is likely passed', () => {
    const { dayCost } = problemOf(facts({ tasks: [{ ...facts().tasks[0]!, hard: true }] })).tasks[0]!;
    expect(dayCost.map((c) => c === null)).toEqual([false, false, false, false, false, true, true]);
  });
  test('nothing begins before the present hour of the first day', () => {
    const { technicians, boats } = problemOf(facts({ bases: [{ ...facts().bases[0]!, now: 700 }] }));
    expect(technicians[0]!.shift[0]).toEqual({ from: 700, to: 960 });
    expect(boats[0]!.free[0]).toEqual([{ from: 900, to: 1140, idleCost: 0 }]);
  });
  test('another base for a day, other hours on a day without work', () => {
    const { bases, people } = facts();
    const byId = new Map([...bases, { ...bases[0]!, id: 2, closed: new Set<string>() }].map((b) => [b.id, b]));
    const p = {
      ...people[0]!,
      exceptions: [
        { kind: 'base' as const, baseId: 2, first: '2026-05-13', last: '2026-05-13' },
        { kind: 'hours' as const, from: 600, to: 720, first: '2026-05-14', last: '2026-05-14' },
      ],
    };
    expect(workOn(p, byId, '2026-05-13')).toEqual({ baseId: 2, shift: { from: 480, to: 960 } });
    expect(workOn(p, byId, '2026-05-14')).toEqual({ baseId: 1, shift: { from: 600, to: 720 } });
  });
  test('chances never fall from day to day, and meet the three days', () => {
    fc.assert(
      fc.property(fc.tuple(fc.integer({ min: -5, max: 20 }), fc.nat(20), fc.nat(20)), ([early, a, b]) => {
        const spread = { early, likely: early + a, late: early + a + b, over: false, unknown: false };
        let last = 0;
        for (let d = -10; d <= 80; d++) {
          const now = chancePast(spread, d);
          expect(now).toBeGreaterThanOrEqual(last - 1e-12);
          last = now;
        }
        expect(last).toBe(1);
        if (a > 0) expect(chancePast(spread, spread.early)).toBeCloseTo(0.1, 9);
      }),
    );
  });
  test('names of tasks and back', () => {
    expect(planTaskOf(planTaskId(12, 'gear-lube'))).toEqual({ engineId: 12, task: 'gear-lube' });
  });
});
