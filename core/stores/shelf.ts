import type { TaskKind } from '../service/index.ts';
import { compareSerials, serialInRange, serialRangeText, type SerialRange } from '../fleet/index.ts';
import { fitmentQuantity, type ModelVolumes } from './fitment.ts';
import { withoutOlder } from './choose.ts';
import type { Fitment } from './part.ts';

/** How many services of one kind the shelf can still do on engines of one serial range. */
export interface ServicesLeft {
  task: TaskKind;
  /** "all serials", or the range whose parts these are. */
  serials: string;
  /** null when the parts or volumes are not known. */
  count: number | null;
  /** The part that runs out first. */
  limitedBy: number | null;
}

/**
 * How many services the shelf can do on one model, a row for each range of serials that takes
 * other parts. Each row is counted as if the whole shelf were for it. A service is counted only
 * when every part it takes is there: the smallest of (on hand / needed), rounded down.
 *
 * @param onHand quantity by part id; missing or negative counts as none.
 */
export function servicesLeft(
  task: TaskKind,
  fitments: readonly Fitment[],
  volumes: ModelVolumes,
  onHand: ReadonlyMap<number, number>,
): ServicesLeft[] {
  const own = fitments.filter((f) => f.task === task);
  if (own.length === 0) return [{ task, serials: 'all serials', count: null, limitedBy: null }];
  return serialVariants(own).map((range) => {
    const parts = withoutOlder(own.filter((f) => overlaps(range, f)));
    let count: number | null = null;
    let limitedBy: number | null = null;
    for (const fitment of parts) {
      const need = fitmentQuantity(fitment, volumes);
      if (need === null || need <= 0) return { task, serials: serialRangeText(range), count: null, limitedBy: null };
      const possible = Math.floor(Math.max(0, onHand.get(fitment.partId) ?? 0) / need + 1e-9);
      if (count === null || possible < count) {
        count = possible;
        limitedBy = fitment.partId;
      }
    }
    return { task, serials: serialRangeText(range), count, limitedBy };
  });
}

/** The distinct serial ranges named by the fitments; the open range only where nothing else is named. */
function serialVariants(fitments: readonly Fitment[]): SerialRange[] {
  const named = new Map<string, SerialRange>();
  for (const { from, to } of fitments) {
    if (from !== null || to !== null) named.set(`${from ?? ''}|${to ?? ''}`, { from, to });
  }
  if (named.size === 0) return [{ from: null, to: null }];
  return [...named.values()].sort((a, b) =>
    a.from === null ? -1 : b.from === null ? 1 : compareSerials(a.from, b.from),
  );
}

function overlaps(range: SerialRange, fitment: SerialRange): boolean {
  const probe = range.from ?? range.to;
  return probe === null ? true : serialInRange(probe, fitment);
}

/** What taking `quantity` would leave on the shelf, and how much is short (0 when it is enough). */
export function takeFromShelf(onHand: number, quantity: number): { left: number; short: number } {
  const left = onHand - quantity;
  return { left, short: left < 0 ? Math.min(quantity, -left) : 0 };
}
