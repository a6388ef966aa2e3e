import { READINGS } from '../../findings/index.ts';
import { gatesOf, type CardAtWork } from '../at-hand.ts';
import { keysAsked } from '../card.ts';
import type { VisitTask } from '../minutes.ts';
import type { Step } from '../step.ts';
import { FACTS } from './facts.ts';

/** What keeps a card from being finished. */
export interface Missing {
  what: 'gate' | 'open' | 'reading';
  /** Null = of the whole visit. */
  engineId: number | null;
  /** The step that would see to it. */
  step: Step;
  /** It was confirmed before this was closed: it is looked at again. */
  again: Step | null;
  text: string;
}

/**
 * Everything that keeps a card from being finished, in one go: gates nobody confirmed, what still stands open on an
 * engine and the card would have closed, readings that ticked steps want and have not.
 *
 * @param work the tasks of the card
 * @param done those that are done, by `engine task`
 */
export function missingToFinish(
  { steps, state, engines }: Pick<CardAtWork, 'steps' | 'state' | 'engines'>,
  work: readonly VisitTask[],
  done: ReadonlySet<string>,
): Missing[] {
  const plain = steps.map((t) => t.step);
  const overtaken = overtakenIn({ steps, state, engines });
  const gates = gatesOf(plain, work, done).filter((s) => !state.ticks.has(s.id) || overtaken.has(s.id));
  const wanted = new Set(gates.map((s) => s.id));
  const cylinders = new Map(work.map((t) => [t.engineId, t.cylinders]));
  return [
    ...gates.map((step): Missing => {
      const again = overtaken.get(step.id) ?? null;
      const text = again === null ? step.gate : `${step.gate}, again after "${again.text}"`;
      return { what: 'gate', engineId: step.engineId, step, again, text };
    }),
    ...engines
      .open()
      .flatMap(({ engineId, fact, closer }): Missing[] =>
        closer === null || wanted.has(closer.id)
          ? []
          : [{ what: 'open', engineId, step: closer, again: null, text: FACTS[fact].open }],
      ),
    ...plain
      .filter((s) => state.ticks.has(s.id))
      .flatMap((step) =>
        keysAsked(step, cylinders.get(step.engineId ?? 0) ?? 1)
          .filter(({ key, kind }) => READINGS[kind].needed && !state.readings.has(key))
          .map(({ kind, part }): Missing => ({
            what: 'reading',
            engineId: step.engineId,
            step,
            again: null,
            text: `${READINGS[kind].word.toLowerCase()}${READINGS[kind].per === 'cylinder' ? `, cylinder ${part}` : ''}`,
          })),
      ),
  ];
}

/** Runs and what they show that were ticked before something they should have seen was closed, with that step. */
export function overtakenIn({
  steps,
  state,
  engines,
}: Pick<CardAtWork, 'steps' | 'state' | 'engines'>): Map<string, Step> {
  // The record's order: clocks of two phones differ.
  const places = new Map([...state.ticks.keys()].map((id, i) => [id, i]));
  const found = new Map<string, Step>();
  for (const { step } of steps) {
    const by = engines.overtaken(step, (id) => places.get(id));
    if (by) found.set(step.id, by);
  }
  return found;
}

const WORDS: [Missing['what'], string][] = [
  ['gate', 'Not confirmed yet'],
  ['open', 'Still open'],
  ['reading', 'Not read'],
];

/** What is missing in sentences, each thing once. */
export function missingText(missing: readonly Missing[], nameOf: (engineId: number) => string): string {
  const named = (m: Missing) => {
    const name = m.engineId === null ? '' : nameOf(m.engineId);
    return name === '' ? m.text : `${m.text} (${name})`;
  };
  return WORDS.flatMap(([what, word]) => {
    const own = [...new Set(missing.filter((m) => m.what === what).map(named))];
    return own.length === 0 ? [] : [`${word}: ${own.join(', ')}.`];
  }).join(' ');
}
