/** What this device keeps of who used it, beside the book: names for what waits here, and whether it is locked. */
const PEOPLE = 'diurna.device.people';
const LOCKED = 'diurna.device.locked';

function people(): Record<string, string> {
  try {
    return JSON.parse(localStorage.getItem(PEOPLE) ?? '{}') as Record<string, string>;
  } catch {
    return {};
  }
}

/** Keeps the name of who opened the book here, for what of theirs may wait on this device later. */
export function rememberPerson({ id, name }: { id: number; name: string }): void {
  const known = people();
  if (known[id] !== name) localStorage.setItem(PEOPLE, JSON.stringify({ ...known, [id]: name }));
}

/** Whose entries wait here: the name, where the book was opened here by that person. */
export const nameHere = (id: number): string => people()[id] ?? 'somebody';

/** Signed out without signal: until the book has heard of it, this device opens nothing. */
export const lock = (): void => {
  localStorage.setItem(LOCKED, '1');
};
export const unlock = (): void => {
  localStorage.removeItem(LOCKED);
};
export const isLocked = (): boolean => localStorage.getItem(LOCKED) !== null;
