import { holds, type WeibullFit } from './weibull.ts';

/** What a renewal costs in time, and what a failure on the water costs, in money. */
export interface RenewalCosts {
  planned: number;
  failed: number;
}

/** Renewing at an age: what it costs an hour, and how many still fail before. */
export interface RenewalAge {
  age: number;
  costAnHour: number;
  failsBefore: number;
}

type Law = Pick<WeibullFit, 'shape' | 'scale'>;

/** Mean hours a part serves that is renewed at an age: the integral of the chance to hold, by Simpson's rule. */
export function servedHours(age: number, law: Law): number {
  // Below shape 1 it falls steeply at first: steps in t^shape are even in what is lost.
  const n = 400;
  const p = Math.max(1, 1 / law.shape);
  let sum = 0;
  for (let i = 0; i <= n; i++) {
    const u = i / n;
    const t = age * u ** p;
    const speed = age * p * u ** (p - 1);
    sum += (i === 0 || i === n ? 1 : i % 2 === 1 ? 4 : 2) * holds(t, law) * speed;
  }
  return sum / (3 * n);
}

/** What renewing at an age costs an hour of service. */
export function renewalAt(age: number, law: Law, { planned, failed }: RenewalCosts): RenewalAge {
  const held = holds(age, law);
  return { age, costAnHour: (planned * held + failed * (1 - held)) / servedHours(age, law), failsBefore: 1 - held };
}

/**
 * The age at which renewing costs least an hour: where the failure rate times the hours served, less the chance to have
 * failed, is planned / (failed - planned). Source: Barlow & Proschan, Mathematical Theory of Reliability (1965), 4.2.
 *
 * @returns null where waiting for the failure is cheapest: no wear (shape of 1 or less), or a failure that costs no
 * more
 */
export function cheapestAge(law: Law, costs: RenewalCosts): RenewalAge | null {
  const { shape, scale } = law;
  if (shape <= 1 || costs.failed <= costs.planned || costs.planned <= 0) return null;
  const wanted = costs.planned / (costs.failed - costs.planned);
  const rate = (t: number) => (shape / scale) * (t / scale) ** (shape - 1);
  const criterion = (t: number) => rate(t) * servedHours(t, law) - (1 - holds(t, law));
  let [low, high] = [scale * 1e-4, scale * 20];
  if (criterion(high) < wanted) return null;
  for (let i = 0; i < 80; i++) {
    const middle = Math.sqrt(low * high);
    if (criterion(middle) < wanted) low = middle;
    else high = middle;
  }
  return renewalAt(Math.sqrt(low * high), law, costs);
}
