import type { JobCard, JobSummary } from '@diurna/contract/jobs';
import { worksOf } from '@diurna/core/service';

/**
 * A card kept on a phone before work went by the names of services: a new page opens it without signal too, and calls
 * each task by its own name.
 */
export const withWorks = <C extends Pick<JobSummary, 'tasks' | 'works'>>(card: C): C =>
  (card.works as C['works'] | undefined) === undefined ? { ...card, works: worksOf(card.tasks, () => []) } : card;

/** A card kept before its parts knew containers and other numbers. */
export const withShelf = <C extends Pick<JobCard, 'parts'>>(card: C): C => ({
  ...card,
  parts: card.parts.map((p) => ({ ...NO_SHELF, ...p })),
});
const NO_SHELF = { open: [], sizes: [], instead: [] };
