import type { PartLink } from './links.ts';
import { mayServe } from './links.ts';

/** So many of a part, or mL. */
export interface PartAmount {
  partId: number;
  quantity: number;
}

export interface KitCheck {
  /** What the kit does not bring, or too little of. */
  missing: PartAmount[];
  /** What it brings and the service does not take. */
  over: PartAmount[];
  /** Where it brings another number than the one that fits: a newer one, or an equivalent. */
  links: { wanted: number; brings: number; by: PartLink[] }[];
}

/** Less is not missing: volumes of printed quarts come in odd millilitres. */
const EPS = 0.5;

/**
 * A named service less what a kit brings: what is missing, the usual ones being separators, pumps and gaskets. A number
 * that differs from the one that fits serves where an approved link leads to it. Common practice, no source.
 *
 * @param needs what the service takes on one engine, a part once or several times
 * @param contents what is in the kit
 */
export function kitCheck(
  needs: readonly PartAmount[],
  contents: readonly PartAmount[],
  links: readonly PartLink[],
): KitCheck {
  const left = summed(contents);
  const wanted = summed(needs);
  const missing: PartAmount[] = [];
  const linked: KitCheck['links'] = [];
  const take = (partId: number, quantity: number) => {
    const taken = Math.min(left.get(partId) ?? 0, quantity);
    if (taken > 0) left.set(partId, left.get(partId)! - taken);
    return taken;
  };
  // Each its own number first, so that none takes away another's.
  for (const [partId, quantity] of wanted) wanted.set(partId, quantity - take(partId, quantity));
  for (const [partId, quantity] of wanted) {
    let open = quantity;
    for (const other of mayServe(partId, links, true)) {
      if (open <= EPS / 1000) break;
      const taken = take(other.partId, open);
      if (taken === 0) continue;
      open -= taken;
      linked.push({ wanted: partId, brings: other.partId, by: other.by });
    }
    if (open > EPS) missing.push({ partId, quantity: Math.round(open * 100) / 100 });
  }
  return {
    missing,
    over: [...left].filter(([, n]) => n > EPS).map(([partId, n]) => ({ partId, quantity: Math.round(n * 100) / 100 })),
    links: linked,
  };
}

function summed(list: readonly PartAmount[]): Map<number, number> {
  const sum = new Map<number, number>();
  for (const { partId, quantity } of list) sum.set(partId, (sum.get(partId) ?? 0) + quantity);
  return sum;
}
