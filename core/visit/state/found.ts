import { readingKey, type ReadingKind } from '../../findings/index.ts';
import type { CardState } from '../card.ts';
import type { Step } from '../step.ts';
import type { Fact } from './facts.ts';

/** Something a reading says is open on an engine, until work done after it closes it. */
export interface FoundOpen {
  engineId: number;
  fact: Fact;
  /** The step of this card that would close it; null = none does. */
  closer: Step | null;
}

/**
 * What a look opens, with the finding it leads to: decided otherwise at the desk, it opens nothing. Common practice.
 */
const OPENED: { kind: ReadingKind; choices: readonly string[]; fact: Fact; finding: string }[] = [
  { kind: 'lube look', choices: ['milky', 'water'], fact: 'water in case', finding: 'water in lube' },
  { kind: 'lube look', choices: ['grit'], fact: 'wear in case', finding: 'grit in lube' },
  { kind: 'seal pressure again', choices: ['falls'], fact: 'water in case', finding: 'seals leak' },
  { kind: 'impeller look', choices: ['missing'], fact: 'piece missing', finding: 'vane missing' },
  { kind: 'pieces found', choices: ['some'], fact: 'piece missing', finding: 'pieces missing' },
  { kind: 'under cowl', choices: ['fuel'], fact: 'fuel leak', finding: 'fuel under cowl' },
  { kind: 'oil light', choices: ['lit'], fact: 'oil pressure', finding: 'oil light' },
];

/**
 * What the card's readings say is open now. Only a step ticked after the reading closes it: what was done before did
 * not keep it from being found.
 */
export function foundOpen(steps: readonly Step[], state: CardState): FoundOpen[] {
  const engines = [...new Set(steps.flatMap((s) => (s.engineId === null ? [] : [s.engineId])))];
  return engines.flatMap((engineId) =>
    OPENED.flatMap(({ kind, choices, fact, finding }): FoundOpen[] => {
      const read = state.readings.get(readingKey(engineId, kind));
      if (!read || !('choice' in read.value) || !choices.includes(read.value.choice)) return [];
      // On the dock nobody waves it through alone: a wrong look is corrected, or the desk decides.
      const decided = state.decisions.get(`${engineId} ${finding}`);
      if (decided?.take === false && decided.desk) return [];
      // The step that found it so is none that mends it.
      const closers = steps.filter(
        (s) => s.engineId === engineId && s.closes.includes(fact) && !s.readings.includes(kind),
      );
      if (closers.some((s) => (state.ticks.get(s.id)?.nth ?? -1) > read.nth)) return [];
      return [{ engineId, fact, closer: closers.at(-1) ?? null }];
    }),
  );
}
