import { addDays, weekday } from '@diurna/core/calendar';
import { classOf } from './scenario.ts';
import type { Visitor } from './visitor.ts';

interface WorkingPerson {
  id: number;
  version: number;
  name: string;
}

/** Who can do what, when and where; a lift that is out for some days, parts on their way, a holiday. */
export async function writeWorkDown(
  visitor: Visitor,
  ids: Map<string, number>,
  bases: { id: number }[],
  baseId: (n: number) => number,
  today: string,
): Promise<void> {
  const { people } = await visitor.send<{ people: WorkingPerson[] }>('GET', `/people/work?from=${today}`);
  // The yard works all week in the season, everybody five days of it: all are there on the day of the story.
  const day = (ahead: number) => weekday(addDays(today, ahead));
  const fiveDays = (first: number, second: number) =>
    [1, 2, 3, 4, 5, 6, 7].filter((d) => d !== day(first) && d !== day(second));
  const week = (
    days: number[],
    fromMinute: number,
    toMinute: number,
    at: (day: number) => number | null = () => null,
  ) => days.map((weekday) => ({ weekday, fromMinute, toMinute, baseId: at(weekday) }));
  const work: Record<string, { skills: string[]; pace: number; rateMinor: number; shifts: ReturnType<typeof week> }> = {
    ines: { skills: ['lower units'], pace: 0.95, rateMinor: 5200, shifts: week(fiveDays(4, 5), 450, 960) },
    // Two bases a week besides his own.
    tomasz: {
      skills: ['lower units'],
      pace: 1,
      rateMinor: 4800,
      shifts: week(fiveDays(2, 3), 450, 960, (d) => (d === day(1) ? baseId(1) : d === day(5) ? baseId(2) : null)),
    },
    reva: { skills: [], pace: 1.25, rateMinor: 3600, shifts: week(fiveDays(2, 5), 450, 960) },
    jory: { skills: [], pace: 1.1, rateMinor: 4000, shifts: week(fiveDays(3, 4), 720, 1140) },
  };
  for (const [username, own] of Object.entries(work)) {
    const p = people.find((x) => x.id === ids.get(username))!;
    await visitor.send('PUT', `/people/${p.id}/work`, {
      ...own,
      overtimeMinutes: 60,
      overtimePercent: 150,
      version: p.version,
    });
  }
  await visitor.send('POST', `/people/${ids.get('jory')}/exceptions`, {
    kind: 'away',
    firstDay: addDays(today, 8),
    lastDay: addDays(today, 12),
    reason: 'leave',
  });
  await visitor.send('POST', `/fleet/bases/${baseId(0)}/lift-out`, {
    firstDay: addDays(today, 16),
    lastDay: addDays(today, 18),
    slots: 0,
    reason: 'lift inspected',
  });
  for (const b of bases)
    await visitor.send('POST', `/fleet/bases/${b.id}/closed-days`, { day: addDays(today, 19), name: 'Harbour day' });
  await orderKits(visitor, baseId(0), today);
  await classBoats(visitor);
}

/** Two pump kits on their way to a base. */
async function orderKits(visitor: Visitor, baseId: number, today: string): Promise<void> {
  const { rows } = await visitor.send<{
    rows: { id: number; kind: string; onHand: { baseId: number; quantity: number }[] }[];
  }>('GET', '/stores/parts?size=200');
  const kits = rows.filter((p) => p.kind === 'pump kit');
  for (const [i, kit] of kits.slice(0, 2).entries())
    await visitor.send('POST', '/stores/arrivals', {
      partId: kit.id,
      baseId,
      day: addDays(today, 7 + i * 3),
      quantity: 2,
      note: 'ordered last week',
    });
}

/** What kind of boat each is, and what a day with it brings. */
async function classBoats(visitor: Visitor): Promise<void> {
  // A week's charter is worth more than a day on the bay.
  const boats = await visitor.send<{
    rows: { id: number; name: string; version: number; baseId: number; berth: string | null }[];
  }>('GET', '/fleet/boats?size=200');
  for (const b of boats.rows) {
    const boatClass = classOf(b.name);
    await visitor.send('PUT', `/fleet/boats/${b.id}`, {
      name: b.name,
      baseId: b.baseId,
      berth: b.berth,
      boatClass,
      ...(boatClass === 'cabin cruiser' && { hireDayMinor: 42_000 }),
      version: b.version,
    });
  }
}
