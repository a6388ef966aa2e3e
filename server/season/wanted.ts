import type { PartLine } from '@diurna/contract/jobs';
import type { SeasonPlan } from '@diurna/contract/season-plan';
import type { SeasonRoom } from '@diurna/contract/season';
import { addDays, type Day } from '@diurna/core/calendar';
import { chooseContainers, containersByWeek } from '@diurna/core/fluids';
import { dosesFor, rateOf } from '@diurna/core/season';
import type { TaskKind } from '@diurna/core/service';
import { containersText, type TaskOfEngine } from '@diurna/core/stores';
import type { Db } from '../db/index.ts';
import { partsOfAll, partsOfTasks } from '../stores/index.ts';

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

/** The open work of a boat that is still done: in spring nothing of autumn is made up for. */
const stillDone = ({ visits, next }: BoatRow) =>
  visits
    .filter((v) => v.visit === 'spring' || (next !== 'spring' && next !== null))
    .flatMap((v) => v.tasks.filter((t) => t.doneOn === null));

/** What the open work of the whole campaign takes from the shelf of the base. */
export async function partsWanted(
  db: Db,
  rows: readonly BoatRow[],
  baseId: number,
): Promise<Pick<SeasonRoom, 'parts' | 'partsUnknown'>> {
  const tasks = rows.flatMap(stillDone);
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

/**
 * What the work of each week takes from the shelf, and what has to be there by then. All weeks together want just the
 * containers that cover the whole at least cost.
 *
 * @param weeks tasks by week, counted from that day
 */
export async function partsByWeek(
  db: Db,
  baseId: number,
  from: Day,
  weeks: ReadonlyMap<number, readonly TaskOfEngine[]>,
): Promise<SeasonPlan['parts']> {
  const order = [...weeks.keys()].sort((a, b) => a - b);
  const read = await partsOfAll(
    db,
    order.map((week) => ({ baseId, week, tasks: weeks.get(week)! })),
  );
  const lines = new Map(read.flatMap(({ parts }) => parts.map((p) => [p.partId, p])));
  return [...lines.values()].map((p) => {
    const needs = read.map(({ parts }) => parts.find((q) => q.partId === p.partId)?.quantity ?? 0);
    const packs =
      p.unit === 'mL' && p.sizes.length > 0
        ? containersByWeek(
            needs,
            p.onHand,
            p.sizes.map((s) => ({ ...s, most: null })),
          )
        : null;
    let there = p.onHand;
    return {
      partId: p.partId,
      number: p.number,
      name: p.name,
      unit: p.unit,
      onHand: p.onHand,
      weeks: needs.flatMap((quantity, i) => {
        const short = Math.max(0, Math.min(quantity, quantity - there));
        there -= quantity;
        if (quantity === 0) return [];
        const text = (packs?.[i] ?? []).map((c) => `${c.count} × ${c.id}`).join(' and ');
        return [{ from: addDays(from, 7 * order[i]!), quantity, short, packs: text === '' ? null : text }];
      }),
    };
  });
}

/** Stabiliser for first doses, the most it can be: a tank that is full. */
export function stabiliserOf(rows: readonly BoatRow[], doseMlPerTen: number | null): SeasonRoom['stabiliser'] {
  const wants = (r: BoatRow, task: TaskKind) => stillDone(r).some((t) => t.task === task);
  const open = rows.filter((r) => wants(r, 'stabiliser'));
  const ml = open.reduce((sum, { tankLitres }) => {
    if (tankLitres === null) return sum;
    return sum + dosesFor({ litres: tankLitres, least: tankLitres, most: tankLitres }, rateOf(doseMlPerTen)).firstMl;
  }, 0);
  return {
    ml: Math.round(ml),
    withoutTank: open.filter((r) => r.tankLitres === null).length,
    secondDoses: rows.filter((r) => !wants(r, 'stabiliser') && wants(r, 'second-dose')).length,
  };
}
