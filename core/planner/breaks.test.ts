import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DayPlan, type Rest, type Slot } from './search/day.ts';
import { breakOn, pausesOf, pricePlan, problemFaults, type PlannedVisit, type PlanProblem } from './index.ts';
import { keepsItsWord, proven } from './test/planned.ts';
import { smallProblem } from './test/small-problem.ts';

/** Half an hour between half past eleven and two. Common practice, no source. */
const NOON = { from: 690, to: 840, minutes: 30 };

/** The earliest end of these slots by trying every order with the pause before, after or inside each. */
function endByHand(slots: readonly Slot[], from: number, hard: number, rest: Rest): number {
  let best = Infinity;
  const go = (left: readonly Slot[], at: number, paused: boolean) => {
    if (left.length === 0) {
      if (paused || Math.max(at, rest.from) + rest.minutes <= rest.to) best = Math.min(best, at);
      return;
    }
    const free = Math.max(at, rest.from) + rest.minutes;
    if (!paused && free <= rest.to) go(left, free, true);
    left.forEach((s, i) => {
      const others = left.filter((_, k) => k !== i);
      const start = Math.max(at, s.release);
      const end = start + s.minutes;
      if (end <= Math.min(s.deadline, hard)) go(others, end, paused);
      if (paused) return;
      const pause = Math.max(start, rest.from);
      if (pause > end || pause + rest.minutes > rest.to) return;
      if (end + rest.minutes <= Math.min(s.deadline, hard)) go(others, end + rest.minutes, true);
    });
  };
  go(slots, from, false);
  return best;
}

const slot = fc
  .record({
    release: fc.integer({ min: 42, max: 90 }),
    room: fc.integer({ min: 0, max: 40 }),
    minutes: fc.integer({ min: 2, max: 24 }),
  })
  .map(({ release, room, minutes }): Slot => ({
    release: release * 10,
    deadline: (release + minutes + room) * 10,
    minutes: minutes * 10,
  }));
const rest = fc
  .record({
    from: fc.integer({ min: 60, max: 80 }),
    room: fc.integer({ min: 3, max: 16 }),
    minutes: fc.integer({ min: 1, max: 3 }),
  })
  .map(({ from, room, minutes }): Rest => ({ from: from * 10, to: (from + room) * 10, minutes: minutes * 10 }));

describe('a day with a break', () => {
  test('ends as early as the best of all orders with the pause anywhere', () => {
    fc.assert(
      fc.property(fc.array(slot, { maxLength: 4 }), rest, (slots, r) => {
        expect(new DayPlan(slots, 450, 1080, r).end).toBe(endByHand(slots, 450, 1080, r));
      }),
      { numRuns: 2000 },
    );
  });

  test('has room for just the longest visit that can be added', () => {
    fc.assert(
      fc.property(fc.array(slot, { maxLength: 3 }), rest, slot, (slots, r, w) => {
        const room = new DayPlan(slots, 450, 1080, r).room(w.release, w.deadline);
        const longest = Array.from({ length: 70 }, (_, i) => i * 10).filter(
          (minutes) =>
            minutes > 0 &&
            endByHand([...slots, { release: w.release, deadline: w.deadline, minutes }], 450, 1080, r) < Infinity,
        );
        expect(Math.max(0, room - (room % 10))).toBe(longest.at(-1) ?? 0);
      }),
      { numRuns: 1500 },
    );
  });

  test('its times overlap nowhere and leave the pause free', () => {
    fc.assert(
      fc.property(fc.array(slot, { minLength: 1, maxLength: 5 }), rest, (slots, r) => {
        const plan = new DayPlan(slots, 450, 1080, r);
        fc.pre(plan.end < Infinity);
        const { starts, pause, pausedIn } = plan.timed();
        const spans = plan.visits.map((s, i) => ({
          from: starts[i]!,
          to: starts[i]! + s.minutes + (i === pausedIn ? r.minutes : 0),
          s,
        }));
        for (const { from, to, s } of spans) {
          expect(from).toBeGreaterThanOrEqual(Math.max(450, s.release));
          expect(to).toBeLessThanOrEqual(Math.min(1080, s.deadline));
        }
        expect(Math.max(...spans.map((x) => x.to))).toBeCloseTo(plan.end, 6);
        expect(pause).toBeGreaterThanOrEqual(r.from);
        expect(pause! + r.minutes).toBeLessThanOrEqual(r.to);
        const busy = [...spans.filter((_, i) => i !== pausedIn), { from: pause!, to: pause! + r.minutes }];
        const inOrder = [...(pausedIn === null ? busy : spans)].sort((a, b) => a.from - b.from);
        inOrder.forEach((x, i) => {
          if (i > 0) expect(x.from).toBeGreaterThanOrEqual(inOrder[i - 1]!.to);
        });
        if (pausedIn !== null) {
          expect(pause).toBeGreaterThanOrEqual(spans[pausedIn]!.from);
          expect(pause! + r.minutes).toBeLessThanOrEqual(spans[pausedIn]!.to);
        }
      }),
      { numRuns: 2000 },
    );
  });

  test('a day of more visits than are tried in every order keeps them apart too', () => {
    const slots = Array.from({ length: 14 }, (_, i): Slot => ({ release: 450, deadline: 1080, minutes: 30 + (i % 3) }));
    const plan = new DayPlan(slots, 450, 1080, NOON);
    const work = slots.reduce((sum, s) => sum + s.minutes, 0);
    expect(plan.end).toBeCloseTo(450 + work + 30, 6);
    expect(plan.timed().pause).not.toBeNull();
  });
});

describe('the break of a shift', () => {
  const shift = [{ from: 450, to: 960 }];
  test.each([
    ['within it', shift, NOON],
    ['from when the shift begins', [{ from: 720, to: 1080 }], { ...NOON, from: 720 }],
    ['none for who comes too late for it', [{ from: 830, to: 1080 }], null],
    ['none for who is gone before it', [{ from: 450, to: 690 }], null],
    ['none for who is off', [null], null],
  ])('%s', (_, of, expected) => {
    expect(breakOn({ shift: of, break: [NOON] }, 0)).toEqual(expected);
  });
});

/** A tiny yard in which gaps are narrow round noon. */
const tiny = fc
  .record({
    hands: fc.array(fc.integer({ min: 20, max: 150 }), { minLength: 3, maxLength: 4 }),
    costs: fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 8, maxLength: 8 }),
    gap: fc.integer({ min: 60, max: 260 }),
    to: fc.integer({ min: 760, max: 1000 }),
    overtime: fc.constantFrom(0, 45),
  })
  .map(({ hands, costs, gap, to, overtime }): PlanProblem => ({
    ...smallProblem({
      days: 2,
      technicians: [
        {
          id: 'ines',
          shift: [
            { from: 480, to },
            { from: 600, to: 960 },
          ],
          overtime: [overtime, overtime],
          break: [NOON, NOON],
        },
        { id: 'sven', shift: [{ from: 660, to: 900 }, null], pace: 1.2, break: [NOON, null] },
      ],
      boats: [
        { id: 'tern', free: [[{ from: 420, to: 1140, idleCost: 0 }], [{ from: 640, to: 640 + gap, idleCost: 0 }]] },
        {
          id: 'skua',
          free: [
            [
              { from: 660, to: 660 + gap, idleCost: 0 },
              { from: 930, to: 1100, idleCost: 3 },
            ],
            [],
          ],
        },
      ],
      tasks: hands.map((h, i) => ({
        id: `t${i}`,
        boat: i % 2 === 0 ? 'tern' : 'skua',
        handsOn: h,
        dayCost: [costs[2 * i]!, costs[2 * i + 1]!],
        skipCost: 150 + 10 * i,
      })),
    }),
    version: 2,
  }));
describe('plans with breaks', () => {
  test('feasible, never below the cheapest of all, proven only when it is that; no bound above it', () => {
    fc.assert(
      fc.property(tiny, (problem) => {
        const plan = keepsItsWord(problem);
        const days = new Set(plan.visits.map((v) => `${v.day} ${v.technician}`));
        for (const p of plan.pauses!) expect(days.has(`${p.day} ${p.technician}`)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  const long = smallProblem({
    days: 1,
    lifts: [1],
    technicians: [{ id: 'ines', shift: [{ from: 480, to: 960 }], break: [NOON] }],
    tasks: [{ id: 'oil', boat: 'tern', handsOn: 385, access: [], running: 0, skipCost: 900 }],
    boats: [{ id: 'tern', free: [[{ from: 480, to: 960, idleCost: 0 }]] }],
  });
  const visit: PlannedVisit = { boat: 'tern', day: 0, technician: 'ines', start: 480, elapsed: 400, tasks: ['oil'] };

  test('a visit over noon takes the break longer; the break is not labour', () => {
    const problem: PlanProblem = { ...long, version: 2 };
    const [planned] = proven(problem).visits;
    expect(planned).toMatchObject({ start: 480, elapsed: 430, pause: { from: 690, to: 720 } });
    expect(pricePlan(problem, { visits: [planned!] }).cost.labour).toBe(400);
    expect(pausesOf(problem, [planned!])).toEqual([{ technician: 'ines', day: 0, start: 690 }]);
  });

  test.each([
    ['no pause at all', visit, 'ines has no pause on day 0'],
    ['too early', { ...visit, elapsed: 430, pause: { from: 600, to: 630 } }, 'is not the break'],
    ['outside of it', { ...visit, start: 730, elapsed: 430, pause: { from: 700, to: 730 } }, 'lies outside of it'],
  ])('the judge refuses %s', (_, v, fault) => {
    expect(pricePlan({ ...long, version: 2 }, { visits: [v] }).faults.join('; ')).toContain(fault);
  });

  test('a problem of version 1 has no breaks, and may not name any', () => {
    const problem: PlanProblem = { ...long, technicians: long.technicians.map(({ break: _, ...t }) => t) };
    expect(proven(problem)).toMatchObject({ version: 1, visits: [{ start: 480, elapsed: 400 }] });
    expect(problemFaults(long).map((f) => f.path)).toEqual(['technicians[0].break']);
  });
});
