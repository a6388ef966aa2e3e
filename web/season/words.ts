/** The leaves of the room. */
export const SEASON_LEAVES: [to: string, word: string][] = [
  ['/season', 'Boats'],
  ['/season/plan', 'Backwards'],
  ['/season/batteries', 'Batteries'],
  ['/season/shelf', 'What it takes'],
  ['/season/put-off', 'Put off'],
  ['/season/paper', 'On paper'],
  ['/season/year', 'Year and places'],
];

export const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
export const KIND_WORDS = { hall: 'hall', yard: 'yard', afloat: 'afloat' } as const;
