import { daysBetween, type Day } from '../calendar/index.ts';
import { round } from '../units/index.ts';

/** Hours an engine has lived at a day, whatever meter they were read from. */
export interface LifeReading {
  day: Day;
  hours: number;
}

/** Life hours = what the meter had behind it when fitted + its own count; one decimal. */
export function lifeHours(meterOffset: number, count: number): number {
  return round(meterOffset + count, 1);
}

/** The count a new meter's offset must have so that life hours go on without a step. */
export function offsetForNewMeter(lifeHoursNow: number, newMeterStartsAt: number): number {
  return round(lifeHoursNow - newMeterStartsAt, 1);
}

/** Hours a week over the readings of the last `windowDays` days up to `today`; null without two readings. */
export function hoursPerWeek(readings: readonly LifeReading[], today: Day, windowDays = 56): number | null {
  const recent = readings.filter((r) => daysBetween(r.day, today) <= windowDays);
  const first = recent[0];
  const last = recent.at(-1);
  if (!first || !last) return null;
  const days = daysBetween(first.day, last.day);
  if (days < 3) return null;
  return round(((last.hours - first.hours) / days) * 7, 1);
}
