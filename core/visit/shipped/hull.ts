import type { Template } from '../template.ts';

/** Chores of the hull when a boat is put away, once for the boat. Common practice, no source. */
export const HULL: Template = [
  { key: 'inside', text: 'Cushions up on edge, lockers and bilge cleared of debris', share: 9, after: ['arrive'] },
  { key: 'dry', text: 'Standing water out: bilge, wells and drains run dry', share: 6, after: ['inside'] },
  {
    key: 'bungs',
    text: 'Ashore: drain bungs out, hung at the wheel where they are seen',
    detail: 'Afloat they stay in, and the bilge pump keeps its current.',
    share: 2,
    after: ['dry'],
    caution: 'Only where the boat stands ashore: afloat it sinks.',
  },
  {
    key: 'trailer',
    text: 'Trailer rinsed: brakes, springs, lamps; the boat level, its weight off the tyres',
    share: 5,
    after: ['bungs'],
  },
  { key: 'cover', text: 'Cover on, with air under it, and its card at it', share: 8, after: ['trailer'] },
];
