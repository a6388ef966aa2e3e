import { cardTaskKey, type CardTask } from './change.ts';

type Keyed = Pick<CardTask, 'engineId' | 'task'>;

/**
 * Each visit of a plan with the card that becomes it: the one that shares most of its tasks, so that a card keeps its
 * number where it can.
 *
 * @returns every visit once, null = a new card; and every card once, null = it is left without a visit
 */
export function matchCards<V extends { tasks: readonly Keyed[] }, C extends { tasks: readonly Keyed[] }>(
  visits: readonly V[],
  cards: readonly C[],
): { visit: V | null; card: C | null }[] {
  const byTask = new Map(cards.flatMap((card) => card.tasks.map((t) => [cardTaskKey(t), card] as const)));
  const wishes = visits
    .flatMap((visit) => {
      const shared = new Map<C, number>();
      for (const t of visit.tasks) {
        const card = byTask.get(cardTaskKey(t));
        if (card) shared.set(card, (shared.get(card) ?? 0) + 1);
      }
      return [...shared].map(([card, n]) => ({ visit, card, n }));
    })
    .sort((a, b) => b.n - a.n);
  const pairs: { visit: V | null; card: C | null }[] = [];
  const visited = new Set<V>();
  const taken = new Set<C>();
  for (const { visit, card } of wishes) {
    if (visited.has(visit) || taken.has(card)) continue;
    visited.add(visit);
    taken.add(card);
    pairs.push({ visit, card });
  }
  for (const visit of visits) if (!visited.has(visit)) pairs.push({ visit, card: null });
  for (const card of cards) if (!taken.has(card)) pairs.push({ visit: null, card });
  return pairs;
}
