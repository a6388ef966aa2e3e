import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/** As "nice 10": a tenth of the share of who answers people, and all of it when nobody waits. */
const LOWER = 10;

/**
 * Lets the thread that calls this give way to those that answer people. Linux counts priorities by thread (sched(7));
 * where that is not known it changes nothing.
 */
export function giveWay(): void {
  try {
    setPriority(Number(readlinkSync('/proc/thread-self').split('/').at(-1)), LOWER);
  } catch {
    // Another system: it shares the processors as it does.
  }
}
