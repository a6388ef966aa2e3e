import type { JobSummary } from '@diurna/contract/jobs';
import { worksOf } from '@diurna/core/service';

/**
 * A card kept on a phone before work went by the names of services: a new page opens it without signal too, and calls
 * each task by its own name.
 */
export const withWorks = <C extends Pick<JobSummary, 'tasks' | 'works'>>(card: C): C =>
  (card.works as C['works'] | undefined) === undefined ? { ...card, works: worksOf(card.tasks, () => []) } : card;
