import { clockFrom, type Clock } from '@diurna/core/calendar';

/** The machine's clock, milliseconds since 1970: for what browsers judge too, such as the end of a session. */
export const machineNow = (): number => Date.now();

/**
 * The clock of this process: the one place of the server that reads the machine's. DIURNA_NOW sets an instant
 * from which it runs on; a process started by another has with it when the other's stood there (DIURNA_NOW_SINCE).
 * @throws RangeError in words when DIURNA_NOW is no instant.
 */
export const processClock = (): Clock => {
  const { DIURNA_NOW, DIURNA_NOW_SINCE } = process.env;
  return clockFrom(DIURNA_NOW, machineNow, DIURNA_NOW_SINCE === undefined ? undefined : Number(DIURNA_NOW_SINCE));
};

/**
 * What a process is given so that its clock shows what this one's does, to the millisecond, however long it takes to
 * open: what one writes as due now is due for the others too.
 */
export const sameClock = (clock: Clock): Record<string, string> => {
  const since = machineNow();
  return { DIURNA_NOW: clock().toISOString(), DIURNA_NOW_SINCE: String(since) };
};

/**
 * Sessions and the queue go by the machine's clock; people read what the book's showed then.
 *
 * @param now of the book
 */
export const byBook = (now: Date) => {
  const ahead = now.getTime() - machineNow();
  return (at: Date | string | number) => new Date(new Date(at).getTime() + ahead).toISOString();
};
