const firstOf = (name: string): string => name.split(' ')[0]!;

/** First names that several of these people have. */
export function sharedFirstNames(names: readonly string[]): ReadonlySet<string> {
  const seen = new Set<string>();
  const shared = new Set<string>();
  for (const first of names.map(firstOf)) (seen.has(first) ? shared : seen).add(first);
  return shared;
}

/** What people call each other: the first name, or the whole one where others have that first name too. */
export const shortName = (name: string, shared: ReadonlySet<string>): string =>
  shared.has(firstOf(name)) ? name : firstOf(name);

/** Short names by id. */
export function shortNames<K>(people: Iterable<readonly [id: K, name: string]>): Map<K, string> {
  const list = [...people];
  const shared = sharedFirstNames(list.map(([, name]) => name));
  return new Map(list.map(([id, name]) => [id, shortName(name, shared)]));
}
