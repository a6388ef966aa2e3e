import { CONTAINER_KINDS } from '@diurna/core/stores';
import { VOLUME_UNITS } from '@diurna/core/units';
import type { PrintedContainer } from '../db/schema/index.ts';
import { low, type Line } from './csv.ts';

const MOST = 12;
const WRITTEN = new RegExp(`^(${CONTAINER_KINDS.join('|')}) (\\d+(?:[.,]\\d+)?) ?(${VOLUME_UNITS.join('|')})$`, 'i');

/**
 * What a fluid is filled in, as printed: "bottle 1 US qt; jug 4 L".
 *
 * @returns null where the cell is empty: what is known stays
 */
export function containersOf(line: Line, unit: 'each' | 'mL' | null): PrintedContainer[] | null {
  const cell = line.text('containers');
  if (cell === null) return null;
  if (unit === 'each') {
    line.fault('containers', 'a part counted in pieces has none');
    return null;
  }
  const all: PrintedContainer[] = [];
  for (const written of cell.split(';').map((c) => c.trim())) {
    const [, kind, value, of] = WRITTEN.exec(written) ?? [];
    const amount = Number(value?.replace(',', '.'));
    if (kind === undefined || !(amount > 0 && amount <= 10_000)) {
      line.fault(
        'containers',
        `"${written.slice(0, 40)}" is no container; write it as: bottle 1 US qt; jug 4 L (${CONTAINER_KINDS.join(', ')}; ${VOLUME_UNITS.join(', ')})`,
      );
      return null;
    }
    all.push({
      kind: CONTAINER_KINDS.find((k) => k === low(kind))!,
      value: amount,
      unit: VOLUME_UNITS.find((u) => low(u) === low(of!))!,
    });
  }
  if (all.length > MOST) line.fault('containers', `are more than ${MOST}`);
  return all;
}

/** Containers as a cell of a file. */
export const containersCell = (containers: readonly PrintedContainer[]) =>
  containers.map((c) => `${c.kind} ${c.value} ${c.unit}`).join('; ');
