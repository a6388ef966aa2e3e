import { gammaQuantile, Z } from './gamma.ts';
import type { BookingCurve } from '../hires/index.ts';
import { FRESH_HALF_LIFE, type Rate } from './rate.ts';
import { busyDays, type SeasonCurve } from './season.ts';

/** What a boat's days hold for its engines, as sums from day number `first` on (day numbers of its base). */
export interface Outlook {
  first: number;
  /** `booked[i]` = hours on hire known, from `first` up to, not including, day `first + i`. */
  booked: Float64Array;
  /** Busy-days in which hires are still to come, or of a boat nobody keeps hires of. */
  open: Float64Array;
}

/**
 * Lays out the days of a boat: behind today what its hires were, ahead what is booked and the share of the
 * season that nobody has booked yet.
 *
 * @param hireHours hours on hire of each day from `first` on; null for a boat without hires in the book
 * @param hiresFrom the first day number hires were kept for; days before it count by the season
 */
export function outlook(
  first: number,
  days: number,
  today: number,
  season: SeasonCurve,
  hires: { hours: Float64Array; from: number; bookings: BookingCurve } | null,
): Outlook {
  const booked = new Float64Array(days + 1);
  const open = new Float64Array(days + 1);
  for (let i = 0; i < days; i++) {
    const day = first + i;
    const busy = busyDays(season, day, day + 1);
    let share = 1;
    if (hires !== null && day >= hires.from) {
      const lead = day - today;
      share = lead < 0 ? 0 : 1 - hires.bookings[Math.min(lead, hires.bookings.length - 1)]!;
      booked[i + 1] = booked[i]! + hires.hours[i]!;
    } else {
      booked[i + 1] = booked[i]!;
    }
    open[i + 1] = open[i]! + share * busy;
  }
  return { first, booked, open };
}

/**
 * How an engine runs.
 * - `demand`: of a boat whose hires are kept, hours on hire for each busy-day; of any other, hours run.
 * - `share`: hours run for each of those hours.
 */
export interface EngineRates {
  demand: Rate;
  share: Rate;
}

export interface HoursAhead {
  mean: number;
  variance: number;
}

/** Mean and variance of the hours run while `booked` hours on hire and `open` busy-days go by. */
export function hoursOver({ demand, share }: EngineRates, booked: number, open: number): HoursAhead {
  const coming = demand.mean * open;
  const out = booked + coming;
  // Half of the drift is there after the half-life of what is known of the present.
  const unsure = demand.variance + demand.drift * (open / (open + FRESH_HALF_LIFE));
  return {
    mean: share.mean * out,
    // Of the share: by chance from day to day, and for not being sure of it. Of the demand: likewise, seen through the
    // share.
    variance:
      share.noise * share.mean * out +
      share.variance * out * out +
      share.mean ** 2 * (demand.noise * coming + unsure * open * open),
  };
}

const at = (sums: Float64Array, i: number) => sums[Math.max(0, Math.min(sums.length - 1, i))]!;

/**
 * Hours on hire in the book from the start of day `from` to the start of day `to`; days outside the outlook hold none.
 */
export const bookedBetween = (boat: Outlook, from: number, to: number) =>
  at(boat.booked, to - boat.first) - at(boat.booked, from - boat.first);

/** Busy-days nothing is known of yet, likewise. */
export const openBetween = (boat: Outlook, from: number, to: number) =>
  at(boat.open, to - boat.first) - at(boat.open, from - boat.first);

/** Hours an engine will run (or has run unread) from the start of day `from` to the start of day `to`. */
export function hoursBetween(boat: Outlook, rates: EngineRates, from: number, to: number): HoursAhead {
  return hoursOver(rates, bookedBetween(boat, from, to), openBetween(boat, from, to));
}

/** Hours at 10, 50 and 90 %. */
export interface Spread {
  low: number;
  middle: number;
  high: number;
}

/** Hours in the middle, and the two between which eight cases in ten lie, of a gamma with this mean and variance. */
export function spreadOf({ mean, variance }: HoursAhead): Spread {
  return {
    low: gammaQuantile(mean, variance, Z.low),
    middle: gammaQuantile(mean, variance, Z.middle),
    high: gammaQuantile(mean, variance, Z.high),
  };
}

/**
 * Day numbers on which a limit is reached: one case in ten is before `early`, one in ten after `late`. Null = beyond
 * the days looked at.
 */
export interface Crossing {
  early: number | null;
  likely: number | null;
  late: number | null;
}

const HAIR = 1e-3;

/**
 * When the engine will have run `hours` more, counted from the start of day `from`: the first day at whose
 * end each quantile of the hours run is there. First passage, so more hours left never comes out earlier.
 */
export function crossing(boat: Outlook, rates: EngineRates, from: number, hours: number): Crossing {
  const found: Crossing = { early: null, likely: null, late: null };
  // Sums of floating figures may miss a whole limit by a hair; meters show tenths.
  const reached = hours - HAIR;
  const start = Math.max(0, Math.min(boat.booked.length - 1, from - boat.first));
  const booked0 = boat.booked[start]!;
  const open0 = boat.open[start]!;
  for (let i = start + 1; i < boat.booked.length; i++) {
    const { mean, variance } = hoursOver(rates, boat.booked[i]! - booked0, boat.open[i]! - open0);
    const day = boat.first + i - 1;
    if (found.early === null) {
      if (gammaQuantile(mean, variance, Z.high) < reached) continue;
      found.early = day;
    }
    if (found.likely === null) {
      if (gammaQuantile(mean, variance, Z.middle) < reached) continue;
      found.likely = day;
    }
    if (gammaQuantile(mean, variance, Z.low) >= reached) {
      found.late = day;
      break;
    }
  }
  return found;
}
