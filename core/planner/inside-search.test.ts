import { describe, expect, test } from '@jest/globals';
import { planProblem } from '@diurna/demo/plan-problems';
import fc from 'fast-check';
import { BoatSolver, boatSets, elapsedOfSets, type Place } from './search/boat.ts';
import { DayPlan, EXACT_VISITS, type Slot } from './search/day.ts';
import { Draft } from './search/draft.ts';
import { seeded } from '../random/index.ts';
import { elapsedMinutes, modelOf, planByHand, Planner, pricePlan, type PlanProblem } from './index.ts';
import { elapsedOf } from './problem/model.ts';
import { isVisit, standAll, standAt } from './search/stand.ts';
import { smallProblem } from './test/small-problem.ts';

function permutations<T>(list: readonly T[]): T[][] {
  if (list.length <= 1) return [[...list]];
  return list.flatMap((item, i) =>
    permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [item, ...rest]),
  );
}

const slots = (most: number) =>
  fc
    .array(
      fc.record({
        release: fc.integer({ min: 0, max: 120 }),
        length: fc.integer({ min: 5, max: 200 }),
        minutes: fc.integer({ min: 5, max: 60 }),
      }),
      { maxLength: most },
    )
    .map((list) => list.map((s): Slot => ({ release: s.release, deadline: s.release + s.length, minutes: s.minutes })));

/** The earliest end over every order; Infinity = none keeps the windows. */
function earliestEnd(visits: readonly Slot[], from: number, hard: number): number {
  let best = Infinity;
  for (const order of permutations(visits)) {
    let at = from;
    for (const v of order) {
      at = Math.max(at, v.release) + v.minutes;
      if (at > Math.min(v.deadline, hard)) {
        at = Infinity;
        break;
      }
    }
    best = Math.min(best, at);
  }
  return best;
}

describe('a person’s day in order', () => {
  test('ends as early as the best of all orders, and its starts say how', () => {
    fc.assert(
      fc.property(slots(5), (visits) => {
        const plan = new DayPlan(visits, 10, 250);
        const best = visits.length === 0 ? 10 : earliestEnd(visits, 10, 250);
        expect(plan.end).toBe(best);
        if (best === Infinity) return;
        const timed = plan
          .starts()
          .map((start, i) => ({ start, v: plan.visits[i]! }))
          .sort((a, b) => a.start - b.start);
        let at = 10;
        for (const { start, v } of timed) {
          expect(start).toBeGreaterThanOrEqual(Math.max(at, v.release) - 1e-9);
          expect(start + v.minutes).toBeLessThanOrEqual(Math.min(v.deadline, 250) + 1e-9);
          at = start + v.minutes;
        }
      }),
      { numRuns: 300 },
    );
  });
  test('its room is the longest visit that still fits, to the minute', () => {
    fc.assert(
      fc.property(
        slots(4),
        fc.integer({ min: 0, max: 150 }),
        fc.integer({ min: 10, max: 120 }),
        (visits, from, length) => {
          const plan = new DayPlan(visits, 0, 260);
          if (plan.end === Infinity) return;
          const room = Math.floor(plan.room(from, from + length));
          const fits = (minutes: number) =>
            earliestEnd([...visits, { release: from, deadline: from + length, minutes }], 0, 260) < Infinity;
          if (room > 0) expect(fits(room)).toBe(true);
          expect(fits(Math.max(1, room + 1))).toBe(false);
        },
      ),
      { numRuns: 200 },
    );
  });
  test('more visits than are looked at in every order still keep their windows', () => {
    const many = Array.from({ length: EXACT_VISITS + 3 }, (_, i): Slot => ({
      release: i * 20,
      deadline: i * 20 + 60,
      minutes: 15,
    }));
    const plan = new DayPlan(many, 0, 1000);
    expect(plan.end).toBeLessThan(Infinity);
    plan.starts().forEach((start, i) => {
      expect(start + 15).toBeLessThanOrEqual(plan.visits[i]!.deadline);
    });
    expect(
      new DayPlan(
        many.map((s) => ({ ...s, release: 0, deadline: 60 })),
        0,
        1000,
      ).end,
    ).toBe(Infinity);
  });
});

describe('one boat planned alone', () => {
  const boat = fc
    .record({
      hands: fc.array(fc.integer({ min: 10, max: 90 }), { minLength: 1, maxLength: 4 }),
      waits: fc.array(fc.constantFrom(0, 25), { minLength: 4, maxLength: 4 }),
      costs: fc.array(fc.integer({ min: 0, max: 90 }), { minLength: 12, maxLength: 12 }),
      skips: fc.array(fc.integer({ min: 5, max: 200 }), { minLength: 4, maxLength: 4 }),
      rooms: fc.array(fc.integer({ min: 40, max: 300 }), { minLength: 3, maxLength: 3 }),
    })
    .map(({ hands, waits, costs, skips, rooms }) => ({
      rooms,
      problem: smallProblem({
        days: 3,
        tasks: hands.map((h, i) => ({
          id: `t${i}`,
          boat: 'tern',
          handsOn: h,
          wait: waits[i]!,
          access: i % 2 === 0 ? ['cowl'] : ['tilt', 'cowl'],
          dayCost: costs.slice(3 * i, 3 * i + 3),
          skipCost: skips[i]!,
        })),
      }),
    }));
  /** Every partition of the tasks into visits on different days, or left. */
  function cheapest(problem: PlanProblem, rooms: readonly number[]): number {
    const n = problem.tasks.length;
    let best = Infinity;
    for (let code = 0; code < 4 ** n; code++) {
      const days: number[] = Array.from({ length: n }, (_, i) => Math.floor(code / 4 ** i) % 4);
      let cost = 0;
      for (let d = 0; d < 4; d++) {
        const own = problem.tasks.filter((_, i) => days[i] === d);
        if (own.length === 0) continue;
        if (d === 3) cost += own.reduce((sum, t) => sum + t.skipCost, 0);
        else {
          const minutes = elapsedMinutes(problem, own, 1);
          cost += minutes > rooms[d]! ? Infinity : minutes + own.reduce((sum, t) => sum + t.dayCost[d]!, 0);
        }
      }
      best = Math.min(best, cost);
    }
    return best;
  }
  const placesOf = (rooms: readonly number[]): Place[] =>
    rooms.map((room, day) => ({
      day,
      tech: 0,
      window: 0,
      room,
      perMinute: 1,
      fixed: 0,
      knee: Infinity,
      extra: 0,
      must: 0,
    }));
  test('as cheap as the best of all partitions', () => {
    fc.assert(
      fc.property(boat, ({ problem, rooms }) => {
        const model = modelOf(problem);
        const solver = new BoatSolver(model);
        const sets = boatSets(model, model.boats[0]!.tasks);
        const places = placesOf(rooms);
        // One visit a day is the caller's to see to: here two of one day are never cheaper, because they pay the set-up
        // twice.
        const cost = solver.solve(sets, places);
        expect(cost).toBeLessThanOrEqual(cheapest(problem, rooms) + 1e-9);
        const visits = solver.visits(sets, places);
        if (new Set(visits.map((v) => v.place.day)).size === visits.length)
          expect(cost).toBeCloseTo(cheapest(problem, rooms), 9);
      }),
      { numRuns: 200 },
    );
  });
  test('what lies within a slack of the cheapest holds every visit of the cheapest', () => {
    fc.assert(
      fc.property(boat, fc.integer({ min: 0, max: 40 }), ({ problem, rooms }, slack) => {
        const model = modelOf(problem);
        const solver = new BoatSolver(model);
        const sets = boatSets(model, model.boats[0]!.tasks);
        const places = placesOf(rooms);
        solver.solve(sets, places);
        const chosen = solver.visits(sets, places).map((v) => `${v.set} ${v.place.day}`);
        const tight = new Set<string>();
        const loose = new Set<string>();
        solver.within(sets, places, {}, 1e-6, (set, k) => tight.add(`${set} ${places[k]!.day}`));
        // Sums of the same costs in another order differ by a hair: the wider slack is never below the narrow one.
        solver.within(sets, places, {}, slack + 1e-6, (set, k) => loose.add(`${set} ${places[k]!.day}`));
        for (const c of chosen) expect(tight.has(c)).toBe(true);
        for (const c of tight) expect(loose.has(c)).toBe(true);
      }),
      { numRuns: 100 },
    );
  });
  test('minutes of sets are the evaluator’s', () => {
    fc.assert(
      fc.property(boat, fc.constantFrom(0.9, 1, 1.3), ({ problem }, pace) => {
        const model = modelOf(problem);
        const sets = boatSets(model, model.boats[0]!.tasks);
        const elapsed = elapsedOfSets(model, sets, pace);
        for (let s = 1; s < elapsed.length; s++) {
          const own = problem.tasks.filter((_, i) => s & (1 << i));
          expect(elapsed[s]).toBeCloseTo(elapsedMinutes(problem, own, pace), 9);
          expect(
            elapsedOf(
              model,
              own.map((t) => problem.tasks.indexOf(t)),
              pace,
            ),
          ).toBeCloseTo(elapsed[s]!, 9);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('a draft', () => {
  test('keeps its cost while visits come and go, to the cent of the evaluator', () => {
    const problem = planProblem(6, 10, 14);
    const model = modelOf(problem);
    const draft = new Draft(model);
    const random = seeded(2);
    for (let k = 0; k < 300; k++) {
      const boat = random.whole(0, model.boats.length - 1);
      const own = draft.visits[boat]!;
      if (own.length > 0 && random.chance(0.4)) draft.remove(random.pick(own));
      else {
        const open = model.boats[boat]!.tasks.filter((i) => draft.placed[i] === null && random.chance(0.5));
        const found =
          open.length > 0
            ? standAt(draft, boat, random.whole(0, model.days - 1), random.whole(0, model.techs.length - 1), open)
            : null;
        if (found && isVisit(found)) draft.add(found);
      }
      if (k % 20 === 0) {
        const { cost, faults } = pricePlan(problem, { visits: draft.planned() });
        expect(faults).toEqual([]);
        expect(draft.cost).toBeCloseTo(cost.total, 6);
      }
    }
    expect(draft.visits.flat().length).toBeGreaterThan(3);
  });
  test('a plan put down again stands where it stood, in the same hours and gaps', () => {
    const problem = planProblem(7, 10, 14);
    const planner = new Planner(problem);
    planner.start();
    for (let k = 0; k < 200; k++) planner.improve(1 - k / 200);
    const visits = planner.visits();
    const draft = new Draft(modelOf(problem));
    expect(standAll(draft, visits)).toEqual([]);
    expect(draft.cost).toBeCloseTo(planner.cost, 6);
    const places = (list: typeof visits) => list.map((v) => [v.boat, v.day, v.technician, [...v.tasks].sort()]).sort();
    expect(places(draft.planned())).toEqual(places(visits));
  });
  test('what cannot stand any more is told, with what keeps it from there', () => {
    const problem = smallProblem({
      tasks: [{ id: 'oil', boat: 'tern' }],
      technicians: [{ id: 'ines', shift: [null, { from: 480, to: 960 }] }],
    });
    const refused = standAll(new Draft(modelOf(problem)), [
      { boat: 'tern', day: 0, technician: 'ines', start: 480, elapsed: 55, tasks: ['oil'] },
      { boat: 'gone', day: 0, technician: 'ines', start: 0, elapsed: 1, tasks: ['x'] },
    ]);
    expect(refused).toMatchObject([{ visit: { boat: 'tern' }, why: [{ obstacle: 'person away' }] }]);
  });
});

test('the rule used by hand: earliest due first into the nearest gap, joined where the boat has a visit', () => {
  const problem = smallProblem({
    days: 3,
    tasks: [
      { id: 'late', boat: 'tern', dayCost: [9, 9, 0] },
      { id: 'soon', boat: 'tern', dayCost: [9, 0, 9] },
    ],
    boats: [{ id: 'tern', free: [[], [{ from: 480, to: 900, idleCost: 0 }], []] }],
  });
  expect(planByHand(problem)).toMatchObject([{ day: 1, tasks: ['soon', 'late'] }]);
});
