import type { PartLine } from '@diurna/contract/jobs';
import { chooseContainers } from '@diurna/core/fluids';
import { containersText } from '@diurna/core/stores';

type Fluid = Pick<PartLine, 'unit' | 'open' | 'sizes'>;

const choose = (part: Fluid, quantity: number) =>
  part.unit !== 'mL' || quantity <= 0 || (part.open.length === 0 && part.sizes.length === 0)
    ? null
    : chooseContainers({ needMl: quantity, open: part.open, sizes: part.sizes });

/** What a quantity of a fluid is poured from, in words; null where nobody said what it is sold in. */
export function containersOf(part: Fluid, quantity: number): string | null {
  const choice = choose(part, quantity);
  return choice && containersText(choice, part.open);
}

/** How many containers are opened new for it. */
export const newContainers = (part: Fluid, quantity: number): number =>
  choose(part, quantity)?.take.reduce((sum, t) => sum + t.count, 0) ?? 0;
