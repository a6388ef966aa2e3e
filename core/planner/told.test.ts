import { describe, expect, test } from '@jest/globals';
import { planProblem } from '@diurna/demo/plan-problems';
import { Board, pricePlan, type PlanProblem } from './index.ts';
import { planned } from './test/planned.ts';
import { smallProblem } from './test/small-problem.ts';

describe('what is left out is told truly', () => {
  const reasons = (problem: PlanProblem) => planned(problem).unplanned.map((u) => u.reasons.join(' '));
  test('a job longer than any gap', () => {
    const [why] = reasons(
      smallProblem({
        boats: [{ id: 'tern', free: [[{ from: 420, to: 600, idleCost: 0 }], []] }],
        tasks: [{ id: 'big', boat: 'tern', handsOn: 300 }],
      }),
    );
    expect(why).toContain('It takes 5 h 25; the longest gap within anybody’s hours is 2 h 00, on day 0.');
  });
  test('a skill nobody has', () => {
    expect(reasons(smallProblem({ tasks: [{ id: 'pump', boat: 'tern', skills: ['lower unit'] }] }))[0]).toContain(
      'Nobody has lower unit.',
    );
  });
  test('a skill only somebody has who is away', () => {
    const problem = smallProblem({
      technicians: [{ id: 'ines' }, { id: 'tomasz', skills: ['lower unit'], shift: [null, null] }],
      tasks: [{ id: 'pump', boat: 'tern', skills: ['lower unit'] }],
    });
    expect(reasons(problem)[0]).toContain('Only tomasz has lower unit, and not on a day when the boat is at base.');
  });
  test('a part without supply', () => {
    expect(
      reasons(
        smallProblem({
          tasks: [{ id: 'pump', boat: 'tern', parts: { kit: 1 } }],
          parts: [{ id: 'kit', supply: [0, 0] }],
        }),
      )[0],
    ).toContain('kit has no supply within this plan.');
  });
  test('a boat that is out', () => {
    expect(
      reasons(smallProblem({ boats: [{ id: 'tern', free: [[], []] }], tasks: [{ id: 'oil', boat: 'tern' }] }))[0],
    ).toContain('The boat is out on every day on which it is allowed.');
  });
  test('never allowed', () => {
    expect(reasons(smallProblem({ tasks: [{ id: 'oil', boat: 'tern', dayCost: [null, null] }] }))[0]).toBe(
      'It is not allowed on any day of this plan.',
    );
  });
  test('dearer than leaving it, with the figures', () => {
    expect(reasons(smallProblem({ tasks: [{ id: 'oil', boat: 'tern', dayCost: [50, 90], skipCost: 20 }] }))[0]).toBe(
      'Leaving it costs 20. The cheapest place, on day 0 with ines, would cost 85 more than that.',
    );
  });
  test('what would free it is priced: a kit today, another pair of hands', () => {
    const problem = smallProblem({
      tasks: [{ id: 'pump', boat: 'tern', parts: { kit: 1 } }],
      parts: [{ id: 'kit', supply: [0, 0] }],
    });
    const [why] = new Board(problem, []).whyLeft(['pump']);
    // 200 saved, 55 minutes of work at 60 an hour paid.
    expect(why!.frees).toMatchObject([{ relief: 'parts today', change: -145 }]);
    const skill = smallProblem({ tasks: [{ id: 'pump', boat: 'tern', skills: ['lower unit'] }] });
    expect(new Board(skill, []).whyLeft(['pump'])[0]!.frees).toMatchObject([
      { relief: 'lent technician', technician: null, change: -145 },
    ]);
  });
});

describe('the board', () => {
  const problem = planProblem(4, 10, 14);
  const visits = planned(problem, 300).visits;
  test('what a move is said to cost is what the evaluator finds, and asking changes nothing', () => {
    const before = pricePlan(problem, { visits }).cost.total;
    for (const v of visits.slice(0, 6)) {
      const board = new Board(problem, visits);
      const picked = { boat: v.boat, from: { day: v.day }, tasks: v.tasks };
      const offers = board.offers(picked);
      expect(board.cost().total).toBeCloseTo(before, 6);
      expect(offers).toHaveLength(problem.days * problem.technicians.length);
      for (const o of offers.filter((x) => x.change !== null)) expect(o.why).toEqual([]);
      for (const o of offers.filter((x) => x.change !== null).slice(0, 8)) {
        const moved = new Board(problem, visits);
        expect(moved.move(picked, o.day, o.technician)).toBe(true);
        const after = pricePlan(problem, { visits: moved.visits() });
        expect(after.faults).toEqual([]);
        expect(after.cost.total - before).toBeCloseTo(o.change!, 4);
      }
      for (const o of offers.filter((x) => x.change === null).slice(0, 8)) {
        expect(o.why.length).toBeGreaterThan(0);
        expect(new Set(o.why.map((h) => `${h.obstacle} ${h.at ?? ''}`)).size).toBe(o.why.length);
        expect(new Board(problem, visits).move(picked, o.day, o.technician)).toBe(false);
      }
    }
  });
  test('all that is against a place is told, not the first alone: taken away one by one, the next stays', () => {
    const task = {
      id: 'seals',
      boat: 'tern',
      skills: ['lower unit'],
      parts: { kit: 2 },
      handsOn: 300,
      needsLift: true,
    };
    const people = (skills: string[]) => [{ id: 'ines', skills }];
    const kit = (n: number) => [{ id: 'kit', supply: [n, 0] }];
    const whole = { technicians: people([]), parts: kit(1), lifts: [0, 0] };
    const gap = [{ id: 'tern', free: [[{ from: 480, to: 600, idleCost: 0 }], []] }];
    const against = (of: Parameters<typeof smallProblem>[0]) =>
      new Board(smallProblem({ tasks: [task], ...of }), [])
        .offers({ boat: 'tern', from: null, tasks: ['seals'] })
        .map((o) => o.why.map((h) => h.obstacle));
    expect(against({ ...whole, boats: gap })).toEqual([
      ['no skill', 'gap too short', 'no part', 'no lift'],
      // Where she is out nobody asks how long she is there.
      ['boat out', 'no skill', 'no part', 'no lift'],
    ]);
    expect(against(whole)[0]).toEqual(['no skill', 'no part', 'no lift']);
    expect(against({ ...whole, technicians: people(['lower unit']) })[0]).toEqual(['no part', 'no lift']);
    expect(against({ technicians: people(['lower unit']), parts: kit(2), lifts: [0, 0] })[0]).toEqual(['no lift']);
    expect(against({ technicians: people(['lower unit']), parts: kit(2) })[0]).toEqual([]);
  });
  test('beside what stands the day is full, and that is told with the rest', () => {
    const problem = smallProblem({
      boats: [{ id: 'tern' }, { id: 'knot' }],
      tasks: [
        { id: 'long', boat: 'tern', handsOn: 300 },
        { id: 'big', boat: 'knot', handsOn: 300, parts: { kit: 1 } },
      ],
      parts: [{ id: 'kit', supply: [0, 0] }],
    });
    const visits = [{ boat: 'tern', day: 0, technician: 'ines', start: 480, elapsed: 325, tasks: ['long'] }];
    const [first] = new Board(problem, visits).offers({ boat: 'knot', from: null, tasks: ['big'] });
    expect(first!.why.map((h) => h.obstacle)).toEqual(['no part', 'person busy']);
  });
  test('a visit is taken apart and put together again', () => {
    const two = smallProblem({
      tasks: [
        { id: 'oil', boat: 'tern' },
        { id: 'plugs', boat: 'tern' },
      ],
    });
    const board = new Board(two, planned(two).visits);
    const [v] = board.visits();
    expect(board.move({ boat: 'tern', from: { day: v!.day }, tasks: ['oil'] }, 1 - v!.day, 'ines')).toBe(true);
    expect(board.visits().map((x) => x.tasks)).toEqual(v!.day === 0 ? [['plugs'], ['oil']] : [['oil'], ['plugs']]);
    expect(
      board.offers({ boat: 'tern', from: { day: 1 - v!.day }, tasks: ['oil'] }).find((o) => o.day === v!.day),
    ).toMatchObject({ joins: true });
    expect(board.move({ boat: 'tern', from: { day: 1 - v!.day }, tasks: ['oil'] }, v!.day, 'ines')).toBe(true);
    expect(board.visits()).toMatchObject([{ tasks: ['plugs', 'oil'], elapsed: 85 }]);
  });
  test('why here: the next best day and what it would cost more', () => {
    const late = smallProblem({ tasks: [{ id: 'oil', boat: 'tern', dayCost: [2, 30] }] });
    const why = new Board(late, planned(late).visits).why('tern', 0)!;
    expect(why.otherDay).toMatchObject({ day: 1, technician: 'ines', change: { total: 28, day: 28 } });
    expect(why.left.total).toBeCloseTo(200 - 2 - 55, 9);
  });
});
