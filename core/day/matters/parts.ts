import { addDays, dayNumber, type Day } from '../../calendar/index.ts';
import type { Matter, PlanBoard } from '../types.ts';
import type { Desk } from './desk.ts';

const ORDER_DAYS = 7;

/**
 * What tasks on cards, due or likely due within the board's days take of each part, and when the last of them is
 * likely.
 */
function wantedParts(board: PlanBoard): Map<string, { wanted: number; last: Day | null }> {
  const first = dayNumber(board.firstDay);
  const carded = new Set(board.standing.flatMap((s) => s.tasks));
  const of = new Map<string, { wanted: number; last: Day | null }>();
  for (const t of board.problem.tasks) {
    const info = board.tasks[t.id];
    if (!info) continue;
    const comes =
      carded.has(t.id) ||
      info.state === 'over' ||
      info.state === 'due' ||
      (info.likely !== null && dayNumber(info.likely) - first < board.days);
    if (!comes) continue;
    for (const [part, n] of Object.entries(t.parts)) {
      const found = of.get(part) ?? { wanted: 0, last: null };
      found.wanted += n;
      if (info.likely !== null && (found.last === null || info.likely > found.last)) found.last = info.likely;
      of.set(part, found);
    }
  }
  return of;
}

/** Parts that run short within the days of the board. */
export function partsShort({ board, today, dayWord }: Desk): Matter[] {
  const wantedOf = wantedParts(board);
  const matters: Matter[] = [];
  for (const part of board.problem.parts) {
    const known = board.parts[part.id];
    const found = wantedOf.get(part.id);
    if (!known || !found) continue;
    const { wanted, last } = found;
    const there = part.supply.reduce((a, x) => a + x, 0);
    if (wanted <= there + 1e-6) continue;
    const [, baseText] = part.id.split(' at ');
    const short = known.unit === 'mL' ? Math.ceil((wanted - there) / 1000) * 1000 : Math.ceil(wanted - there);
    const unit = (n: number) => (known.unit === 'mL' ? `${(n / 1000).toFixed(1)} L` : String(Math.round(n)));
    matters.push({
      key: `part ${part.id}`,
      weight: 'soon',
      state: 'soon',
      title: `${unit(there)} of ${known.name} at ${board.bases[baseText ?? '']?.name ?? ''}, ${unit(wanted)} wanted`,
      text: `By ${last === null ? 'now' : dayWord(last)}, on hand and on the way.`,
      options: [
        {
          label: `Order ${unit(short)}, here in ${ORDER_DAYS} days`,
          cost: null,
          act: {
            kind: 'order',
            partId: known.partId,
            baseId: Number(baseText),
            quantity: short,
            day: addDays(today, ORDER_DAYS),
          },
        },
        { label: 'Leave it', cost: null, act: { kind: 'leave' } },
      ],
    });
  }
  return matters;
}
