import { dayFromNumber, dayInZone, dayNumber, type Day } from '../calendar/index.ts';
import { hireHoursByDay, type HireSpan } from '../hires/index.ts';
import type { UseAhead } from '../service/index.ts';
import {
  bookedBetween,
  crossingAfter,
  forecastBoat,
  hiresExplainUse,
  hoursAfter,
  hoursOn,
  hoursPerWeek,
  openBetween,
  windowAround,
  type BoatUse,
  type Habits,
  type ReadingSeries,
} from '../usage/index.ts';
import type { BoatFacts, EngineFacts } from './facts.ts';

/** Hours a week over the last eight weeks up to the day with that number; null = too few readings. */
export function weeklyHours({ days, hours }: ReadingSeries, today: number): number | null {
  const recent: { day: Day; hours: number }[] = [];
  for (let i = Math.max(0, days.length - 10); i < days.length; i++)
    recent.push({ day: dayFromNumber(days[i]!), hours: hours[i]! });
  return hoursPerWeek(recent, dayFromNumber(today));
}

/** Hires must have been kept for so many days before forecasts lean on them. */
const HIRES_TRUSTED_DAYS = 28;

const RECENT_MS = 7 * 86_400_000;

/** The boat as forecasts see it at that instant. Its engines share a base, so any of them tells it. */
export function boatOf(engines: EngineFacts[], hires: HireSpan[], now: Date): BoatFacts {
  const { boatId, baseId, timeZone, hemisphere } = engines[0]!;
  const window = windowAround(dayNumber(dayInZone(now, timeZone)));
  const from = hires[0] ? Math.max(window.first, dayNumber(dayInZone(new Date(hires[0].out), timeZone))) : Infinity;
  const kept =
    from <= window.today - HIRES_TRUSTED_DAYS
      ? { hours: hireHoursByDay(hires, window.first, window.days, timeZone), from }
      : null;
  const use: BoatUse = { window, baseId, hemisphere, hires: kept, engines };
  const since = now.getTime() - RECENT_MS;
  return {
    id: boatId,
    engines,
    hires,
    recent: { from: since, hires: hires.filter((h) => h.back >= since) },
    forecast: null,
    seasonWork: new Map(),
    seasonAhead: [],
    notReady: null,
    opensOn: null,
    use: hiresExplainUse(use) ? use : { ...use, hires: null },
  };
}

/** All hires of a boat that end at or after an instant (ms since 1970), and maybe more. */
export const hiresSince = (boat: Pick<BoatFacts, 'hires' | 'recent'> | undefined, from: number): readonly HireSpan[] =>
  boat === undefined ? [] : from >= boat.recent.from ? boat.recent.hires : boat.hires;

/** Works out how the boat's engines will run, from what boats like it have shown. */
export function foresee(boat: BoatFacts, habits: Habits): void {
  boat.forecast = forecastBoat(boat.use, habits);
}

/** How one engine of the boat will run, for its due dates: from its readings where they reach back, else from hires. */
export function aheadOf(boat: BoatFacts, engine: EngineFacts): UseAhead {
  const index = boat.engines.indexOf(engine);
  const forecast = boat.forecast!;
  const hiresFrom = boat.use.hires?.from ?? Infinity;
  const { days, hours } = engine.readings;
  const lastDay = days.length > 0 ? days[days.length - 1]! : null;
  /** Hours between a day and the last reading after it. */
  const read = (day: number) => {
    const then = lastDay !== null && day < lastDay ? hoursOn(engine.readings, day) : null;
    return then === null ? null : hours[hours.length - 1]! - then;
  };
  return {
    crossing: (day, wanted) => {
      const run = read(day);
      return run === null
        ? crossingAfter(forecast, index, day, wanted)
        : crossingAfter(forecast, index, lastDay!, Math.max(0, wanted - run));
    },
    hours: (day, to) => {
      const run = read(day);
      if (run === null) return day + 1 < hiresFrom ? null : hoursAfter(forecast, index, day, to);
      const { mean, variance } = hoursAfter(forecast, index, lastDay!, to);
      return { mean: run + mean, variance };
    },
  };
}

/** A usual day of hire, in hours. */
const DAY_HIRE_HOURS = 8;

/**
 * Chance that a day nobody has booked is still hired: the hours of hire expected of it beyond those booked, as a share
 * of a usual day.
 */
export function chanceOfHire(boat: BoatFacts | undefined, day: number): number {
  if (!boat?.forecast || !boat.use.hires) return 0;
  const { outlook, rates } = boat.forecast;
  const demand = rates[0]?.demand.mean ?? 0;
  const booked = bookedBetween(outlook, day, day + 1);
  return booked > 0 ? 0 : Math.min(1, (demand * openBetween(outlook, day, day + 1)) / DAY_HIRE_HOURS);
}
