export interface Change {
  field: string;
  before: string | null;
  after: string | null;
}

const words = (field: string) => field.replaceAll(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`);

function text(value: unknown): string | null {
  if (value === undefined || value === null) return null;
  return typeof value === 'string' ? value : JSON.stringify(value);
}

/** The fields that differ, in the words of the form; what only one side has is shown from that side. */
export function changesOf(before: unknown, after: unknown): Change[] {
  const old = asRecord(before);
  const next = asRecord(after);
  const edited = Object.keys(old).length > 0 && Object.keys(next).length > 0;
  const fields = edited ? Object.keys(next) : [...new Set([...Object.keys(old), ...Object.keys(next)])];
  return fields
    .filter((f) => !['id', 'version'].includes(f))
    .map((f) => ({ field: words(f), before: text(old[f]), after: text(next[f]) }))
    .filter((c) => c.before !== c.after);
}

function asRecord(value: unknown): Record<string, unknown> {
  return value !== null && typeof value === 'object' && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
}
