import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TASK_KINDS } from '../service/index.ts';
import { minutesText, visitMinutes } from './index.ts';

const task = (engineId: number, kind: (typeof TASK_KINDS)[number], cylinders = 4) => ({
  engineId,
  task: kind,
  cylinders,
});

describe('minutes of a visit, by the formulas of the plan problem', () => {
  test('oil and filter share the cowl', () => {
    // hands = 15 set-up + 8 cowl + 7 run + 25 + 10 = 65; oil's chain = 15 + 8 + 7 + 25 + 20 draining = 75.
    expect(visitMinutes([task(1, 'engine-oil'), task(1, 'oil-filter')])).toMatchObject({ hands: 65, elapsed: 75 });
  });
  test('twins drain beside each other: shorter than twice one engine', () => {
    const one = visitMinutes([task(1, 'engine-oil')]).elapsed;
    const two = visitMinutes([task(1, 'engine-oil'), task(2, 'engine-oil')]);
    // hands = 15 + 2 x (8 + 7 + 25) = 95, longer than the chain of 75.
    expect(two.elapsed).toBe(95);
    expect(two.elapsed).toBeLessThan(2 * one);
    expect(two.saved).toBe(2 * one - 95);
  });
  test('gear lube with the lower unit off needs its tilt only once', () => {
    // 15 + tilt 5 + lower unit 45 + run 7 + 50 + 20.
    expect(visitMinutes([task(1, 'impeller'), task(1, 'gear-lube')]).hands).toBe(142);
  });
  test('plugs by the cylinder', () => {
    expect(visitMinutes([task(1, 'spark-plugs', 6)]).hands - visitMinutes([task(1, 'spark-plugs', 4)]).hands).toBe(10);
  });
  test('pace stretches the work, not the draining nor the five minutes an engine runs', () => {
    expect(visitMinutes([task(1, 'engine-oil')], 1.5).elapsed).toBe(1.5 * 45 + 10 + 20);
    // Two engines run one after the other; one engine runs once, whatever was done to it.
    const both = [task(1, 'engine-oil'), task(1, 'spark-plugs'), task(2, 'engine-oil')];
    // A warm-up and a run of five minutes on each.
    expect(visitMinutes(both, 2).busy).toBe(2 * (visitMinutes(both).hands - 20) + 20);
  });
  test('nothing takes no time', () => {
    expect(visitMinutes([])).toEqual({ hands: 0, busy: 0, elapsed: 0, saved: 0 });
  });

  test('together is never longer than apart, and never shorter than any task alone', () => {
    const anyTasks = fc.uniqueArray(
      fc.record({
        engineId: fc.integer({ min: 1, max: 3 }),
        task: fc.constantFrom(...TASK_KINDS),
        cylinders: fc.constant(4),
      }),
      { selector: (t) => `${t.engineId}${t.task}`, minLength: 1 },
    );
    fc.assert(
      fc.property(anyTasks, fc.double({ min: 0.5, max: 2, noNaN: true }), (tasks, pace) => {
        const together = visitMinutes(tasks, pace).elapsed;
        const alone = tasks.map((t) => visitMinutes([t], pace).elapsed);
        expect(together).toBeGreaterThanOrEqual(Math.max(...alone) - 1e-9);
        expect(together).toBeLessThanOrEqual(alone.reduce((a, b) => a + b, 0) + 1e-9);
      }),
    );
  });
});

test('minutes as text', () => {
  expect(minutesText(45)).toBe('45 min');
  expect(minutesText(125)).toBe('2 h 05');
  expect(minutesText(59.7)).toBe('1 h 00');
});
