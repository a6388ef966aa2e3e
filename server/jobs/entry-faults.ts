import { readingFault, readingOf } from '@diurna/core/findings';
import {
  hindranceText,
  never,
  typedOf,
  type CardAct,
  type CardEntry,
  type CardState,
  type EngineState,
  type Step,
} from '@diurna/core/visit';
import type { Who } from '../http/api.ts';

/** Why nothing more is kept on a card that is over. */
export const closedText = (status: string) =>
  status === 'done'
    ? 'The card was finished before this came. Tell the coordinator, who can open it again.'
    : 'The card was called off before this came. Tell the coordinator.';

/** Why an entry cannot be kept; null = it can. */
export function faultOf(
  act: CardAct,
  steps: readonly Step[],
  tasks: readonly { engineId: number; task: string }[],
  state: CardState,
  record: readonly CardEntry[],
): string | null {
  switch (act.kind) {
    case 'tick':
      return steps.some((s) => s.id === act.step) ? null : 'This step is not on the card any more.';
    case 'task':
      return tasks.some((t) => t.engineId === act.engineId && t.task === act.task)
        ? null
        : 'This task is not on the card any more.';
    case 'read': {
      const of = readingOf(act.key);
      if (!of || (of.engineId !== 0 && !tasks.some((t) => t.engineId === of.engineId)))
        return 'This reading is of an engine that is not on the card.';
      if (act.value === null) return null;
      // The new filter takes oil: what is read before the run is not final.
      const run = steps.find((s) => s.id === `${of.engineId} run`);
      if (of.kind === 'oil level' && run && !state.ticks.has(run.id))
        return 'The level is final only after the run: the new filter takes oil. Run it, wait thirty seconds, then read.';
      return readingFault(of.kind, act.value, of.part);
    }
    case 'type': {
      const of = typedOf(act.field);
      if (of === null || (of.what !== 'part' && !tasks.some((t) => t.engineId === of.engineId)))
        return 'This figure is of an engine that is not on the card.';
      return null;
    }
    case 'skip': {
      const step = steps.find((s) => s.id === act.step);
      if (!step) return 'This step is not on the card any more.';
      return act.why !== null && step.gate !== null
        ? 'What a person confirms is not left out. Finish with the engine left open, and say why.'
        : null;
    }
    case 'hold':
      return tasks.some((t) => t.engineId === act.engineId) ? null : 'This engine is not on the card.';
    case 'decide':
      return act.take || (act.reason?.trim().length ?? 0) >= 3
        ? null
        : 'Say in a few words why the book’s proposal is not followed.';
    case 'settle':
      return record.some((e) => e.id === act.entry && e.against !== null)
        ? null
        : 'There is nothing to settle about that entry.';
    default:
      return null;
  }
}

/** A tick that would hurt the engine is not kept; one that finds it otherwise than the step wants needs a reason. */
export function hindranceOf(
  act: CardAct,
  steps: readonly Step[],
  state: CardState,
  engines: (state: CardState) => EngineState,
): string | null {
  if (act.kind !== 'tick' || !act.done || state.ticks.has(act.step)) return null;
  const step = steps.find((s) => s.id === act.step)!;
  const found = engines(state).hindrances(step);
  if (found.length === 0) return null;
  const words = found.map(hindranceText).join(' ');
  if (never(step, found)) return `"${step.text}" cannot be ticked. ${words}`;
  return (act.why?.trim().length ?? 0) >= 3 ? null : `"${step.text}": ${words} Say why it was done all the same.`;
}

/** Whose card it is says who writes on it besides, and so does the desk. */
export const joinFault = (who: Who, technicianId: number, personId: number): string | null =>
  who.role === 'technician' && who.id !== technicianId
    ? 'Whose card it is says who else writes on it.'
    : personId === technicianId
      ? 'The card is theirs already.'
      : null;
