import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  chancePast,
  dayLine,
  mergePlans,
  planChanges,
  Planner,
  planTaskId,
  planTaskOf,
  pricePlan,
  problemFaults,
  problemOf,
  slipped,
  whatIf,
  workOn,
  type PlannedVisit,
  type YardFacts,
} from './index.ts';
import { smallProblem } from './test/small-problem.ts';

const visit = (boat: string, day: number, technician = 'ines', tasks = [`${boat} oil`]): PlannedVisit => ({
  boat,
  day,
  technician,
  start: 480,
  elapsed: 55,
  tasks,
});

describe('the evaluator, by hand', () => {
  const problem = smallProblem({
    boats: [{ id: 'tern', free: [[{ from: 420, to: 600, idleCost: 12 }], []] }],
    tasks: [
      { id: 'oil', boat: 'tern', dayCost: [7, 0], wait: 20 },
      { id: 'plugs', boat: 'tern', skipCost: 33 },
    ],
  });
  const plan = { visits: [{ boat: 'tern', day: 0, technician: 'ines', start: 480, elapsed: 75, tasks: ['oil'] }] };
  test('7 for the day, 33 left out, 75 minutes at 60 an hour, 12 for the window', () => {
    // elapsed = max(15 + 10 + 30, 15 + 10 + 30 + 20) = 75.
    expect(pricePlan(problem, plan)).toEqual({
      cost: { total: 127, day: 7, skip: 33, labour: 75, overtime: 0, idle: 12 },
      faults: [],
    });
  });
  test.each([
    ['out of the window', { ...plan.visits[0]!, start: 540 }, 'in no free window'],
    ['before the shift', { ...plan.visits[0]!, start: 420 }, 'outside the hours of ines'],
    ['wrong minutes', { ...plan.visits[0]!, elapsed: 60 }, 'takes 75'],
    ['unknown boat', { ...plan.visits[0]!, boat: 'auk' }, 'no such boat'],
    ['no tasks', { ...plan.visits[0]!, tasks: [] }, 'no tasks'],
  ])('%s is a fault', (_, v, text) => {
    expect(pricePlan(problem, { visits: [v] }).faults.join(' ')).toContain(text);
  });
  test('two places at once is a fault', () => {
    const two = smallProblem({
      boats: [{ id: 'tern' }, { id: 'skua' }],
      tasks: [
        { id: 'a', boat: 'tern' },
        { id: 'b', boat: 'skua' },
      ],
    });
    const at = (boat: string, task: string, start: number) => ({
      boat,
      day: 0,
      technician: 'ines',
      start,
      elapsed: 55,
      tasks: [task],
    });
    expect(pricePlan(two, { visits: [at('tern', 'a', 480), at('skua', 'b', 500)] }).faults).toEqual([
      'ines is in two places on day 0',
    ]);
    expect(pricePlan(two, { visits: [at('tern', 'a', 480), at('skua', 'b', 535)] }).faults).toEqual([]);
  });
});

test('faults of a problem carry their path', () => {
  const problem = smallProblem({
    tasks: [{ id: 'oil', boat: 'tern', dayCost: [0], access: ['hatch'], parts: { nut: 1 } }],
    pinned: [{ boat: 'auk', day: 9, technician: 'nobody', tasks: ['oil', 'gone'] }],
  });
  const paths = problemFaults(problem).map((f) => f.path);
  expect(paths).toEqual(
    expect.arrayContaining([
      'tasks[0].dayCost',
      'tasks[0].access[0]',
      'tasks[0].parts.nut',
      'pinned[0].boat',
      'pinned[0].day',
      'pinned[0].technician',
      'pinned[0].tasks[1]',
    ]),
  );
});

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

describe('a day by the hour', () => {
  const shift = { from: 480, to: 960, hard: 1020 };
  const all = [{ from: 420, to: 1140 }];
  test('said hours stand, the others come as early as gaps allow, with a break around noon', () => {
    const line = dayLine(
      [
        { id: 'a', windows: all, minutes: 60, start: 600 },
        { id: 'b', windows: [{ from: 700, to: 900 }], minutes: 90, start: null },
        { id: 'c', windows: all, minutes: 100, start: null },
      ],
      shift,
    );
    expect(line.left).toEqual([]);
    expect(line.starts.get('a')).toBe(600);
    expect(line.starts.get('c')).toBe(480);
    const b = line.starts.get('b')!;
    expect(b).toBeGreaterThanOrEqual(700);
    expect(line.breakAt!.to - line.breakAt!.from).toBe(30);
    expect(b >= line.breakAt!.to || b + 90 <= line.breakAt!.from).toBe(true);
  });
  test('a full day has no break, and what does not fit is left', () => {
    const line = dayLine(
      [
        { id: 'a', windows: all, minutes: 500, start: 480 },
        { id: 'b', windows: all, minutes: 120, start: null },
      ],
      shift,
    );
    expect(line).toMatchObject({ breakAt: null, left: ['b'] });
  });
});

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
