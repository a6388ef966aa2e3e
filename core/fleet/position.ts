/** Where an engine hangs on a boat, in the order people say them. */
export const POSITIONS = ['single', 'port', 'centre', 'starboard', 'kicker'] as const;
export type Position = (typeof POSITIONS)[number];

/** "Turnstone port", and plain "Whimbrel" where the boat has one engine only. */
export function engineName(boat: string, position: Position): string {
  return position === 'single' ? boat : `${boat} ${position}`;
}
