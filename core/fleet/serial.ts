/**
 * Engine makers change parts at a serial number. A serial is letters and figures in turn
 * ("C60-40117"); figures compare as numbers, letters as letters without case, so that
 * "C60-9999" comes before "C60-10000". Common practice, no source.
 */
const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Negative, zero or positive, as `a` comes before, with or after `b`. */
export function compareSerials(a: string, b: string): number {
  return collator.compare(a.trim(), b.trim());
}

/** Both ends belong to the range; null means open at that end. */
export interface SerialRange {
  from: string | null;
  to: string | null;
}

/** Whether a serial lies in a range; an end that is null is open. */
export function serialInRange(serial: string, range: SerialRange): boolean {
  return (
    (range.from === null || compareSerials(serial, range.from) >= 0) &&
    (range.to === null || compareSerials(serial, range.to) <= 0)
  );
}

/** "from C60-40117", "up to C60-40116", "C60-1 to C60-5", or "all serials". */
export function serialRangeText(range: SerialRange): string {
  if (range.from !== null && range.to !== null) return `${range.from} to ${range.to}`;
  if (range.from !== null) return `from ${range.from}`;
  if (range.to !== null) return `up to ${range.to}`;
  return 'all serials';
}
