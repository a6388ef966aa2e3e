/** A life: so long in hours (or days), ended by failure or taken off the count while it still held. */
export interface Life {
  time: number;
  failed: boolean;
  /** It had failed at some time before: it was found so when somebody looked. Left out = it was seen to fail then. */
  found?: boolean;
}

/** A Weibull law fitted to lives: the chance to hold until t is exp(-(t / scale)^shape). */
export interface WeibullFit {
  shape: number;
  scale: number;
  /** 95 % likelihood intervals. */
  shapeRange: readonly [low: number, high: number];
  scaleRange: readonly [low: number, high: number];
  lives: number;
  failures: number;
  logLikelihood: number;
}

/** Half of the 95 % quantile of chi-squared with one degree of freedom: how far the likelihood may fall. */
const DROP = 3.841458820694124 / 2;

/** Lives of one length together, with what every look at the likelihood wants of them. */
class Lives {
  readonly log: Float64Array;
  readonly count: Float64Array;
  readonly failures: number;
  readonly lives: number;
  readonly failedLogs: number;
  readonly unit: number;
  /** Of those that were found failed. */
  readonly foundLog: Float64Array;
  readonly foundCount: Float64Array;

  constructor(lives: readonly Life[]) {
    const counted = new Map<number, number>();
    const foundAt = new Map<number, number>();
    let failures = 0;
    let failedLogs = 0;
    // In units of their mean powers stay within what a number holds.
    this.unit = lives.reduce((sum, l) => sum + l.time, 0) / lives.length;
    for (const { time, failed, found } of lives) {
      const log = Math.log(time / this.unit);
      if (failed && found) {
        foundAt.set(log, (foundAt.get(log) ?? 0) + 1);
        continue;
      }
      counted.set(log, (counted.get(log) ?? 0) + 1);
      if (!failed) continue;
      failures++;
      failedLogs += log;
    }
    this.log = Float64Array.from(counted.keys());
    this.count = Float64Array.from(counted.values());
    this.foundLog = Float64Array.from(foundAt.keys());
    this.foundCount = Float64Array.from(foundAt.values());
    this.failures = failures;
    this.failedLogs = failedLogs;
    this.lives = lives.length;
  }

  /** Sums of t^k, t^k log t and t^k (log t)^2 over all lives. */
  sums(k: number): [s0: number, s1: number, s2: number] {
    let [s0, s1, s2] = [0, 0, 0];
    for (let i = 0; i < this.log.length; i++) {
      const l = this.log[i]!;
      const p = this.count[i]! * Math.exp(k * l);
      s0 += p;
      s1 += p * l;
      s2 += p * l * l;
    }
    return [s0, s1, s2];
  }

  /** The log-likelihood; scale in the unit of the lives. */
  value(k: number, scale: number): number {
    const r = this.failures;
    const s = Math.log(scale);
    let found = 0;
    for (let i = 0; i < this.foundLog.length; i++)
      found += this.foundCount[i]! * Math.log(-Math.expm1(-Math.exp(k * (this.foundLog[i]! - s))));
    return r * (Math.log(k) - s) + (k - 1) * (this.failedLogs - r * s) - this.sums(k)[0] * Math.exp(-k * s) + found;
  }

  /** The scale that suits a shape best: (sum t^k / r)^(1 / k), where every failure was seen. */
  scaleOf(k: number): number {
    const seen = (this.sums(k)[0] / this.failures) ** (1 / k);
    if (this.foundLog.length === 0) return seen;
    const s0 = this.sums(k)[0];
    // Falls in the logarithm of the scale: what is found failed wants it small, what still holds wants it large.
    const slope = (s: number) => {
      let found = 0;
      for (let i = 0; i < this.foundLog.length; i++) {
        const z = Math.exp(k * (this.foundLog[i]! - s));
        found += this.foundCount[i]! * (z < 1e-9 ? 1 : z / Math.expm1(z));
      }
      return s0 * Math.exp(-k * s) - this.failures - found;
    };
    return Math.exp(crossing(slope, -12, 12));
  }
}

/** Finds where a falling function crosses nought between two places. */
function crossing(f: (x: number) => number, low: number, high: number): number {
  for (let i = 0; i < 80 && high - low > 1e-10 * Math.abs(high); i++) {
    const middle = (low + high) / 2;
    if (f(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const [LEAST_SHAPE, MOST_SHAPE] = [0.02, 60];

/**
 * Fits a Weibull law to lives, some of them not ended, by maximum likelihood; its intervals are those of the profile
 * likelihood. Source: NIST/SEMATECH e-Handbook of Statistical Methods, 8.4.1.2 and 8.4.1.3; Lawless, Statistical Models
 * and Methods for Lifetime Data.
 *
 * @param lives in hours or days, all above nought
 * @returns null where fewer than two failures of different length say nothing
 * @throws RangeError for a life that is none
 */
export function fitWeibull(lives: readonly Life[]): WeibullFit | null {
  for (const { time } of lives)
    if (!(time > 0) || !Number.isFinite(time)) throw new RangeError(`A life of ${time} is none; give hours above 0.`);
  const ended = new Set(lives.filter((l) => l.failed).map((l) => l.time));
  if (ended.size < 2) return null;
  const of = new Lives(lives);
  if (of.foundLog.length > 0) return fitFound(of);
  const r = of.failures;
  // Falls in k: the mean of the failures' logs against that of all, weighted, less 1 / k.
  const score = (k: number) => {
    const [s0, s1] = of.sums(k);
    return 1 / k + of.failedLogs / r - s1 / s0;
  };
  const shape = crossing(score, LEAST_SHAPE, MOST_SHAPE);
  const scale = of.scaleOf(shape);
  const best = of.value(shape, scale);
  const least = best - DROP;
  const byShape = (k: number) => of.value(k, of.scaleOf(k)) - least;
  const shapeRange = [crossing((k) => -byShape(k), LEAST_SHAPE, shape), crossing(byShape, shape, MOST_SHAPE)] as const;
  const byScale = (s: number) => of.value(bestShape(of, s, shape), s) - least;
  const low = 0.02 * scale;
  const scaleRange = [crossing((s) => -byScale(s), low, scale), crossing(byScale, scale, 50 * scale)] as const;
  return {
    shape,
    scale: scale * of.unit,
    shapeRange,
    scaleRange: [scaleRange[0] * of.unit, scaleRange[1] * of.unit],
    lives: of.lives,
    failures: r,
    logLikelihood: best - r * Math.log(of.unit),
  };
}

/** Where a function with one top has it, between two places: the golden section (Kiefer 1953). */
function top(f: (x: number) => number, low: number, high: number): number {
  const share = (Math.sqrt(5) - 1) / 2;
  let [a, b] = [high - share * (high - low), low + share * (high - low)];
  let [fa, fb] = [f(a), f(b)];
  for (let i = 0; i < 60 && high - low > 1e-7; i++)
    if (fa < fb) {
      low = a;
      [a, fa] = [b, fb];
      b = low + share * (high - low);
      fb = f(b);
    } else {
      high = b;
      [b, fb] = [a, fa];
      a = high - share * (high - low);
      fa = f(a);
    }
  return (low + high) / 2;
}

/**
 * The same where some were found failed: of such a life nobody knows more than that it ended before. What is looked at
 * always at one age says little of the shape, and the interval shows it.
 *
 * @returns null where nothing still held, or those found failed lie so apart from those that held that no shape is best
 */
function fitFound(of: Lives): WeibullFit | null {
  const failures = of.failures + of.foundCount.reduce((sum, n) => sum + n, 0);
  if (of.lives === failures) return null;
  const logs: [number, number] = [Math.log(LEAST_SHAPE), Math.log(MOST_SHAPE)];
  const shape = Math.exp(top((l) => of.value(Math.exp(l), of.scaleOf(Math.exp(l))), ...logs));
  if (shape > MOST_SHAPE * 0.9) return null;
  const scale = of.scaleOf(shape);
  const best = of.value(shape, scale);
  const least = best - DROP;
  const byShape = (k: number) => of.value(k, of.scaleOf(k)) - least;
  const byScale = (s: number) => of.value(Math.exp(top((l) => of.value(Math.exp(l), s), ...logs)), s) - least;
  const inUnit = (s: number) => s * of.unit;
  return {
    shape,
    scale: inUnit(scale),
    shapeRange: [crossing((k) => -byShape(k), LEAST_SHAPE, shape), crossing(byShape, shape, MOST_SHAPE)],
    scaleRange: [
      inUnit(crossing((s) => -byScale(s), 0.02 * scale, scale)),
      inUnit(crossing(byScale, scale, 50 * scale)),
    ],
    lives: of.lives,
    failures,
    logLikelihood: best - of.failures * Math.log(of.unit),
  };
}

/** The shape that suits a scale best, by Newton's steps kept between bounds. */
function bestShape(of: Lives, scale: number, from: number): number {
  const s = Math.log(scale);
  let k = from;
  let [low, high] = [LEAST_SHAPE, MOST_SHAPE];
  for (let i = 0; i < 40; i++) {
    const [s0, s1, s2] = of.sums(k);
    const e = Math.exp(-k * s);
    const slope = of.failures / k + of.failedLogs - of.failures * s - e * (s1 - s * s0);
    if (slope > 0) low = k;
    else high = k;
    const bend = -of.failures / (k * k) - e * (s2 - 2 * s * s1 + s * s * s0);
    const next = k - slope / bend;
    const step = next > low && next < high ? next : (low + high) / 2;
    if (Math.abs(step - k) < 1e-9 * k) return step;
    k = step;
  }
  return k;
}

/** The chance to hold until t. */
export const holds = (t: number, { shape, scale }: Pick<WeibullFit, 'shape' | 'scale'>): number =>
  Math.exp(-((t / scale) ** shape));

/** By when so large a share has failed: 0.1 = a tenth. */
export const failedBy = (share: number, { shape, scale }: Pick<WeibullFit, 'shape' | 'scale'>): number =>
  scale * (-Math.log(1 - share)) ** (1 / shape);

/** A step of what was seen: the share that still holds after that time, and how many were looked at then or later. */
interface Step {
  time: number;
  share: number;
  atRisk: number;
}

/** The same where some were found failed: the shares that explain themselves best (Turnbull 1976). */
function explained(lives: readonly Life[]): Step[] {
  const times = [...new Set(lives.map((l) => l.time))].sort((a, b) => a - b);
  const at = new Map(times.map((t, i) => [t, i]));
  const m = times.length;
  const [seen, found, held] = [new Float64Array(m + 1), new Float64Array(m + 1), new Float64Array(m + 1)];
  for (const l of lives) (l.failed ? (l.found ? found : seen) : held)[at.get(l.time)!]!++;
  // The chance to end at each time, and after the last.
  let chance = new Float64Array(m + 1).fill(1 / (m + 1));
  for (let round = 0; round < 2000; round++) {
    const until = new Float64Array(m + 1);
    for (let j = 0, sum = 0; j <= m; j++) until[j] = sum += chance[j]!;
    const next = new Float64Array(m + 1);
    // A life found failed may have ended at any time up to then, one that held at any after.
    for (let j = m, up = 0; j >= 0; j--) {
      up += found[j]! === 0 ? 0 : found[j]! / Math.max(1e-12, until[j]!);
      next[j] = seen[j]! + chance[j]! * up;
    }
    for (let j = 0, down = 0; j <= m; j++) {
      next[j]! += chance[j]! * down;
      down += held[j]! === 0 ? 0 : held[j]! / Math.max(1e-12, 1 - until[j]!);
    }
    let moved = 0;
    for (let j = 0; j <= m; j++) {
      next[j]! /= lives.length;
      moved = Math.max(moved, Math.abs(next[j]! - chance[j]!));
    }
    chance = next;
    if (moved < 1e-7) break;
  }
  const steps: Step[] = [];
  let share = 1;
  for (const [j, time] of times.entries()) {
    if (chance[j]! < 1e-5) continue;
    share -= chance[j]!;
    steps.push({ time, share: Math.max(0, share), atRisk: lives.filter((l) => l.time >= time).length });
  }
  return steps;
}

/**
 * What was seen, without any law: the share that still holds after each failure (Kaplan & Meier 1958). The shortest
 * first.
 */
export function stillHolding(lives: readonly Life[]): Step[] {
  if (lives.some((l) => l.failed && l.found)) return explained(lives);
  const sorted = [...lives].sort((a, b) => a.time - b.time || Number(b.failed) - Number(a.failed));
  const points: Step[] = [];
  let share = 1;
  for (let i = 0; i < sorted.length;) {
    const { time } = sorted[i]!;
    const atRisk = sorted.length - i;
    let failed = 0;
    for (; i < sorted.length && sorted[i]!.time === time; i++) if (sorted[i]!.failed) failed++;
    if (failed === 0) continue;
    share *= 1 - failed / atRisk;
    points.push({ time, share, atRisk });
  }
  return points;
}
