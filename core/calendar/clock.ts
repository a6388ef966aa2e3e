/** Tells the instant it is. Handed from the one place of each process that reads the machine's clock. */
export type Clock = () => Date;

const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2})$/;

/**
 * A clock that stands at `start` now and runs on from there at the pace of `machine`; without a start it is
 * the machine's own.
 * @param start an instant with its offset, `2026-04-15T10:00:00Z`; what the setting DIURNA_NOW holds.
 * @param machine reads the machine's clock, milliseconds since 1970.
 * @param since when it stood at `start` by the machine's clock, milliseconds since 1970: of several processes that are
 * given the same two, all show the same; without it, now.
 * @throws RangeError with a sentence for the person who set it when `start` is no such instant.
 */
export function clockFrom(start: string | undefined, machine: () => number, since?: number): Clock {
  if (start === undefined || start === '') return () => new Date(machine());
  const at = INSTANT.test(start) ? Date.parse(start) : NaN;
  if (Number.isNaN(at))
    throw new RangeError(`DIURNA_NOW is "${start}", which is no instant. Write it like 2026-04-15T10:00:00Z.`);
  const ahead = at - (since ?? machine());
  return () => new Date(machine() + ahead);
}
