import type { Role } from '@diurna/contract';
import type { Guide } from './guide-type.ts';
import { GUIDES } from './pages.ts';

const under = (path: string, guide: string) =>
  guide.endsWith('/') ? path.startsWith(guide) : path === guide || path.startsWith(`${guide}/`);

/** The guide of a page: the one whose address is the longest of those it lies under; null = there is none. */
export function guideOf(path: string): Guide | null {
  return GUIDES.filter((g) => under(path, g.path)).sort((a, b) => b.path.length - a.path.length)[0] ?? null;
}

/** Guides in whose words all of these are found, those with them in the title first. */
export function findGuides(text: string, role: Role, most = 6): Guide[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const holds = (hay: string) => words.every((w) => hay.toLowerCase().includes(w));
  const open = GUIDES.filter((g) => g.roles?.includes(role) ?? true);
  const titled = open.filter((g) => holds(g.title));
  const said = open.filter((g) => !titled.includes(g) && holds([g.title, g.about, ...g.how].join(' ')));
  return [...titled, ...said].slice(0, most);
}
