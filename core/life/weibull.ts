/** A life: so long in hours (or days), ended by failure or taken off the count while it still held. */
export interface Life {
  time: number;
  failed: boolean;
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

  constructor(lives: readonly Life[]) {
    const counted = new Map<number, number>();
    let failures = 0;
    let failedLogs = 0;
    // In units of their mean powers stay within what a number holds.
    this.unit = lives.reduce((sum, l) => sum + l.time, 0) / lives.length;
    for (const { time, failed } of lives) {
      const log = Math.log(time / this.unit);
      counted.set(log, (counted.get(log) ?? 0) + 1);
      if (!failed) continue;
      failures++;
      failedLogs += log;
    }
    this.log = Float64Array.from(counted.keys());
    this.count = Float64Array.from(counted.values());
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
    return r * (Math.log(k) - s) + (k - 1) * (this.failedLogs - r * s) - this.sums(k)[0] * Math.exp(-k * s);
  }

  /** The scale that suits a shape best: (sum t^k / r)^(1 / k). */
  scaleOf(k: number): number {
    return (this.sums(k)[0] / this.failures) ** (1 / k);
  }
}

/** Finds where a falling function crosses nought between two places. */
function crossing(f: (x: number) => number, low: number, high: number): number {
  for (let i = 0; i < 80 && high - low > 1e-10 * high; i++) {
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

/**
 * What was seen, without any law: the share that still holds after each failure (Kaplan & Meier 1958). The shortest first.
 */
export function stillHolding(lives: readonly Life[]): { time: number; share: number; atRisk: number }[] {
  const sorted = [...lives].sort((a, b) => a.time - b.time || Number(b.failed) - Number(a.failed));
  const points: { time: number; share: number; atRisk: number }[] = [];
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
