import { gapsBetween, type Span } from './hires.ts';

/** A gap between hires, and how much of it falls into the hours in which boats can be worked on. */
export interface AtBase {
  /** In days from midnight of the first day. */
  from: number;
  to: number;
  openHours: number;
}

/**
 * When a boat can be worked on at its base: the gaps between its hires, counted by the hours the base is open. A boat
 * that goes out at nine from a base open from seven leaves two hours that morning, however early one looks.
 *
 * @param hires out and back, in days from midnight of the first day, by the clock of the base
 * @param now in the same days: nothing before it can be used any more
 * @param days how many are looked at
 * @param base minutes of the day between which it is open
 * @param shortest gaps with fewer open hours are of no use
 */
export function atBase(
  hires: readonly Span[],
  {
    now,
    days,
    base,
    shortest,
  }: { now: number; days: number; base: { opensAt: number; closesAt: number }; shortest: number },
): AtBase[] {
  const open = (from: number, to: number) => {
    let minutes = 0;
    for (let day = Math.floor(from); day < to; day++) {
      const start = Math.max(from, day + base.opensAt / 1440);
      minutes += Math.max(0, Math.min(to, day + base.closesAt / 1440) - start) * 1440;
    }
    return Math.round(minutes) / 60;
  };
  return gapsBetween(hires, now, days)
    .map(([from, to]) => ({ from, to, openHours: open(from, to) }))
    .filter((gap) => gap.openHours >= shortest - 1e-6);
}
