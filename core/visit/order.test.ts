import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TASK_KINDS, type TaskKind } from '../service/index.ts';
import { visitMinutes, visitSteps, workingOrder, type Step, type TimedStep, type VisitTask } from './index.ts';

const task = (engineId: number, kind: TaskKind, cylinders = 4): VisitTask => ({ engineId, task: kind, cylinders });
const all = (engineId: number) => TASK_KINDS.map((k) => task(engineId, k));

/** Every rule an order has to keep, from the steps alone. */
function faultsOf(steps: readonly Step[], timed: readonly TimedStep[], pace = 1): string[] {
  const faults: string[] = [];
  const at = new Map(timed.map((t) => [t.step.id, t]));
  if (timed.length !== steps.length) faults.push('steps are missing');
  for (const { step, start, end } of timed) {
    if (Math.abs(end - start - step.minutes * pace) > 1e-6) faults.push(`${step.id} has the wrong minutes`);
    for (const id of step.after) {
      const started = id.endsWith(' started');
      const other = at.get(started ? id.slice(0, -8) : id);
      if (other && start < other.end + (started ? 0 : other.step.wait) - 1e-6) faults.push(`${step.id} begins before ${id}`);
    }
  }
  const inOrder = [...timed].sort((a, b) => a.start - b.start);
  inOrder.forEach((t, i) => { if (i > 0 && t.start < inOrder[i - 1]!.end - 1e-6) faults.push('hands in two places'); });
  return faults;
}

/** The shortest order of few steps, by trying every order that keeps what comes before. */
function shortestOfAll(steps: readonly Step[]): number {
  let best = Infinity;
  const ends = new Map<string, { hands: number; over: number }>();
  const go = (now: number, over: number) => {
    if (ends.size === steps.length) {
      best = Math.min(best, over);
      return;
    }
    if (now >= best) return;
    for (const s of steps) {
      if (ends.has(s.id)) continue;
      let ready = now;
      let may = true;
      for (const id of s.after) {
        const started = id.endsWith(' started');
        const key = started ? id.slice(0, -8) : id;
        if (!steps.some((x) => x.id === key)) continue;
        const e = ends.get(key);
        if (!e) { may = false; break; }
        ready = Math.max(ready, started ? e.hands : e.over);
      }
      if (!may) continue;
      const hands = ready + s.minutes;
      ends.set(s.id, { hands, over: hands + s.wait });
      go(hands, Math.max(over, hands + s.wait));
      ends.delete(s.id);
    }
  };
  go(0, 0);
  return best;
}

describe('the steps of a visit', () => {
  test('their hands add up to the plan’s formula, whatever is on the card', () => {
    const any = fc.uniqueArray(fc.record({ engineId: fc.integer({ min: 1, max: 3 }), task: fc.constantFrom(...TASK_KINDS), cylinders: fc.constantFrom(2, 4, 6) }), { selector: (t) => `${t.engineId}${t.task}`, minLength: 1 });
    fc.assert(fc.property(any, (tasks) => {
      const steps = visitSteps(tasks);
      expect(steps.reduce((sum, s) => sum + s.minutes, 0)).toBeCloseTo(visitMinutes(tasks).hands, 6);
      expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length);
    }));
  });
  test('vent before drain, plug in before fill, oil in before the run, the level after it, cowl on after the leak check, gates last', () => {
    const { steps } = workingOrder(visitSteps(all(1)));
    const place = (id: string) => steps.findIndex((s) => s.step.id === `1 ${id}`);
    const order = ['cowl off', 'engine-oil/vent', 'engine-oil/drain', 'engine-oil/plug', 'engine-oil/fill', 'engine-oil/read', 'engine-oil/run', 'engine-oil/level', 'cowl on'].map(place);
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(place('oil-filter/on')).toBeLessThan(place('engine-oil/fill'));
    expect(place('spark-plugs/in')).toBeLessThan(place('engine-oil/run'));
    expect(place('lower unit on')).toBeLessThan(place('engine-oil/run'));
    expect(steps.at(-1)!.step.id).toBe('leave');
    expect(steps.filter((s) => s.step.twoPeople).map((s) => s.step.id)).toEqual(['1 lower unit off', '1 lower unit on']);
  });
  test('the filter is changed while the sump drains', () => {
    const { steps } = workingOrder(visitSteps([task(1, 'engine-oil'), task(1, 'oil-filter')]));
    const of = (id: string) => steps.find((s) => s.step.id === `1 ${id}`)!;
    expect(of('oil-filter/off').start).toBeGreaterThanOrEqual(of('engine-oil/drain').end);
    expect(of('oil-filter/on').end).toBeLessThanOrEqual(of('engine-oil/drain').end + 20);
  });
});

describe('working order', () => {
  test('twins: one drains while the other is worked on, shorter than twice one engine by the overlapped drains', () => {
    const one = workingOrder(visitSteps([task(1, 'engine-oil'), task(1, 'oil-filter')]));
    const two = workingOrder(visitSteps([task(1, 'engine-oil'), task(1, 'oil-filter'), task(2, 'engine-oil'), task(2, 'oil-filter')]));
    expect(two.elapsed).toBeLessThan(2 * one.elapsed - 15);
    expect(two.elapsed).toBeCloseTo(two.bound, 6);
  });
  test('impeller and gear lube together against two visits', () => {
    const apart = workingOrder(visitSteps([task(1, 'impeller')])).elapsed + workingOrder(visitSteps([task(1, 'gear-lube')])).elapsed;
    // The tilt and the set-up are paid once, and the lube drains meanwhile.
    expect(workingOrder(visitSteps([task(1, 'impeller'), task(1, 'gear-lube')])).elapsed).toBeLessThan(apart - 20);
  });
  test('keeps every rule, never below the bound, and not below the plan’s elapsed minutes', () => {
    const any = fc.uniqueArray(fc.record({ engineId: fc.integer({ min: 1, max: 3 }), task: fc.constantFrom(...TASK_KINDS), cylinders: fc.constantFrom(2, 4, 6) }), { selector: (t) => `${t.engineId}${t.task}`, minLength: 1 });
    fc.assert(fc.property(any, fc.constantFrom(0.8, 1, 1.25), (tasks, pace) => {
      const steps = visitSteps(tasks);
      const order = workingOrder(steps, pace);
      expect(faultsOf(steps, order.steps, pace)).toEqual([]);
      expect(order.elapsed).toBeGreaterThanOrEqual(order.bound - 1e-6);
      expect(order.elapsed).toBeGreaterThanOrEqual(visitMinutes(tasks, pace).hands * pace - 1e-6);
    }), { numRuns: 60 });
  });
  test('few steps: as short as the best of all orders', () => {
    const step = fc.record({ minutes: fc.integer({ min: 1, max: 20 }), wait: fc.constantFrom(0, 0, 5, 20, 45), before: fc.array(fc.nat(8), { maxLength: 2 }), started: fc.boolean() });
    const net = fc.array(step, { minLength: 2, maxLength: 8 }).map((list) => list.map((s, i): Step => ({
      id: `s${i}`, engineId: null, task: null, text: '', minutes: s.minutes, wait: s.wait, twoPeople: false, gate: false, caution: null,
      after: [...new Set(s.before.filter((b) => b < i).map((b) => `s${b}${s.started ? ' started' : ''}`))],
    })));
    fc.assert(fc.property(net, (steps) => {
      const order = workingOrder(steps);
      expect(faultsOf(steps, order.steps)).toEqual([]);
      expect(order.elapsed).toBeCloseTo(shortestOfAll(steps), 6);
    }), { numRuns: 150, seed: 11 });
  });
  test('twins and a kicker with everything: within 3 % of the bound', () => {
    const steps = visitSteps([...all(1), ...all(2), ...all(3)]);
    expect(steps.length).toBeGreaterThan(60);
    const order = workingOrder(steps);
    expect(order.elapsed / order.bound).toBeLessThan(1.03);
  });
  test('steps that wait for each other in a circle are an error', () => {
    const s = (id: string, after: string[]): Step => ({ id, engineId: null, task: null, text: '', minutes: 1, wait: 0, after, twoPeople: false, gate: false, caution: null });
    expect(() => workingOrder([s('a', ['b']), s('b', ['a'])])).toThrow('circle');
  });
});
