import { addDays, dayNumber, type Day } from '@diurna/core/calendar';
import type { HireSpan } from '@diurna/core/hires';
import { seeded, type Random } from './random.ts';

export const USE_KINDS = ['busy', 'quiet', 'seasonal', 'meterless'] as const;
export type UseKind = (typeof USE_KINDS)[number];

/** An engine whose every hour is known, as nobody in a yard ever knows it. */
export interface KnownEngine {
  kind: UseKind;
  boat: number;
  modelId: number;
  /** Hours run on each day from the first. */
  truth: Float64Array;
  readings: { days: number[]; hours: number[] };
}

export interface KnownFleet {
  first: number;
  days: number;
  engines: KnownEngine[];
  /** By boat; none are kept of quiet boats, whose owners just take them. */
  hires: HireSpan[][];
}

const HOUR = 3_600_000;
/** Share of days on hire in each month, January first, for each kind of boat. */
const MONTHS: Record<UseKind, number[]> = {
  busy: [0.3, 0.32, 0.4, 0.5, 0.6, 0.7, 0.78, 0.78, 0.62, 0.48, 0.36, 0.3],
  quiet: [0.04, 0.04, 0.08, 0.12, 0.16, 0.2, 0.24, 0.24, 0.16, 0.1, 0.06, 0.04],
  seasonal: [0, 0, 0.05, 0.2, 0.4, 0.65, 0.85, 0.85, 0.5, 0.15, 0.02, 0],
  meterless: [0.05, 0.05, 0.12, 0.25, 0.4, 0.55, 0.7, 0.7, 0.45, 0.25, 0.1, 0.05],
};

/** A normal deviate (Box & Muller 1958). */
const normal = (random: Random) => Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next());

/**
 * A generated fleet with known truth for testing forecasts: hires come by the season, booked some time
 * ahead, engines run a share of them that differs by engine and by day, demand wanders over the weeks,
 * and readings are taken at odd times.
 */
export function usageFleet(seed: number, lastDay: Day, perKind: number, years = 3): KnownFleet {
  const random = seeded(seed);
  const days = Math.round(years * 365.25);
  const first = dayNumber(addDays(lastDay, 1 - days));
  const fleet: KnownFleet = { first, days, engines: [], hires: [] };
  for (const kind of USE_KINDS) {
    for (let n = 0; n < perKind; n++) {
      const boat = fleet.hires.length;
      const liking = Math.exp(0.25 * normal(random));
      const share = Math.min(0.9, (kind === 'quiet' ? 0.5 : 0.42) * Math.exp(0.18 * normal(random)));
      const truth = new Float64Array(days);
      const hires: HireSpan[] = [];
      let mood = 0;
      for (let d = 0; d < days; d++) {
        mood = 0.985 * mood + 0.05 * normal(random);
        const month = new Date((first + d) * 24 * HOUR).getUTCMonth();
        if (random.next() >= MONTHS[kind][month]! * liking * Math.exp(mood)) continue;
        const long = kind !== 'quiet' && random.chance(0.25);
        const hours = long ? 9 : random.between(3, 6);
        const out = (first + d) * 24 * HOUR + 9 * HOUR;
        const lead = Math.floor(-12 * Math.log(1 - random.next()));
        if (kind !== 'quiet') hires.push({ out, back: out + hours * HOUR, madeOn: out - lead * 24 * HOUR - HOUR });
        truth[d] = Math.min(hours, hours * share * Math.exp(0.25 * normal(random)));
      }
      fleet.hires.push(hires);
      const readings: KnownEngine['readings'] = { days: [], hours: [] };
      let life = random.between(0, 600);
      let next = 0;
      for (let d = 0; d < days; d++) {
        life += truth[d]!;
        if (d < next) continue;
        readings.days.push(first + d);
        readings.hours.push(Math.round(life * 10) / 10);
        next = d + random.whole(4, 11);
      }
      fleet.engines.push({ kind, boat, modelId: kind === 'quiet' ? 2 : kind === 'meterless' ? 3 : 1, truth, readings });
    }
  }
  return fleet;
}
