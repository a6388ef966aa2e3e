/** What an engine ran in a stretch of its life. */
export interface UseStep {
  /** The day number the stretch ended on. */
  to: number;
  hours: number;
  /** What the hours are counted against: busy-days of the season, or hours on hire. */
  exposure: number;
}

/** Hours run for each unit of exposure: what is believed, and how surely. */
export interface Rate {
  mean: number;
  variance: number;
  /**
   * Variance of the hours run over the mean of them: 1 h would be hour after hour by chance; day hires of 6 h make it
   * about 6.
   */
  noise: number;
  /** Variance the rate itself will have gained in the long run, because habits change. */
  drift: number;
}

/** A rate of engines like each other: the mean, how far single engines lie from it, and the noise. */
export interface Pool {
  mean: number;
  /** Variance between engines. */
  spread: number;
  noise: number;
  /** How far a single one wanders from its own long run within a season (standard deviation over mean). */
  wander: number;
}

/**
 * Before anything is known: an hour a day on average through the year, and engines differ by a factor of two. Common
 * practice, no source.
 */
export const USUAL_HOURS: Pool = { mean: 1, spread: 1, noise: 5, wander: 0.32 };
/** Before anything is known: two hours on hire a day on average through the year. Common practice, no source. */
export const USUAL_HIRES: Pool = { mean: 2, spread: 2, noise: 7, wander: 0.32 };
/** Before anything is known: an engine runs four tenths of the time its boat is out. Common practice, no source. */
export const USUAL_SHARE: Pool = { mean: 0.4, spread: 0.03, noise: 0.5, wander: 0.05 };

/** After so many days a step counts half for the engine's present level, and for its long-run level. */
export const FRESH_HALF_LIFE = 56;
const LONG_HALF_LIFE = 365;
/** Steps of an engine that tell as much of its noise as its pool does. */
const NOISE_STEPS = 12;
/** Engines of a pool that tell as much as the larger pool it lies in. */
const PARENT_ENGINES = 3;
/** Below this many expected hours a step says little of the noise. */
const LEAST_EXPECTED = 0.5;

/** A small auxiliary is used to come home and to go slow. Common practice, no source. */
export const USUAL_KICKER_SHARE: Pool = { mean: 0.1, spread: 0.004, noise: 0.5, wander: 0.05 };

export const NO_USE: UseSummary = {
  fresh: { hours: 0, exposure: 0 },
  long: { hours: 0, exposure: 0 },
  misses: 0,
  steps: 0,
};

/** A rate of one that nobody doubts: hours counted as they are. */
export const ONE: Rate = { mean: 1, variance: 0, noise: 0, drift: 0 };

/** One engine's steps, summed with weights by age. */
export interface UseSummary {
  fresh: { hours: number; exposure: number };
  long: { hours: number; exposure: number };
  /** Sum of squared misses of the step ahead over what was expected, and how many steps. */
  misses: number;
  steps: number;
}

/**
 * Sums up the steps of one engine, oldest first.
 *
 * @param asOf the day number the ages are counted to
 * @param usual a rate to begin the step-ahead guesses with
 */
export function summarise(steps: readonly UseStep[], asOf: number, usual: number): UseSummary {
  const fresh = { hours: 0, exposure: 0 };
  const long = { hours: 0, exposure: 0 };
  let misses = 0;
  let counted = 0;
  let at = steps[0]?.to ?? asOf;
  const age = (days: number) => {
    const f = 0.5 ** (days / FRESH_HALF_LIFE);
    const l = 0.5 ** (days / LONG_HALF_LIFE);
    fresh.hours *= f;
    fresh.exposure *= f;
    long.hours *= l;
    long.exposure *= l;
  };
  const total = steps.reduce((a, s) => a + s.exposure, 0);
  const guess = Math.max(1e-9, total / Math.max(1, steps.length)) * 2;
  for (const { to, hours, exposure } of steps) {
    age(to - at);
    at = to;
    const expected = (exposure * (usual * guess + fresh.hours)) / (guess + fresh.exposure);
    if (expected >= LEAST_EXPECTED) {
      misses += (hours - expected) ** 2 / expected;
      counted++;
    }
    fresh.hours += hours;
    fresh.exposure += exposure;
    long.hours += hours;
    long.exposure += exposure;
  }
  age(Math.max(0, asOf - at));
  return { fresh, long, misses, steps: counted };
}

/**
 * What engines like each other have in common: the mean and the spread between them by Buhlmann & Straub
 * (1970), leaning on the larger pool while they are few.
 */
export function poolOf(members: readonly UseSummary[], parent: Pool): Pool {
  const with_ = members.filter((m) => m.long.exposure > 0);
  let hours = 0;
  let exposure = 0;
  let squares = 0;
  let misses = 0;
  let steps = 0;
  for (const m of with_) {
    hours += m.long.hours;
    exposure += m.long.exposure;
    squares += m.long.exposure ** 2;
    misses += m.misses;
    steps += m.steps;
  }
  if (exposure === 0) return parent;
  const lean = (PARENT_ENGINES * exposure) / with_.length;
  const mean = (hours + lean * parent.mean) / (exposure + lean);
  const noise = (misses + NOISE_STEPS * PARENT_ENGINES * parent.noise) / (steps + NOISE_STEPS * PARENT_ENGINES);
  const own = hours / exposure;
  const parentSpread = parent.mean > 0 ? parent.spread * (mean / parent.mean) ** 2 : parent.spread;
  let spread = parentSpread;
  const room = exposure - squares / exposure;
  if (with_.length > 1 && room > 0) {
    const between = with_.reduce((a, m) => a + m.long.exposure * (m.long.hours / m.long.exposure - own) ** 2, 0);
    const found = Math.max(0, (between - (with_.length - 1) * noise * own) / room);
    spread = (with_.length * found + PARENT_ENGINES * parentSpread) / (with_.length + PARENT_ENGINES);
  }
  return { mean, spread: Math.max(spread, (0.02 * mean) ** 2), noise, wander: parent.wander };
}

/**
 * The present rate of one engine: its long-run level leans on its pool (credibility, Buhlmann & Straub),
 * its present level on its long run, each as a gamma prior, so that it is never negative and moves
 * upward whenever hours do.
 */
export function rateOf(use: UseSummary, pool: Pool): Rate {
  if (pool.mean <= 0) return { mean: 0, variance: 0, noise: pool.noise, drift: 0 };
  const noise = (use.misses + NOISE_STEPS * pool.noise) / (use.steps + NOISE_STEPS);
  // The pool's noise weighs the evidence: with the engine's own, one odd step could move its level the wrong way.
  const long = gammaMean(pool.mean, pool.spread, use.long, pool.noise);
  const present = gammaMean(long.mean, (pool.wander * long.mean) ** 2, use.fresh, pool.noise);
  return {
    mean: present.mean,
    variance: present.variance + present.leaning ** 2 * long.variance,
    noise,
    drift: (pool.wander * present.mean) ** 2,
  };
}

function gammaMean(mean: number, variance: number, seen: { hours: number; exposure: number }, noise: number) {
  if (mean <= 0) return { mean: 0, variance: 0, leaning: 1 };
  const b0 = mean / variance;
  const a = mean * b0 + seen.hours / noise;
  const b = b0 + seen.exposure / noise;
  return { mean: a / b, variance: a / (b * b), leaning: b0 / b };
}
