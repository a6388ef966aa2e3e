import { addDays, dayNumber, type Day } from '../../calendar/index.ts';
import { planPartId, planTaskId } from '../../planner/index.ts';
import type { PlanBoard } from '../types.ts';
import { asFound, type Desk, type Found } from './desk.ts';

const ORDER_DAYS = 7;

/**
 * What tasks on cards, due or likely due within the board's days take of each part, and when the last of them is
 * likely.
 */
function wantedParts(board: PlanBoard): Map<string, { wanted: number; last: Day | null }> {
  const first = dayNumber(board.firstDay);
  const carded = new Set(board.standing.flatMap((s) => s.tasks));
  const baseOf = new Map(board.yard.boats.map((b) => [b.id, b.baseId]));
  const of = new Map<string, { wanted: number; last: Day | null }>();
  for (const t of board.yard.tasks) {
    const id = planTaskId(t.engineId, t.task);
    const info = board.tasks.get(id);
    if (!info) continue;
    const comes =
      carded.has(id) ||
      info.due.state === 'over' ||
      info.due.state === 'due' ||
      (info.likely !== null && dayNumber(info.likely) - first < board.days);
    if (!comes) continue;
    for (const { partId, quantity } of t.parts) {
      const part = planPartId(partId, baseOf.get(t.boatId)!);
      const found = of.get(part) ?? { wanted: 0, last: null };
      found.wanted += quantity;
      if (info.likely !== null && (found.last === null || info.likely > found.last)) found.last = info.likely;
      of.set(part, found);
    }
  }
  return of;
}

/** Parts that run short within the days of the board. */
export function partsShort({ board, today, dayWord }: Desk): Found[] {
  const wantedOf = wantedParts(board);
  const matters: Found[] = [];
  for (const part of board.yard.parts) {
    const id = planPartId(part.partId, part.baseId);
    const known = board.parts[id];
    const found = wantedOf.get(id);
    if (!known || !found) continue;
    const { wanted, last } = found;
    const there = part.arrivals
      .filter((a) => a.day < board.days)
      .reduce((sum, a) => sum + a.quantity, Math.max(0, part.onHand));
    if (wanted <= there + 1e-6) continue;
    const short = known.unit === 'mL' ? Math.ceil((wanted - there) / 1000) * 1000 : Math.ceil(wanted - there);
    const unit = (n: number) => (known.unit === 'mL' ? `${(n / 1000).toFixed(1)} L` : String(Math.round(n)));
    matters.push(
      asFound('parts', {
        key: `part ${id}`,
        weight: 'soon',
        state: 'soon',
        title: `${unit(there)} of ${known.name} at ${board.bases[String(part.baseId)]?.name ?? ''}, ${unit(wanted)} wanted`,
        text: `By ${last === null ? 'now' : dayWord(last)}, on hand and on the way.`,
        options: [
          {
            label: `Order ${unit(short)}, here in ${ORDER_DAYS} days`,
            cost: null,
            act: {
              kind: 'order',
              partId: part.partId,
              baseId: part.baseId,
              quantity: short,
              day: addDays(today, ORDER_DAYS),
            },
          },
          { label: 'Leave it', cost: null, act: { kind: 'leave' } },
        ],
      }),
    );
  }
  return matters;
}
