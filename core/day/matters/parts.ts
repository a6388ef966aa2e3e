import { addDays, dayNumber, type Day } from '../../calendar/index.ts';
import type { Matter } from '../types.ts';
import type { Desk } from './desk.ts';

const ORDER_DAYS = 7;

/** Parts that run short within the days of the board. */
export function partsShort({ board, today, dayWord }: Desk): Matter[] {
  const first = dayNumber(board.firstDay);
  const carded = new Set(board.standing.flatMap((s) => s.tasks));
  const matters: Matter[] = [];
  for (const part of board.problem.parts) {
    const known = board.parts[part.id];
    if (!known) continue;
    let wanted = 0;
    let last: Day | null = null;
    for (const t of board.problem.tasks) {
      const n = t.parts[part.id];
      const info = board.tasks[t.id];
      if (
        !n ||
        !info ||
        !(
          carded.has(t.id) ||
          info.state === 'over' ||
          info.state === 'due' ||
          (info.likely !== null && dayNumber(info.likely) - first < board.days)
        )
      )
        continue;
      wanted += n;
      if (info.likely !== null && (last === null || info.likely > last)) last = info.likely;
    }
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
