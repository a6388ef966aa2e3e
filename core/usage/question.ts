import { daysBetween } from '../calendar/index.ts';
import { round } from '../units/index.ts';
import type { LifeReading } from './reading.ts';

/**
 * Why a typed reading is questioned. The person corrects it, or confirms it with a reason
 * and it stays marked.
 * - `lower`: below the last reading.
 * - `faster than the clock`: more than 24 h a day since the last reading.
 * - `off habit`: far more than this engine has ever run in such a time.
 */
export const DOUBTS = ['lower', 'faster than the clock', 'off habit'] as const;
export type Doubt = (typeof DOUBTS)[number];

export interface Question {
  doubt: Doubt;
  /** A sentence for the person who typed it. */
  text: string;
}

/** How many earlier steps between readings make a habit. */
const HABIT_STEPS = 3;
/** How far past the engine's busiest recent pace a step may go before it is questioned, and the slack on top (h). */
const HABIT_FACTOR = 2;
const HABIT_SLACK = 6;

/**
 * Questions a new reading (life hours) against the readings before it, oldest first.
 * The 24 h limit counts the days from the day of the last reading to the day of this one, both
 * included, because a reading carries no surer clock than its day.
 *
 * @param later the next reading after this one, where a reading is added behind the last.
 * Common practice, no source; the 24 h limit is arithmetic.
 */
export function questionReading(
  earlier: readonly LifeReading[],
  next: LifeReading,
  later: LifeReading | null = null,
): Question | null {
  if (later && next.hours > later.hours) {
    return {
      doubt: 'lower',
      text: `${round(next.hours - later.hours, 1)} h above the later reading of ${later.hours} h. A typing slip?`,
    };
  }
  const last = earlier.at(-1);
  if (!last) return null;
  const rise = round(next.hours - last.hours, 1);
  if (rise < 0) {
    return {
      doubt: 'lower',
      text: `${-rise} h below the last reading of ${last.hours} h. A typing slip, or a new meter?`,
    };
  }
  const days = Math.max(0, daysBetween(last.day, next.day));
  if (rise > 24 * (days + 1)) {
    return {
      doubt: 'faster than the clock',
      text: `+${rise} h in ${daysText(days)} is more than 24 h a day. A figure too many?`,
    };
  }
  const usual = busiestPace(earlier);
  if (usual !== null) {
    const expected = usual * Math.max(1, days) * HABIT_FACTOR + HABIT_SLACK;
    if (rise > expected) {
      return {
        doubt: 'off habit',
        text: `+${rise} h in ${daysText(days)}; at its busiest pace it would be ${round(usual * Math.max(1, days), 1)} h. Typo?`,
      };
    }
  }
  return null;
}

/** Hours a day of the busiest of the last steps, or null while there are too few of them. */
function busiestPace(readings: readonly LifeReading[]): number | null {
  const recent = readings.slice(-13);
  let busiest = 0;
  let steps = 0;
  for (let i = 1; i < recent.length; i++) {
    const days = daysBetween(recent[i - 1]!.day, recent[i]!.day);
    const rise = recent[i]!.hours - recent[i - 1]!.hours;
    if (days < 1 || rise < 0) continue;
    steps++;
    busiest = Math.max(busiest, rise / days);
  }
  return steps >= HABIT_STEPS ? busiest : null;
}

function daysText(days: number): string {
  return days === 0 ? 'the same day' : days === 1 ? '1 day' : `${days} days`;
}
