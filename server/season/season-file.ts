import type { BatteryRound } from '@diurna/contract/batteries';
import type { SeasonRoom } from '@diurna/contract/season';
import { addDays, type Day } from '@diurna/core/calendar';
import { VISIT_WORDS } from '@diurna/core/season';
import { TASKS } from '@diurna/core/service';
import ical from 'ical-generator';
import { csvText } from '../exchange/index.ts';

const HEAD = [
  ...['base', 'season', 'boat', 'berth', 'engine', 'visit', 'task', 'because', 'wanted_by', 'done_on'],
  ...['card', 'technician', 'card_day'],
];

/** The campaign of a base, a line for each piece of work of each engine, for a spreadsheet. */
export const seasonFile = (base: string, { off, boats }: SeasonRoom): string =>
  csvText([
    HEAD,
    ...boats.flatMap((b) =>
      b.visits.flatMap(({ visit, tasks }) =>
        tasks.map(({ position, task, because, doneOn, job }) => [
          base,
          off?.name ?? null,
          b.boatName,
          b.berth,
          position,
          VISIT_WORDS[visit],
          TASKS[task].word,
          because,
          doneOn === null && visit === b.next ? b.by : null,
          doneOn,
          job?.id ?? null,
          job?.technician ?? null,
          job?.day ?? null,
        ]),
      ),
    ),
  ]);

/**
 * The days of a campaign for a calendar program: those of the base, of each boat's next visit, of the battery round.
 */
export function seasonCalendar(base: string, { off, boats }: SeasonRoom, round: BatteryRound, now: Date): string {
  const calendar = ical({
    name: `Season of ${base}`,
    prodId: { company: 'Diurna', product: 'Day book', language: 'EN' },
  });
  const on = (day: Day | null, id: string, summary: string, description = '') => {
    if (day === null) return;
    const start = new Date(`${day}T00:00:00Z`);
    const end = new Date(`${addDays(day, 1)}T00:00:00Z`);
    calendar.createEvent({
      ...{ id: `season-${id}@diurna.example`, summary, description, location: base },
      ...{ start, end, allDay: true, stamp: now },
    });
  };
  if (off) {
    on(off.closes, `closes-${base}-${off.closes}`, `${base} closes`);
    on(off.frost, `frost-${base}-${off.closes}`, `First frost may come at ${base}`);
    on(off.putAwayBy, `away-${base}-${off.closes}`, `Every boat of ${base} is put away`);
    on(off.opens, `opens-${base}-${off.opens}`, `${base} opens`);
  }
  for (const b of boats) {
    if (b.next === null) continue;
    const open = b.visits
      .filter((v) => v.visit === b.next)
      .flatMap((v) => v.tasks.filter((t) => t.doneOn === null).map((t) => TASKS[t.task].word));
    on(
      b.by,
      `boat-${b.boatId}-${b.next}-${off?.opens ?? ''}`,
      `${b.boatName}: ${VISIT_WORDS[b.next]} by today`,
      [...new Set(open)].join('\n'),
    );
  }
  for (const b of round.batteries)
    on(b.nextLook, `battery-${b.boatId}-${b.nextLook}`, `Battery of ${b.boatName}: look at it`);
  return calendar.toString();
}
