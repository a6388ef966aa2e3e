import type { WorkingPerson } from '@diurna/contract/work-calendar';
import { twelveHours, timeText } from '../ui/format.ts';
import { timeFieldOf } from '@diurna/core/calendar';

/** As weeks are written: Monday first. */
export const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const hour = (minute: number) => (twelveHours() ? timeText(minute) : timeFieldOf(minute));
export const fromTo = (from: number, to: number) => `${hour(from)} to ${hour(to)}`;

/** "12 May to 14 May: away, wedding"; `day` writes a day, `base` names a base. */
export function exceptionText(
  x: WorkingPerson['exceptions'][number],
  day: (day: string) => string,
  base: (id: number | null) => string,
): string {
  const days = x.lastDay === x.firstDay ? day(x.firstDay) : `${day(x.firstDay)} to ${day(x.lastDay)}`;
  const what =
    x.kind === 'away' ? 'away' : x.kind === 'base' ? `at ${base(x.baseId)}` : fromTo(x.fromMinute!, x.toMinute!);
  return `${days}: ${what}${x.reason ? `, ${x.reason}` : ''}`;
}

/** A usual week, days of the same hours together: "Mon Tue 07:30 to 16:00; Sat 08:00 to 12:00 at Outer Mole". */
export function weekText(p: WorkingPerson, base: (id: number | null) => string): string {
  if (p.shifts.length === 0) return 'the base’s working days';
  const groups = new Map<string, number[]>();
  for (const s of p.shifts) {
    const elsewhere = s.baseId === null || s.baseId === p.baseId ? '' : ` at ${base(s.baseId)}`;
    const key = `${fromTo(s.fromMinute, s.toMinute)}${elsewhere}`;
    groups.set(key, [...(groups.get(key) ?? []), s.weekday]);
  }
  return [...groups].map(([key, days]) => `${days.map((d) => DAYS[d - 1]).join(' ')} ${key}`).join('; ');
}
