import { daysBetween, type Day } from '@diurna/core/calendar';
import { breakInAt, type BreakInState } from '@diurna/core/service';

const LOG_DAYS = 182;

/**
 * How far an engine bought new is run in; null = it is over. Without a meter and a log nobody knows: after half a year
 * it has run for certain.
 *
 * @param logged hours written down by those who ran it in; null = none
 */
export function runInState(
  meterHours: number | null,
  logged: number | null,
  inServiceOn: Day | null,
  today: Day,
): BreakInState | null {
  if (meterHours === null && logged === null && (inServiceOn === null || daysBetween(inServiceOn, today) > LOG_DAYS))
    return null;
  const state = breakInAt(meterHours, logged ?? 0);
  return state.phase === null ? null : state;
}
