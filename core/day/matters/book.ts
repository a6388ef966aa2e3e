import { addDays } from '../../calendar/index.ts';
import type { FailedCalendar, HireAhead, LatePart, Unread, WaitingFinding } from '../types.ts';
import { asFound, DAY_MINUTES, relative, type Desk, type Found, type MatterText } from './desk.ts';
import { lossOf, offersOfHire } from './holds.ts';

/** Hires of one boat that are booked at the same time, within the days of the board. */
export function hiresOverlapping(desk: Desk, hires: readonly HireAhead[], days: number): Found[] {
  const { board, minute, dayWord, dayOf, clock } = desk;
  return Object.entries(board.boats).flatMap(([boat, b]): Found[] => {
    const list = [...b.hires].sort((x, y) => x[0] - y[0]);
    const at = list.findIndex(([out], i) => i > 0 && out < list[i - 1]![1] && out > minute && out < days * DAY_MINUTES);
    if (at < 0) return [];
    const [first, second] = [list[at - 1]!, list[at]!];
    const span = ([out, back]: readonly [number, number]) => `${dayWord(dayOf(out))} ${clock(out)} to ${clock(back)}`;
    const weight = second[0] < 2 * DAY_MINUTES ? 'now' : 'soon';
    const hire = hires.find((h) => h.boatId === Number(boat) && h.out === second[0] && h.back === second[1]);
    const matter = (): MatterText => ({
      key: `overlap ${boat} ${second[0]}`,
      weight,
      state: 'due',
      title: `${b.name} is booked twice at the same time`,
      text: `${span(first)}, and ${span(second)}${hire?.reference ? ` (${hire.reference})` : ''}.`,
      options: relative([
        ...(hire ? offersOfHire(desk, hire) : []),
        { label: 'Look at the hires', cost: null, act: { kind: 'look', to: `/fleet/hires` } },
        { label: 'Leave it', cost: hire ? lossOf(desk, hire) : null, act: { kind: 'leave' } },
      ]),
    });
    return [{ group: 'hires', weight, state: 'due', boat: null, matter }];
  });
}

const look = (label: string, to: string): MatterText['options'] => [
  { label, cost: null, act: { kind: 'look', to } },
  { label: 'Leave it', cost: null, act: { kind: 'leave' } },
];

/** Parts that should have come by now. */
export const partsLate = ({ dayWord, today }: Desk, late: readonly LatePart[]): Found[] =>
  late.map((p) =>
    asFound('parts', {
      key: `late part ${p.id}`,
      weight: p.day < addDays(today, -3) ? 'now' : 'soon',
      state: 'due',
      title: `${p.quantity} ${p.name} should have come ${dayWord(p.day)}`,
      text: `Ordered for ${p.baseName}. Until it is there, or has another day, the plan hopes for it every day.`,
      options: look('Look at the part', `/stores/parts/${p.partId}`),
    }),
  );

/** Calendars of hires that cannot be read: what is booked there is not known here. */
export const calendarsFailed = (failed: readonly FailedCalendar[]): Found[] =>
  failed.map((c) =>
    asFound('calendars', {
      key: `calendar ${c.id}`,
      weight: 'now',
      state: 'due',
      title: `The calendar ${c.name} could not be read`,
      text: `${c.outcome} Hires booked there since are not in the book.`,
      options: look('Look at the calendars', '/fleet/hires/calendars'),
    }),
  );

/** Meters nobody read for long: forecasts of these engines drift. */
export const hoursUnread = ({ engines, names }: Unread): Found[] =>
  engines === 0
    ? []
    : [
        asFound('readings', {
          key: 'hours',
          weight: 'soon',
          state: 'soon',
          title: engines === 1 ? 'One meter was not read for a week' : `${engines} meters were not read for a week`,
          text: `${names.join(', ')}${engines > names.length ? ' and others' : ''}. What falls due there is guessed.`,
          options: look('Type the hours', '/day/hours'),
        }),
      ];

/** Findings that hold no boat and wait for a person. */
export const findingsWaiting = (waiting: readonly WaitingFinding[]): Found[] =>
  waiting.map((f) =>
    asFound('findings', {
      key: `waits ${f.jobId} ${f.seen}`,
      weight: 'soon',
      state: 'soon',
      title: `${f.boatName}: ${f.seen.charAt(0).toLowerCase()}${f.seen.slice(1).replace(/\.$/, '')}`,
      text: 'Nobody has said yet what becomes of it.',
      options: look('Decide on the card', `/jobs/${f.jobId}`),
    }),
  );
