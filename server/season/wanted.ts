import type { PartLine } from '@diurna/contract/jobs';
import type { SeasonRoom } from '@diurna/contract/season';
import { chooseContainers } from '@diurna/core/fluids';
import { dosesFor, rateOf } from '@diurna/core/season';
import { containersText } from '@diurna/core/stores';
import type { Db } from '../db/index.ts';
import { partsOfTasks } from '../stores/index.ts';

type BoatRow = SeasonRoom['boats'][number];

/** Which containers the shelf is short of, exact: least cost, then least left over. */
function containersShort({ unit, quantity, onHand, sizes }: PartLine): string | null {
  if (unit !== 'mL' || onHand >= quantity || sizes.length === 0) return null;
  const choice = chooseContainers({
    needMl: quantity - onHand,
    open: [],
    sizes: sizes.map((s) => ({ ...s, most: null })),
  });
  return choice && containersText(choice, []);
}

/** What the open work of the whole campaign takes from the shelf of the base. */
export async function partsWanted(
  db: Db,
  rows: readonly BoatRow[],
  baseId: number,
): Promise<Pick<SeasonRoom, 'parts' | 'partsUnknown'>> {
  const tasks = rows.flatMap((r) => r.visits.flatMap((v) => v.tasks.filter((t) => t.doneOn === null)));
  const { parts, partsUnknown } = await partsOfTasks(
    db,
    tasks.map(({ engineId, task }) => ({ engineId, task })),
    baseId,
  );
  return {
    parts: parts.map((p) => ({
      partId: p.partId,
      number: p.number,
      name: p.name,
      unit: p.unit,
      quantity: p.quantity,
      onHand: p.onHand,
      packs: containersShort(p),
    })),
    partsUnknown: partsUnknown.length,
  };
}

/** Stabiliser for both doses, the most it can be: a tank that is full. */
export function stabiliserOf(rows: readonly BoatRow[], doseMlPerTen: number | null): SeasonRoom['stabiliser'] {
  const open = rows.filter((r) =>
    r.visits.some((v) =>
      v.tasks.some((t) => (t.task === 'stabiliser' || t.task === 'second-dose') && t.doneOn === null),
    ),
  );
  const ml = open.reduce((sum, { tankLitres }) => {
    if (tankLitres === null) return sum;
    return sum + dosesFor({ litres: tankLitres, least: tankLitres, most: tankLitres }, rateOf(doseMlPerTen)).firstMl;
  }, 0);
  return { ml: Math.round(ml), withoutTank: open.filter((r) => r.tankLitres === null).length };
}
