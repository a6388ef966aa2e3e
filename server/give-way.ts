import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/**
 * How far a thread steps back, as "nice" counts: a plan gets a tenth of the share of who answers people, what has a
 * deadline half of it; each gets all there is when nobody else wants it.
 */
const BACK = { plan: 10, deadline: 3 };

/**
 * Lets the thread that calls this give way to those that answer people. Linux counts priorities by thread (sched(7));
 * where that is not known it changes nothing.
 * @param to how far: as a plan does, or as what has to be done by a deadline
 */
export function giveWay(to: keyof typeof BACK = 'plan'): void {
  try {
    setPriority(Number(readlinkSync('/proc/thread-self').split('/').at(-1)), BACK[to]);
  } catch {
    // Another system: it shares the processors as it does.
  }
}
