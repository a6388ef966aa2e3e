import { TAGS, type api } from './api.ts';

type Tag = Parameters<typeof api.util.invalidateTags>[0][number];

/**
 * What on the screen a change of a subject makes old. The plan being made is not among it: it is held against the book
 * when it is accepted.
 */
const OLD: Record<string, readonly Tag[]> = {
  readings: ['Hours', 'Due', 'Fleet'],
  service: ['Due', 'Records', 'Condition'],
  stock: ['Stores', 'Wanted'],
  wanted: ['Wanted'],
  hires: ['Hires', 'Due'],
  rules: ['Rules', 'Due'],
  templates: ['Templates'],
  fleet: ['Fleet', 'Due'],
  people: ['People', 'Session'],
  session: ['Session'],
  work: ['Work'],
  plan: ['Jobs', 'Due', 'Work'],
  notices: ['Notices'],
  messages: ['Messages'],
  mail: ['Mail'],
  changes: ['Changes'],
  boxes: ['Hours'],
  waste: ['Waste'],
  season: ['Season'],
  snag: ['Snags'],
  // A hold stands on the engine's cards as well.
  engine: ['Condition', 'Due', 'Card'],
};
const ALL: readonly Tag[] = TAGS.filter((tag) => tag !== 'Plan');

/** What on the screen a message makes old: "readings", "card 12". */
export function tagsOf(message: string): readonly Tag[] {
  const [subject = '', id] = message.split(' ');
  if (subject === 'all') return ALL;
  if (subject === 'card') return [{ type: 'Card', id: Number(id) }, 'Progress'];
  if (subject === 'job') return [{ type: 'Card', id: Number(id) }, 'Progress', 'Jobs', 'Changes'];
  return OLD[subject] ?? [];
}
