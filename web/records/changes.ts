export interface Change {
  field: string;
  before: string | null;
  after: string | null;
}

/** A field in words: `rateMinor` is a rate, `boatId` a boat. */
const words = (field: string) =>
  field
    .replace(/(Id|Minor)$/, '')
    .replaceAll(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`)
    .trim();

/** What stands in a field, as people say it. @param names of what is told by number: `boatId 17` */
function text(field: string, value: unknown, names: Readonly<Record<string, string>>): string | null {
  if (value === undefined || value === null || value === '') return null;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') {
    const named = names[`${field} ${value}`];
    if (named !== undefined) return named;
    return field.endsWith('Minor') ? (value / 100).toFixed(2) : String(value);
  }
  if (Array.isArray(value)) return value.map((v: unknown) => text(field, v, names) ?? 'none').join(', ');
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([key, inner]) => [words(key), text(key, inner, names)] as const)
      .filter(([, inner]) => inner !== null)
      .map(([key, inner]) => `${key} ${inner}`)
      .join(', ');
  return value as string;
}

/** The fields that differ, in the words of the form; what only one side has is shown from that side. */
export function changesOf(before: unknown, after: unknown, names: Readonly<Record<string, string>> = {}): Change[] {
  const old = asRecord(before);
  const next = asRecord(after);
  const edited = Object.keys(old).length > 0 && Object.keys(next).length > 0;
  const fields = edited ? Object.keys(next) : [...new Set([...Object.keys(old), ...Object.keys(next)])];
  return fields
    .filter((f) => !['id', 'version'].includes(f))
    .map((f) => ({ field: words(f), before: text(f, old[f], names), after: text(f, next[f], names) }))
    .filter((c) => c.before !== c.after);
}

function asRecord(value: unknown): Record<string, unknown> {
  return value !== null && typeof value === 'object' && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
}
