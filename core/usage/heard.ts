/** Engine time a box on the boat has sent: when, by its own clock, and the counter in seconds. */
export interface EngineTime {
  at: number;
  seconds: number;
}

/** What becomes of a message: taken; the same again; older than what is known; or refused, with a sentence. */
export type Heard =
  | { is: 'taken'; at: number; clockOff: boolean }
  | { is: 'repeated' }
  | { is: 'late' }
  | { is: 'refused'; why: string };

/** A clock further ahead than this is wrong. */
const AHEAD_MS = 10 * 60_000;
/** Clocks that were never set begin here or before. */
const UNSET_BEFORE = Date.UTC(2015, 0, 1);
/** Counters are sent in steps, and clocks are not quite alike: so much (s) is no fault. */
const SLACK_SECONDS = 720;
/** What a counter of six figures can show (s). */
const MOST_SECONDS = 99_999.9 * 3600;

/**
 * Weighs a message against the last one taken from the same engine.
 *
 * A box may send twice, out of order, after days without signal, with its clock wrong, or nonsense. What
 * is true stays true whatever the order: the counter only goes up, and no faster than the clock.
 */
export function weighEngineTime(last: EngineTime | null, message: EngineTime, now: number): Heard {
  const { seconds } = message;
  if (!Number.isFinite(seconds) || seconds < 0 || seconds > MOST_SECONDS)
    return {
      is: 'refused',
      why: `${Number.isFinite(seconds) ? Math.round(seconds / 3600) : 'no'} hours is no engine time`,
    };
  const clockOff = !Number.isFinite(message.at) || message.at > now + AHEAD_MS || message.at < UNSET_BEFORE;
  const at = clockOff ? now : message.at;
  if (last === null) return { is: 'taken', at, clockOff };
  if (at === last.at && seconds === last.seconds) return { is: 'repeated' };
  if (at <= last.at) {
    return seconds <= last.seconds + SLACK_SECONDS
      ? { is: 'late' }
      : { is: 'refused', why: `shows ${hours(seconds - last.seconds)} h more than a later message` };
  }
  if (seconds < last.seconds - SLACK_SECONDS) {
    return {
      is: 'refused',
      why: `the counter went down from ${hours(last.seconds)} to ${hours(seconds)} h: a reset, or another engine computer. Change the meter on the engine’s page`,
    };
  }
  const passed = (at - last.at) / 1000;
  if (seconds - last.seconds > passed + SLACK_SECONDS)
    return { is: 'refused', why: `${hours(seconds - last.seconds)} h more within ${hours(passed)} h by the clock` };
  return { is: 'taken', at, clockOff };
}

const hours = (seconds: number) => (seconds / 3600).toFixed(1);
