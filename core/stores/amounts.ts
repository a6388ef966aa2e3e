import { toMillilitres, volumeText, type VolumeUnit } from '../units/index.ts';

/** How a quantity may be typed: by the piece, by a unit of volume, or by full containers. */
export interface AmountUnit {
  /** As it is chosen: "L", "1 US qt bottle". */
  id: string;
  /** Pieces or mL in one. */
  each: number;
}

const VOLUMES: readonly VolumeUnit[] = ['L', 'mL', 'US qt', 'US fl oz', 'US gal'];

/** The units a part's quantities are typed in: full containers first, as people hold them in their hands. */
export const amountUnits = (unit: 'each' | 'mL', sizes: readonly { id: string; ml: number }[]): AmountUnit[] =>
  unit === 'each'
    ? [{ id: 'pieces', each: 1 }]
    : [...sizes.map((s) => ({ id: s.id, each: s.ml })), ...VOLUMES.map((u) => ({ id: u, each: toMillilitres(1, u) }))];

/** So far from what is usual, up or down, a figure was typed in the wrong unit. Common practice, no source. */
const FAR = 100;

/**
 * Whether a quantity is so far from what is usual that it wants a second look: 946 of a bottle of 946 mL.
 *
 * @param usual quantities of the part that are known; none = nothing is far
 */
export function farFromUsual(quantity: number, usual: readonly number[]): boolean {
  const known = usual.filter((u) => u > 0);
  if (known.length === 0 || quantity <= 0) return false;
  return quantity >= FAR * Math.max(...known) || quantity * FAR <= Math.min(...known);
}

/** What is poured, and what is opened new, in the words of who stands at the shelf. */
export function containersText(
  choice: {
    pour: readonly { id: string; ml: number }[];
    take: readonly { id: string; count: number }[];
    leftMl: number;
  },
  open: readonly { id: string; label: string }[],
): string {
  const poured = choice.pour.map(
    (p) => `${volumeText(p.ml)} from the open ${open.find((o) => o.id === p.id)?.label ?? ''}`,
  );
  const taken = choice.take.map((t) => `${t.count} × ${t.id}`);
  const left = choice.leftMl >= 1 ? `; ${volumeText(choice.leftMl)} left open` : '';
  return `${[...poured, ...taken].join(' and ')}${left}`;
}
