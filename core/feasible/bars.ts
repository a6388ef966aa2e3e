/** What can keep work from being done by this person in this place at this time, as a person would look. */
export const BARS = [
  'person off',
  'other base',
  'no skill',
  'boat out',
  'gap too short',
  'boat taken',
  'no hours',
  'no lift',
  'no second person',
  'no part',
  'wrong order',
] as const;
export type Bar = (typeof BARS)[number];
