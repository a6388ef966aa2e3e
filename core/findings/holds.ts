import { TASKS, type TaskKind } from '../service/index.ts';

/** An engine that must not go out, since when and until what is done. */
export interface Hold {
  engineId: number;
  /** Milliseconds since 1970. */
  at: number;
  checks: readonly TaskKind[];
}

/** A service written down for the engine; cancelled ones are left out. */
export interface DoneSince {
  task: TaskKind;
  /** When hands began on it and when it was over, in milliseconds since 1970; left out: at once. */
  from?: number;
  at: number;
}

/**
 * The checks a hold names that nobody has done since. Only work begun after what was read can clear what it found: a
 * pump that went in before the weak stream was seen does not count as its repair. They count in the order they are
 * named: lube filled in before the seals were done is not the lube wanted after them, and the case that was open all
 * the while is filled after them.
 */
export function checksMissing(hold: Hold, done: readonly DoneSince[]): TaskKind[] {
  const log = done.filter((d) => d.at > hold.at).sort((a, b) => a.at - b.at);
  let from = 0;
  for (const [i, task] of hold.checks.entries()) {
    // Two services of one card are written down at the same moment.
    const found = log.findIndex(
      (d, at) => (at >= from || d.at === log[from - 1]?.at) && d.task === task && (i > 0 || (d.from ?? d.at) > hold.at),
    );
    if (found < 0) return hold.checks.slice(i);
    from = Math.max(from, found + 1);
  }
  return [];
}

/** Why the hold cannot be released yet; null = it can. */
export function releaseFault(hold: Hold, done: readonly DoneSince[]): string | null {
  const missing = checksMissing(hold, done);
  return missing.length === 0
    ? null
    : `Not before this is done and in the log: ${missing.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.`;
}
