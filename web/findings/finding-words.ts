import type { FindingRow } from '@diurna/contract/findings';
import { findingsOf, WEIGHTS, type Finding, type Proposal, type ReadingValue } from '@diurna/core/findings';
import { traitsOf } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { readingsOf, tasksBegun } from '@diurna/core/visit';
import type { LiveCard } from '../jobs/index.ts';

/** What a proposal would do, in words. */
export function proposalText(p: Proposal): string {
  switch (p.kind) {
    case 'hold':
      return `the engine is held until ${p.checks.map((t) => TASKS[t].word.toLowerCase()).join(', then ')} ${p.checks.length === 1 ? 'is' : 'are'} in the log and a coordinator lets it go`;
    case 'follow-up':
      return `${TASKS[p.task].word.toLowerCase()} ${p.when === 'now' ? 'asked for now' : p.when === 'after the one before' ? 'after that' : `in ${p.when} days`}`;
    case 'shorten':
      return `${TASKS[p.task].word.toLowerCase()} of this boat at ${p.percent} % of its interval`;
    case 'order':
      return `${p.what ?? `parts for ${TASKS[p.task].word.toLowerCase()}`} asked for from Stores`;
  }
}

export type Shown = Pick<
  FindingRow,
  'key' | 'engineId' | 'weight' | 'seen' | 'means' | 'does' | 'proposals' | 'state' | 'by' | 'reason'
>;

/** Findings as the readings on this phone give them, with what became of those the book knows. */
export function findingsOn({ card, state }: Pick<LiveCard, 'card' | 'state'>): Shown[] {
  if (card.status !== 'open') return card.findings.filter((f) => f.state !== 'withdrawn');
  const readings = readingsOf(state);
  const plain = card.steps.map((t) => t.step);
  const now: Finding[] = card.engines.flatMap((e) =>
    findingsOf(
      {
        id: e.id,
        cylinders: e.cylinders,
        traits: traitsOf(e),
        sump: e.sump,
        gearCase: e.gearCase,
        firstOil: e.firstOil,
        oilUnknown: e.oilUnknown,
        planned: new Set(card.tasks.filter((t) => t.engineId === e.id).map((t) => t.task)),
        past: e.past,
        day: card.day,
        hours: e.recent.at(-1)?.hours ?? null,
        worked: tasksBegun(plain, state, e.id),
      },
      readings,
    ),
  );
  // One that was taken back on this phone is open, though the book does not know yet.
  const decided = card.findings.filter(
    (f) => (f.state === 'taken' || f.state === 'overridden') && state.decisions.has(f.key),
  );
  const shown = [
    ...now
      .filter((f) => !decided.some((d) => d.key === f.key))
      .map((f): Shown => {
        const own = state.decisions.get(f.key);
        return {
          ...f,
          state: own ? (own.take ? 'taken' : 'overridden') : 'open',
          by: null,
          reason: own?.reason ?? null,
        };
      }),
    ...decided,
  ];
  // Each keeps its place when it is decided: nothing jumps from under the finger.
  return shown.sort((a, b) => WEIGHTS.indexOf(b.weight) - WEIGHTS.indexOf(a.weight) || a.key.localeCompare(b.key));
}

/** Whether these readings would find nothing that the card does not show already. */
export function findsNothing(
  live: Pick<LiveCard, 'card' | 'state'>,
  keys: readonly string[],
  value: ReadingValue,
): boolean {
  const readings = new Map(live.state.readings);
  for (const key of keys) readings.set(key, { value, at: 0, by: 0, nth: 0 });
  const known = new Set(findingsOn(live).map((f) => f.key));
  return findingsOn({ card: live.card, state: { ...live.state, readings } }).every(
    (f) => f.weight === 'normal' || known.has(f.key),
  );
}
