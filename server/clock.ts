import { clockFrom, type Clock } from '@diurna/core/calendar';

/** The machine's clock, milliseconds since 1970: for what browsers judge too, such as the end of a session. */
export const machineNow = (): number => Date.now();

/**
 * The clock of this process: the one place of the server that reads the machine's. DIURNA_NOW sets an instant
 * from which it runs on.
 * @throws RangeError in words when DIURNA_NOW is no instant.
 */
export const processClock = (): Clock => clockFrom(process.env.DIURNA_NOW, machineNow);

/**
 * Sessions and the queue go by the machine's clock; people read what the book's showed then.
 *
 * @param now of the book
 */
export const byBook = (now: Date) => {
  const ahead = now.getTime() - machineNow();
  return (at: Date | string | number) => new Date(new Date(at).getTime() + ahead).toISOString();
};
