import type { api } from './api.ts';

type Tag = Parameters<typeof api.util.invalidateTags>[0][number];

/** What on the screen a message makes old. */
export function tagsOf(message: string): Tag[] {
  const [subject, id] = message.split(' ');
  switch (subject) {
    case 'card':
      return [{ type: 'Card', id: Number(id) }, 'Progress'];
    case 'job':
      return [{ type: 'Card', id: Number(id) }, 'Progress', 'Jobs'];
    // A hold stands on the engine's cards as well.
    case 'engine':
      return ['Condition', 'Due', 'Card'];
    case 'snag':
      return ['Snags'];
    case 'wanted':
      return ['Wanted'];
    case 'hire':
      return ['Hires'];
    case 'all':
      return ['Card', 'Progress', 'Jobs', 'Condition', 'Snags', 'Hires', 'Wanted'];
    default:
      return [];
  }
}
