import { TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { READINGS } from '@diurna/core/findings';
import {
  keysAsked,
  visitMinutes,
  visitSteps,
  workFacts,
  workingOrder,
  type Step,
  type VisitTask,
} from '@diurna/core/visit';
import { seeded } from '@diurna/demo/random';
import { BIG_VISIT } from '../core/visit/test/visits.ts';
import { shortestOfAll } from '../core/visit/test/exhaustive.ts';
import { median, percentile, row } from './report.ts';

const tasks = (engineId: number, kinds: readonly TaskKind[], powerHp: number, cylinders: number): VisitTask[] =>
  kinds.map((task) => ({
    engineId,
    task,
    cylinders,
    engine: {
      facts: workFacts({ powerHp, stroke: 4, cylinders }),
      sump: { value: 5.9, unit: 'L' },
      gearCase: { value: 1.07, unit: 'L' },
    },
  }));

/** A net of few steps with waits and stances, from a seed. */
export function smallNet(seed: number): Step[] {
  const random = seeded(seed);
  const n = random.whole(6, 12);
  return Array.from({ length: n }, (_, i): Step => ({
    id: `s${i}`,
    engineId: random.whole(1, 2),
    task: null,
    text: '',
    detail: null,
    minutes: random.whole(1, 20),
    running: 0,
    wait: random.pick([0, 0, 5, 20, 45]),
    stance: random.pick(['level', 'tilted', null, null]),
    warm: false,
    twoPeople: false,
    gate: null,
    caution: null,
    torque: null,
    tools: [],
    toolMm: null,
    readings: [],
    parts: false,
    opens: [],
    closes: [],
    needs: [],
    turns: null,
    after:
      i === 0
        ? []
        : [
            ...new Set([
              `s${random.whole(Math.max(0, i - 3), i - 1)}`,
              ...(random.chance(0.5) ? [`s${random.whole(0, i - 1)} started`] : []),
            ]),
          ],
  }));
}

/** What most yards do to twins after 300 hours: eight tasks an engine. */
const SIXTEEN: readonly TaskKind[] = [
  'engine-oil',
  'oil-filter',
  'fuel-filter',
  'gear-lube',
  'impeller',
  'anodes',
  'grease',
  'look-over',
];

/**
 * Taps of a card on which nothing is found: an answer or a figure each, alike on all cylinders at once; the last one
 * ticks its step, and a step that asks for nothing is one tap.
 *
 * @param byAnswer whether the last answer is the tick
 */
function taps(steps: readonly Step[], byAnswer: boolean): number {
  return steps.reduce((sum, step) => {
    const asked = new Set(
      keysAsked(step, 1)
        .map((k) => k.kind)
        .filter((kind) => READINGS[kind].needed),
    ).size;
    return sum + (byAnswer && asked > 0 ? asked : asked + 1);
  }, 0);
}

function timed<T>(times: number, act: () => T): { result: T; ms: number } {
  const took: number[] = [];
  let result = act();
  // A server has long had the code compiled.
  for (let i = 0; i < 4; i++) result = act();
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    result = act();
    took.push(performance.now() - began);
  }
  return { result, ms: percentile(took, 0.95) };
}

/** Working orders: against every order of small nets, against the bound on real cards, and how long they take. */
export function benchVisit(): void {
  const nets = Array.from({ length: 60 }, (_, i) => smallNet(i + 1));
  let equal = 0;
  const own: number[] = [];
  const every: number[] = [];
  for (const net of nets) {
    const began = performance.now();
    const found = workingOrder(net).elapsed;
    own.push(performance.now() - began);
    const tried = performance.now();
    if (Math.abs(found - shortestOfAll(net)) < 1e-6) equal++;
    every.push(performance.now() - tried);
  }
  row(
    'orders of 6 to 12 steps as short as the shortest of all',
    `${equal} of ${nets.length}`,
    'all',
    equal === nets.length,
    `every order tried; ${(median(every) / median(own)).toFixed(1)} x our median time (${median(own).toFixed(2)} ms)`,
  );

  const cards: [string, VisitTask[]][] = [
    ['twins 200 hp, full 300 h service', [...tasks(1, BIG_VISIT, 200, 6), ...tasks(2, BIG_VISIT, 200, 6)]],
    [
      'twins and kicker, everything due',
      [...tasks(1, BIG_VISIT, 200, 6), ...tasks(2, BIG_VISIT, 200, 6), ...tasks(3, BIG_VISIT, 20, 2)],
    ],
    ['single 60 hp, oil and filter', tasks(1, ['engine-oil', 'oil-filter'], 60, 4)],
    ['single 90 hp, full 300 h service', tasks(1, BIG_VISIT, 90, 4)],
    [
      'three engines, every task there is',
      [1, 2, 3].flatMap((id) =>
        tasks(
          id,
          TASK_KINDS.filter((t) => t !== 'bowls'),
          200,
          6,
        ),
      ),
    ],
  ];
  for (const [name, card] of cards) {
    const steps = visitSteps(card);
    const { result, ms } = timed(40, () => workingOrder(visitSteps(card)));
    const over = (result.elapsed / result.bound - 1) * 100;
    const plain = timed(15, () => visitSteps(card)).ms;
    row(
      `order of ${name}, ${steps.length} steps: over the bound`,
      `${Math.max(0, over).toFixed(2)} %`,
      'within 3 %',
      over <= 3,
      `bound ${result.bound.toFixed(0)} min; one task after the other ${steps.reduce((sum, s) => sum + s.minutes + s.wait, 0).toFixed(0)} min`,
    );
    row(
      `order of ${name}: time, p95`,
      `${ms.toFixed(1)} ms`,
      'under 50 ms',
      ms < 50,
      `${(ms / plain).toFixed(1)} x writing its steps down (${plain.toFixed(1)} ms)`,
    );
  }
  const elapsed = (list: VisitTask[]) => workingOrder(visitSteps(list)).elapsed;
  const oil: TaskKind[] = ['engine-oil', 'oil-filter'];
  const one = elapsed(tasks(1, oil, 60, 4));
  const two = elapsed([...tasks(1, oil, 60, 4), ...tasks(2, oil, 60, 4)]);
  row(
    'twins’ oil service against twice one engine',
    `${two.toFixed(0)} min`,
    'shorter',
    two < 2 * one - 15,
    `twice one engine ${(2 * one).toFixed(0)} min; the plan’s formula ${visitMinutes([...tasks(1, oil, 60, 4), ...tasks(2, oil, 60, 4)]).elapsed.toFixed(0)} min`,
  );
  const sixteen = visitSteps([...tasks(1, SIXTEEN, 200, 6), ...tasks(2, SIXTEEN, 200, 6)]);
  const tapped = taps(sixteen, true);
  row(
    'taps of the twins’ sixteen tasks, nothing found',
    String(tapped),
    'at most 125',
    tapped <= 125,
    `${sixteen.length} steps; ${taps(sixteen, false)} where every step is ticked after its answers`,
  );
  const apart = elapsed(tasks(1, ['impeller'], 60, 4)) + elapsed(tasks(1, ['gear-lube'], 60, 4));
  const both = elapsed(tasks(1, ['impeller', 'gear-lube'], 60, 4));
  row(
    'impeller and gear lube together against two visits',
    `${both.toFixed(0)} min`,
    'shorter',
    both < apart,
    `two visits ${apart.toFixed(0)} min`,
  );
}
