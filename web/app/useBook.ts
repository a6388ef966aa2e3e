import { addDays, dayInZone, type Day } from '@diurna/core/calendar';
import { weekday } from '@diurna/core/calendar';
import { shortName } from '@diurna/core/people';
import type { Role } from '@diurna/contract';
import type { Session } from '@diurna/contract/people';
import { fleetApi } from '../fleet/api.ts';
import { peopleApi } from '../people/api.ts';
import { weekStarts } from '../ui/format.ts';
import { now } from './clock.ts';
import { useAppSelector } from './store.ts';

export function useSession(): Session | undefined {
  return peopleApi.useReadSessionQuery().data;
}

/** The person signed in; rooms are only shown to one. */
export function useMe() {
  const person = useSession()?.person;
  if (!person) throw new Error('nobody is signed in');
  return person;
}

/** What people call each other: the first name, or the whole one where others of the yard have that name too. */
export function useShort(): (name: string) => string {
  const shared = useSession()?.sharedNames;
  return (name) => shortName(name, new Set(shared ?? []));
}

export function useMay(...roles: Role[]): boolean {
  return roles.includes(useMe().role);
}

export function useBases() {
  return fleetApi.useListBasesQuery().data ?? [];
}

/** Today at the person's base, wherever this device is. */
export function useToday(): Day {
  const me = useMe();
  const bases = useBases();
  return (
    (bases.find((b) => b.id === me.baseId) ?? bases[0])?.today ??
    dayInZone(new Date(now()), Intl.DateTimeFormat().resolvedOptions().timeZone)
  );
}

/** The day the whole book is turned to. */
export function useDay(): Day {
  const chosen = useAppSelector((s) => s.book.day);
  const today = useToday();
  return chosen ?? today;
}

/** The first day of the ribbon: that of this week, as the yard begins its weeks, or of the week turned to. */
export function ribbonStart(today: Day, day: Day): Day {
  const first = (d: Day) => addDays(d, -((weekday(d) - weekStarts() + 7) % 7));
  const start = first(today);
  return day >= start && day < addDays(start, 28) ? start : first(day);
}
