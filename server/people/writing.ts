import type { Writing } from '@diurna/contract/people';
import type { tables } from '../db/index.ts';

/** How the yard writes hours, weeks and volumes; a book without settings yet writes as the book comes. */
export function writingOf(settings: typeof tables.setting.$inferSelect | undefined): Writing {
  return {
    clock: settings?.clock ?? '24',
    weekStarts: (settings?.weekStarts ?? 1) as Writing['weekStarts'],
    volumes: settings?.volumes ?? 'litres',
  };
}
