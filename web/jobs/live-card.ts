import { shortNames } from '@diurna/core/people';
import type { JobCard as Card } from '@diurna/contract/jobs';
import {
  cardAtWork,
  foldCard,
  gatesOf as gatesOfWork,
  missingToFinish,
  overtakenIn,
  readingsWanted,
  placedText,
  workFacts,
  type CardAtWork,
  type CardEntry,
  type Fact,
  type Missing,
  type Step,
  type VisitTask,
} from '@diurna/core/visit';

/** A card as it stands with what this phone has written on it, sent or not. */
export interface LiveCard extends CardAtWork {
  card: Card;
  /** Tasks with their state as the entries make it. */
  tasks: Card['tasks'];
  /** Entries that wait on this phone. */
  waiting: number;
  nameOf: (personId: number) => string;
}

/** What nobody knows of an engine when the technician comes: whether there is oil in it. */
const openOn = (card: Card): Map<number, Fact[]> =>
  new Map(card.engines.flatMap((e) => (e.oilUnknown ? [[e.id, ['sump oil' as const]]] : [])));

/** The card's own entries, then those on the phone; one that the book has already is counted once. */
export function liveCard(card: Card, waiting: readonly CardEntry[], me: { id: number; name: string }): LiveCard {
  const known = new Set(card.entries.map((e) => e.id));
  const own = waiting.filter((e) => !known.has(e.id));
  const work = cardAtWork(card.steps, foldCard([...card.entries, ...own]), openOn(card));
  const called = shortNames(new Map([[me.id, me.name], ...card.people.map((p): [number, string] => [p.id, p.name])]));
  return {
    ...work,
    card,
    waiting: own.length,
    tasks:
      card.status === 'open'
        ? card.tasks.map((t) => ({ ...t, state: work.done.has(`${t.engineId} ${t.task}`) ? 'done' : 'open' }))
        : card.tasks,
    nameOf: (id) => called.get(id) ?? 'a colleague',
  };
}

export const countdown = (ms: number) =>
  `${Math.floor(ms / 60_000)}:${String(Math.floor((ms % 60_000) / 1000)).padStart(2, '0')}`;

/** The card's tasks as the visit's steps are written down from them. */
function workOf({ card, tasks }: Pick<LiveCard, 'card' | 'tasks'>): VisitTask[] {
  return tasks.flatMap(({ engineId, task }): VisitTask[] => {
    const engine = card.engines.find((e) => e.id === engineId);
    return engine
      ? [
          {
            engineId,
            task,
            cylinders: engine.cylinders,
            engine: { facts: workFacts(engine), sump: engine.sump, gearCase: engine.gearCase },
          },
        ]
      : [];
  });
}

/** Whether a step is not just ticked: something stands in its way, or it asks for what was seen. */
export function wantsLook({ card, engines, state }: LiveCard, step: Step): boolean {
  const cylinders = card.engines.find((e) => e.id === step.engineId)?.cylinders ?? 1;
  return engines.hindrances(step).length > 0 || readingsWanted(step, cylinders, state).length > 0;
}

/** Whether every step that is not passed over is ticked. */
export const nothingLeft = ({ steps, state, passed }: LiveCard): boolean =>
  steps.length > 0 && steps.every(({ step }) => state.ticks.has(step.id) || passed.has(step.id));

/** What keeps the card from being finished, as the book will ask for it. */
export const missingOn = (live: LiveCard): Missing[] =>
  missingToFinish(
    live,
    workOf(live),
    new Set(live.tasks.filter((t) => t.state === 'done').map((t) => `${t.engineId} ${t.task}`)),
  );

/** The gates of the work that is done: those not confirmed keep the card from being finished. */
export function gatesOf(
  live: LiveCard,
): { id: string; text: string; gate: string; done: boolean; again: string | null }[] {
  const again = overtakenIn(live);
  const plain = live.steps.map((t) => t.step);
  const done = new Set(live.tasks.filter((t) => t.state === 'done').map((t) => `${t.engineId} ${t.task}`));
  return gatesOfWork(plain, workOf(live), done).map((step) => ({
    id: step.id,
    text: placedText(live.card.engines, step),
    gate: step.gate,
    done: live.state.ticks.has(step.id) && !again.has(step.id),
    again: again.get(step.id)?.text ?? null,
  }));
}
