import { describe, expect, test } from '@jest/globals';
import type { PlannedVisit } from '@diurna/core/planner';
import fc from 'fast-check';
import { became, movedByHand, opened, pinKey, pinned, redone, undone, type PlanState } from './plan-state.ts';

const visit = (boat: string, day: number, tasks = [`${boat} engine-oil`]): PlannedVisit => ({
  boat,
  day,
  technician: 't',
  start: 480,
  elapsed: 60,
  tasks,
});
const A = visit('a', 0);
const B = visit('b', 2);
const start = opened({ visits: [A, B], pins: ['2 b'], act: 'open' });

describe('the plan on the table', () => {
  test('opened, nothing can be taken back or done again', () => {
    expect(undone(start)).toBe(start);
    expect(redone(start)).toBe(start);
    expect(start.now).toBe(start.standing);
  });

  test('taken back, it is the very state it was: what tells that nothing changed', () => {
    const back = undone(became(start, [A], [], 'plan'));
    expect(back.now).toBe(start.standing);
    expect(redone(back).now).toMatchObject({ visits: [A], act: 'plan' });
  });

  test('what is done after taking back closes the way forth', () => {
    const other = became(undone(became(start, [A], [], 'plan')), [B], [], 'move');
    expect(redone(other)).toBe(other);
    expect(undone(other).now).toBe(start.now);
  });

  test('a pin lives as long as its visit: not where the visit is gone', () => {
    expect(became(start, [A], ['2 b', '0 a'], 'plan').now.pins).toEqual(['0 a']);
  });

  test('a pin is put in and taken out, each to be undone', () => {
    const on = pinned(start, '0 a');
    expect(on.now.pins).toEqual(['2 b', '0 a']);
    const off = pinned(on, '2 b');
    expect(off.now).toMatchObject({ pins: ['0 a'], act: 'unpin' });
    expect(undone(undone(off)).now.pins).toEqual(['2 b']);
  });

  test('moved by hand: pinned where it was put, no longer where it was', () => {
    const moved = movedByHand(start, [A, visit('b', 5)], '2 b', '5 b');
    expect(moved.now.pins).toEqual(['5 b']);
    expect(undone(moved).now.pins).toEqual(['2 b']);
  });

  test('only some of its tasks moved: what stays is pinned as before', () => {
    const moved = movedByHand(start, [A, visit('b', 2, ['b oil']), visit('b', 5, ['b plugs'])], '2 b', '5 b');
    expect(moved.now.pins).toEqual(['2 b', '5 b']);
  });

  test('put from outside of the plan, or onto a pinned visit: pinned once', () => {
    expect(movedByHand(start, [A, B, visit('c', 1)], null, '1 c').now.pins).toEqual(['2 b', '1 c']);
    expect(movedByHand(start, [A, visit('b', 2, ['b oil', 'b plugs'])], null, '2 b').now.pins).toEqual(['2 b']);
  });

  test('whatever is done: taken back as often as done, it is where it began; forth again, where it was', () => {
    const boats = ['a', 'b', 'c'];
    const act = fc.oneof(
      fc.record({
        kind: fc.constant('plan' as const),
        days: fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 3, maxLength: 3 }),
      }),
      fc.record({ kind: fc.constant('pin' as const), at: fc.integer({ min: 0, max: 2 }) }),
      fc.record({
        kind: fc.constant('move' as const),
        at: fc.integer({ min: 0, max: 2 }),
        day: fc.integer({ min: 0, max: 3 }),
      }),
    );
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), (acts) => {
        const first = opened({ visits: boats.map((b) => visit(b, 0)), pins: [], act: 'open' });
        let state: PlanState = first;
        for (const a of acts) {
          if (a.kind === 'plan')
            state = became(
              state,
              boats.map((b, i) => visit(b, a.days[i]!)),
              state.now.pins,
              'plan',
            );
          else if (a.kind === 'pin') state = pinned(state, pinKey(state.now.visits[a.at]!));
          else {
            const from = state.now.visits[a.at]!;
            state = movedByHand(
              state,
              state.now.visits.map((v, i) => (i === a.at ? visit(v.boat, a.day) : v)),
              pinKey(from),
              `${a.day} ${from.boat}`,
            );
          }
          const held = new Set(state.now.visits.map(pinKey));
          expect(state.now.pins.every((p) => held.has(p))).toBe(true);
          expect(new Set(state.now.pins).size).toBe(state.now.pins.length);
        }
        const last = state.now;
        for (let i = 0; i < acts.length; i++) state = undone(state);
        expect(state.now).toBe(first.now);
        for (let i = 0; i < acts.length; i++) state = redone(state);
        expect(state.now).toBe(last);
      }),
    );
  });
});
