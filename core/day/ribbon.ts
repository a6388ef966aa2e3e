import type { BoatFacts } from '../ahead/index.ts';
import { dayNumber, minuteInZone, type Day } from '../calendar/index.ts';

/** How many boats are on hire at some time of each day, by the clock of their base. */
export function boatsOutByDay(
  boats: Iterable<BoatFacts>,
  from: Day,
  days: number,
  baseId: number | undefined,
): number[] {
  const first = dayNumber(from);
  const counts = Array<number>(days).fill(0);
  // A day of slack for the zone; the exact day is worked out below.
  const start = (first - 1) * 86_400_000;
  const end = (first + days + 1) * 86_400_000;
  for (const { hires, use, engines } of boats) {
    if (baseId !== undefined && use.baseId !== baseId) continue;
    const zone = engines[0]!.timeZone;
    const touched = new Set<number>();
    for (const { out, back } of hires) {
      if (back < start || out > end) continue;
      const last = Math.min(days - 1, minuteInZone(back, zone).dayNo - first);
      for (let i = Math.max(0, minuteInZone(out, zone).dayNo - first); i <= last; i++) touched.add(i);
    }
    for (const i of touched) counts[i]!++;
  }
  return counts;
}
