import { seeded as plain, type Random as Plain } from '@diurna/core/random';

/** A seeded source of chance: the same seed gives the same fleet on any machine. */
export interface Random extends Plain {
  between: (low: number, high: number) => number;
}

export function seeded(seed: number): Random {
  const random = plain(seed);
  return { ...random, between: (low, high) => low + random.next() * (high - low) };
}
