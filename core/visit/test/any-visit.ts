import fc from 'fast-check';
import { SCHOOLS, TASK_KINDS, taskApplies, type SchoolChoices, type TaskKind } from '../../service/index.ts';
import type { KnownTraits } from '../../fleet/index.ts';
import { workFacts, type Step, type TimedStep, type VisitTask } from '../index.ts';

/** An engine of a card: how it is built, how the yard answers, what is done on it. */
export interface Build {
  powerHp: number;
  stroke: 2 | 4;
  cylinders: number;
  traits: KnownTraits;
  choices: SchoolChoices;
  unknownHistory: boolean;
}

/** The tasks of a visit; engines are numbered from 1, tasks an engine of that stroke does not have are left out. */
export const visitOf = (engines: readonly (Build & { kinds: readonly TaskKind[] })[]): VisitTask[] =>
  engines.flatMap(({ kinds, choices, unknownHistory, ...model }, i) => {
    const engine = {
      facts: workFacts(model, choices, unknownHistory),
      sump: { value: 3, unit: 'L' as const },
      gearCase: { value: 0.6, unit: 'L' as const },
    };
    return kinds
      .filter((task) => taskApplies(task, model.stroke))
      .map((task) => ({ engineId: i + 1, task, cylinders: model.cylinders, engine }));
  });

const yes = fc.boolean();
const anyTraits: fc.Arbitrary<KnownTraits> = fc.record({
  sideCover: yes,
  induction: fc.constantFrom('carburettor', 'injection', 'direct injection'),
  drainKind: fc.constantFrom('screw', 'valve'),
  oilBy: fc.constantFrom('gravity', 'extraction'),
  tiltBeforeLevel: yes,
  gearScrews: fc.constantFrom(2, 3),
  gearNeedsPropOff: yes,
  fuelFilter: fc.constantFrom('in-line', 'canister'),
  propNut: fc.constantFrom('cotter pin', 'bevelled washer'),
  recoil: yes,
  twoPersonUnit: yes,
  boltUnderTab: yes,
  speedTube: yes,
} satisfies { [K in keyof KnownTraits]?: fc.Arbitrary<NonNullable<KnownTraits[K]>> }) as fc.Arbitrary<KnownTraits>;
const anyChoices = fc.record(
  Object.fromEntries(SCHOOLS.map((s) => [s.key, fc.constantFrom(...s.options.map((o) => o.key))])),
) as unknown as fc.Arbitrary<SchoolChoices>;

/** One to three engines with any tasks, built in any way, worked by any answers. */
export const anyVisit = fc.array(
  fc.record({
    powerHp: fc.constantFrom(6, 20, 60, 115, 200),
    stroke: fc.constantFrom<2 | 4>(2, 4),
    cylinders: fc.constantFrom(1, 3, 4, 6),
    traits: anyTraits,
    choices: anyChoices,
    unknownHistory: fc.boolean(),
    kinds: fc.subarray([...TASK_KINDS], { minLength: 1 }),
  }),
  { minLength: 1, maxLength: 3 },
);

/** The steps one after the other in an order by chance that keeps what comes before what; waits are waited for. */
export function inAnyOrder(steps: readonly Step[], seed: number): TimedStep[] {
  let state = (seed ^ 0x9e3779b9) | 1;
  const chance = (n: number) => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) % n;
  };
  const left = new Map(steps.map((s) => [s.id, s]));
  const over = new Map<string, { hands: number; all: number }>();
  const timed: TimedStep[] = [];
  let now = 0;
  while (left.size > 0) {
    const ready = [...left.values()].filter((s) => s.after.every((id) => !left.has(id.replace(/ started$/, ''))));
    const step = ready[chance(ready.length)]!;
    left.delete(step.id);
    const start = Math.max(
      now,
      ...step.after.map((id) => {
        const o = over.get(id.replace(/ started$/, ''));
        return o === undefined ? 0 : id.endsWith(' started') ? o.hands : o.all;
      }),
    );
    const end = start + step.minutes;
    over.set(step.id, { hands: end, all: end + step.wait });
    timed.push({ step, start, end, move: null });
    now = end + (step.turns === null ? 0 : step.wait);
  }
  return timed;
}
