import { addDays, type Day } from '../calendar/index.ts';
import { round } from '../units/index.ts';

/** 30 mL to 10 L. Common practice, no source; what the bottle says outranks it. */
export const DOSE_ML_PER_LITRE = 3;
/** Millilitres to a litre, where the bottle says so many to 10 L. @param doseMlPerTen null = the usual dose */
export const rateOf = (doseMlPerTen: number | null): number =>
  doseMlPerTen === null ? DOSE_ML_PER_LITRE : doseMlPerTen / 10;
/** A tank is filled at least so far for its time of standing. Common practice, no source. */
export const FULL_SHARE = 0.95;
/** Treated fuel keeps 24 months. Common practice, no source. */
const KEEPS_YEARS = 2;

/** A tank, and what is in it as a gauge tells it: between these litres. */
export interface Tank {
  litres: number;
  least: number;
  most: number;
}

/** What goes into a tank for its time of standing. Litres and millilitres. */
export interface Doses {
  /** For the most that may be in it: too little spoils all of it, a little too much spoils nothing. */
  firstMl: number;
  /** What is added to reach 95 %, between these litres. */
  addLeast: number;
  addMost: number;
  /** For the most that may be added; nothing is added to a tank that is that full. */
  secondMl: number;
}

/** The two doses of a tank. @param rate mL of stabiliser to a litre of fuel, as its bottle says */
export function dosesFor({ litres, least, most }: Tank, rate = DOSE_ML_PER_LITRE): Doses {
  const full = litres * FULL_SHARE;
  const add = (there: number) => Math.max(0, full - there);
  return {
    firstMl: round(most * rate, 1),
    addLeast: round(add(most), 1),
    addMost: round(add(least), 1),
    secondMl: round(add(least) * rate, 1),
  };
}

/** What a first dose did that was poured. */
export interface Poured {
  /** Litres it treats. */
  treats: number;
  /** Millilitres that are missing for the most that may be in the tank; they go in with the second dose. */
  missingMl: number;
  /** A sentence where it is short; null where it is enough. */
  warning: string | null;
}

/** Holds what was poured against what may be in the tank: 20 mL in "less than 10 L" treat 6.7 L only. */
export function poured(ml: number, { least, most }: Pick<Tank, 'least' | 'most'>, rate = DOSE_ML_PER_LITRE): Poured {
  const treats = ml / rate;
  const missingMl = Math.max(0, round(most * rate - ml, 1));
  const warning =
    missingMl <= 0
      ? null
      : `${round(ml, 0)} mL treat ${round(treats, 1)} L; ${
          treats < least ? `at least ${round(least, 1)} L are in it` : `up to ${round(most, 1)} L may be in it`
        }: ${round(missingMl, 0)} mL more go in with the second dose.`;
  return { treats: round(treats, 2), missingMl, warning };
}

/** Until when fuel treated on that day may be run. */
export function keepsUntil(treated: Day): Day {
  const [year, month, date] = treated.split('-').map(Number) as [number, number, number];
  const last = new Date(Date.UTC(year + KEEPS_YEARS, month, 0)).getUTCDate();
  return `${year + KEEPS_YEARS}-${String(month).padStart(2, '0')}-${String(Math.min(date, last)).padStart(2, '0')}`;
}

/** What to do with the fuel when the boat is brought out again. */
export const fuelAdvice = (treated: Day | null, opens: Day): 'run it' | 'fresh fuel on top' | 'pump it out' =>
  treated === null || keepsUntil(treated) < opens
    ? 'pump it out'
    : keepsUntil(treated) < addDays(opens, 180)
      ? 'fresh fuel on top'
      : 'run it';
