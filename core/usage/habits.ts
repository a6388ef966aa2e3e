import {
  crossing,
  hoursBetween,
  bookedBetween,
  outlook,
  type Crossing,
  type EngineRates,
  type HoursAhead,
  type Outlook,
} from './forecast.ts';
import type { Position } from '../fleet/index.ts';
import { bookingCurve, type BookingCurve, type HireSpan } from '../hires/index.ts';
import { Pools, type PoolMember } from './pools.ts';
import {
  NO_USE,
  ONE,
  rateOf,
  summarise,
  USUAL_HIRES,
  USUAL_HOURS,
  USUAL_KICKER_SHARE,
  USUAL_SHARE,
  type UseSummary,
} from './rate.ts';
import {
  BASE_LEANS,
  BOAT_LEANS,
  busyDays,
  learnSeason,
  seasonCurve,
  usualSeason,
  type SeasonCurve,
  type SeasonProfile,
} from './season.ts';
import { addMonthlyUse, noMonthlyUse, useSteps, type ReadingSeries } from './steps.ts';

/** How far back habits are learned, and how far ahead limits are looked for (days). */
export const DAYS_BEHIND = 740;
export const DAYS_AHEAD = 400;

/** The days the fleet is looked at over, around the day number of today. */
export interface Window {
  today: number;
  first: number;
  days: number;
}

/** The days habits are learned from and foreseen for, around the day with that number. */
export const windowAround = (today: number): Window => ({
  today,
  first: today - DAYS_BEHIND,
  days: DAYS_BEHIND + DAYS_AHEAD,
});

/** What is known of a boat's use and its engines'. */
export interface BoatUse {
  /** Around the day it is at the base. */
  window: Window;
  baseId: number;
  hemisphere: 'north' | 'south';
  /** Hours on hire of each day of the window, kept since day number `from`; null for a boat without hires. */
  hires: { hours: Float64Array; from: number } | null;
  engines: readonly { modelId: number; position: Position; readings: ReadingSeries }[];
}

/**
 * What the fleet's past teaches, worked out once a day: seasons, how far ahead people book, what engines have in
 * common.
 */
export interface Habits {
  seasons: ReadonlyMap<number, SeasonProfile>;
  bookings: BookingCurve;
  hirePools: Pools;
  hourPools: Pools;
  sharePools: Pools;
  /** Of kickers, which run little of the time their boat is out. */
  kickerPools: Pools;
}

/** How a boat's engines will run. Rates stand in the order of its engines. */
export interface BoatForecast {
  outlook: Outlook;
  rates: EngineRates[];
}

const NO_READINGS: ReadingSeries = { days: [], hours: [] };
const likenessOfEngine = (baseId: number, modelId: number) => [`base ${baseId} model ${modelId}`, `model ${modelId}`];
/** Engines of boats that are out day and night run a smaller share of it than those of day hire. */
function likenessOfShare(boat: BoatUse, modelId: number): string[] {
  const style = nightsOut(boat) ? 'nights' : 'days';
  return [`${style} base ${boat.baseId} model ${modelId}`, `${style} model ${modelId}`, style];
}

/** Longer than this on an average day out, and the boat is away overnight. */
const DAY_HIRE_HOURS = 14;

function nightsOut({ hires, window }: BoatUse): boolean {
  let hours = 0;
  let days = 0;
  for (let i = 0; hires && i < window.today - window.first; i++) {
    if (hires.hours[i]! <= 0) continue;
    hours += hires.hours[i]!;
    days++;
  }
  return days > 0 && hours / days > DAY_HIRE_HOURS;
}

const likenessOfBoat = (baseId: number) => [`base ${baseId}`];

/** So many days back, hires have to account for what the meters say. */
const EXPLAINED_DAYS = 56;
/** Work in the yard and running up: not every hour is a hire's (h). */
const YARD_HOURS = 8;

/**
 * Whether the hires in the book account for what the engines ran lately. Where an engine ran longer than its
 * boat was out, hires are not all written down (or no longer), and a forecast from them would come too late.
 */
export function hiresExplainUse({ hires, engines, window: { first, today } }: BoatUse): boolean {
  if (!hires) return false;
  return engines.every(({ readings }) => {
    const n = readings.days.length;
    let i = n - 1;
    while (i > 0 && readings.days[i]! > today - EXPLAINED_DAYS) i--;
    // Only what lies within the days hires are kept for.
    while (i < n && readings.days[i]! < hires.from) i++;
    if (n - i < 2) return true;
    let out = 0;
    for (let day = readings.days[i]! + 1; day <= readings.days[n - 1]!; day++) out += hires.hours[day - first] ?? 0;
    return readings.hours[n - 1]! - readings.hours[i]! <= out + YARD_HOURS;
  });
}

/** Learns from the whole fleet. `past` are hires that are over, for how far ahead people book. */
export function learnHabits(boats: readonly BoatUse[], past: readonly HireSpan[]): Habits {
  const bookings = bookingCurve(past);
  const months = new Map<number, { use: ReturnType<typeof noMonthlyUse>; hemisphere: 'north' | 'south' }>();
  for (const boat of boats) {
    let base = months.get(boat.baseId);
    if (!base) months.set(boat.baseId, (base = { use: noMonthlyUse(), hemisphere: boat.hemisphere }));
    addMonthlyUse(base.use, seriesOf(boat), usualCurve(boat.hemisphere, boat.window));
  }
  const seasons = new Map(
    [...months].map(([id, { use, hemisphere }]) => [id, learnSeason(use, usualSeason(hemisphere), BASE_LEANS)]),
  );
  const hired: PoolMember[] = [];
  const own: PoolMember[] = [];
  const shares: PoolMember[] = [];
  const kickers: PoolMember[] = [];
  for (const boat of boats) {
    const season = seasonOfBoat(boat, seasons.get(boat.baseId)!);
    if (boat.hires)
      hired.push({
        likeness: likenessOfBoat(boat.baseId),
        use: demandOf(seriesOf(boat), season, boat.window, USUAL_HIRES.mean),
      });
    const boatOutlook = boat.hires && outlookOf(boat, season, bookings);
    for (const engine of boat.engines) {
      if (boatOutlook)
        (engine.position === 'kicker' ? kickers : shares).push({
          likeness: likenessOfShare(boat, engine.modelId),
          use: shareOf(engine.readings, boatOutlook, boat.window),
        });
      else
        own.push({
          likeness: likenessOfEngine(boat.baseId, engine.modelId),
          use: demandOf(engine.readings, season, boat.window, USUAL_HOURS.mean),
        });
    }
  }
  return {
    seasons,
    bookings,
    hirePools: new Pools(hired, USUAL_HIRES),
    hourPools: new Pools(own, USUAL_HOURS),
    sharePools: new Pools(shares, USUAL_SHARE),
    kickerPools: new Pools(kickers, USUAL_KICKER_SHARE),
  };
}

/** The outlook of one boat and the rates of its engines, from the habits of the fleet and its own past. */
export function forecastBoat(boat: BoatUse, habits: Habits): BoatForecast {
  const season = seasonOfBoat(boat, habits.seasons.get(boat.baseId) ?? usualSeason(boat.hemisphere));
  const boatOutlook = outlookOf(boat, season, habits.bookings);
  const hired =
    boat.hires &&
    rateOf(
      demandOf(seriesOf(boat), season, boat.window, USUAL_HIRES.mean),
      habits.hirePools.of(likenessOfBoat(boat.baseId)),
    );
  return {
    outlook: boatOutlook,
    rates: boat.engines.map(({ modelId, position, readings }) =>
      hired
        ? {
            demand: hired,
            share: rateOf(
              shareOf(readings, boatOutlook, boat.window),
              (position === 'kicker' ? habits.kickerPools : habits.sharePools).of(likenessOfShare(boat, modelId)),
            ),
          }
        : {
            demand: rateOf(
              demandOf(readings, season, boat.window, USUAL_HOURS.mean),
              habits.hourPools.of(likenessOfEngine(boat.baseId, modelId)),
            ),
            share: ONE,
          },
    ),
  };
}

/** By hemisphere and first day: the same few for all boats of a day. */
const curves = new Map<string, SeasonCurve>();

function usualCurve(hemisphere: 'north' | 'south', { first, days }: Window): SeasonCurve {
  const key = `${hemisphere} ${first} ${days}`;
  let curve = curves.get(key);
  if (!curve) {
    if (curves.size > 50) curves.clear();
    curves.set(key, (curve = seasonCurve(usualSeason(hemisphere), first, days)));
  }
  return curve;
}

function seasonOfBoat(boat: BoatUse, base: SeasonProfile): SeasonCurve {
  const own = noMonthlyUse();
  addMonthlyUse(own, seriesOf(boat), usualCurve(boat.hemisphere, boat.window));
  return seasonCurve(learnSeason(own, base, BOAT_LEANS), boat.window.first, boat.window.days);
}

const outlookOf = (boat: BoatUse, season: SeasonCurve, bookings: BookingCurve): Outlook =>
  outlook(boat.window.first, boat.window.days, boat.window.today, season, boat.hires && { ...boat.hires, bookings });

function demandOf(series: ReadingSeries, season: SeasonCurve, { today }: Window, usual: number): UseSummary {
  return summarise(
    useSteps(series, (from, to) => busyDays(season, from, to)),
    today,
    usual,
  );
}

function shareOf(readings: ReadingSeries, boat: Outlook, { today }: Window): UseSummary {
  if (readings.days.length === 0) return NO_USE;
  return summarise(
    useSteps(readings, (from, to) => bookedBetween(boat, from, to)),
    today,
    USUAL_SHARE.mean,
  );
}

/** The boat's use as one series: hours on hire week by week, or what its most read engine ran. */
function seriesOf({ hires, engines, window: { first, today } }: BoatUse): ReadingSeries {
  if (!hires)
    return engines.reduce((most, e) => (e.readings.days.length > most.days.length ? e.readings : most), NO_READINGS);
  const from = Math.max(first, hires.from);
  const days = [from - 1];
  const hours = [0];
  let sum = 0;
  for (let day = from; day < today; day++) {
    sum += hires.hours[day - first]!;
    if ((day - from) % 7 === 6) {
      days.push(day);
      hours.push(sum);
    }
  }
  return { days, hours };
}

/** When an engine has run `hours` more than at the end of day number `day`; null where nothing is known of it. */
export function crossingAfter(
  { outlook: boat, rates }: BoatForecast,
  engine: number,
  day: number,
  hours: number,
): Crossing {
  return crossing(boat, rates[engine]!, day + 1, hours);
}

/** Hours run after the end of day number `day` up to the start of day `to`. */
export function hoursAfter(
  { outlook: boat, rates }: BoatForecast,
  engine: number,
  day: number,
  to: number,
): HoursAhead {
  return hoursBetween(boat, rates[engine]!, day + 1, to);
}
