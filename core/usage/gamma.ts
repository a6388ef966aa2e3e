/** Standard normal quantiles of 10, 50 and 90 %. */
export const Z = { low: -1.281551565545, middle: 0, high: 1.281551565545 } as const;

/**
 * Quantile of a gamma distribution given its mean and variance, by the cube-root rule of Wilson & Hilferty
 * (1931): within 1 % of the exact quantile for shapes over 2 at these probabilities, and good enough below.
 *
 * @param z the standard normal quantile of the same probability
 * @returns hours, never negative
 */
export function gammaQuantile(mean: number, variance: number, z: number): number {
  if (mean <= 0) return 0;
  // 1 / (9 shape), with shape = mean^2 / variance.
  const c = variance / (9 * mean * mean);
  const root = 1 - c + z * Math.sqrt(c);
  return root <= 0 ? 0 : mean * root * root * root;
}
