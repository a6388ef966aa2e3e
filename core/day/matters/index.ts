import type { ClockFace, Day } from '../../calendar/index.ts';
import type {
  DayPerson,
  FailedCalendar,
  HeldEngine,
  HireAhead,
  LatePart,
  Matter,
  OldCard,
  PlanBoard,
  UndecidedHold,
  Unread,
  WaitingFinding,
} from '../types.ts';
import { calendarsFailed, findingsWaiting, hiresOverlapping, hoursUnread, partsLate } from './book.ts';
import { cardsInTrouble, cardsPastTheirEnd, cardsRefused, oldCards } from './cards.ts';
import { deskOf, type Desk, type Found } from './desk.ts';
import { boatsGoing } from './going.ts';
import { heldBoats, undecidedFindings } from './holds.ts';
import { partsShort } from './parts.ts';

export { GOING_DAYS } from './desk.ts';

const MOST = 24;
/** Hires that overlap are looked for so many days ahead. */
const OVERLAP_DAYS = 14;

/** What matters are found in. */
export interface ToDecide {
  /** From the day asked about on. */
  board: PlanBoard;
  /** Lines of the board's first day. */
  people: readonly DayPerson[];
  today: Day;
  /** Minutes after midnight now; 0 on a day to come. */
  minute: number;
  /** How the yard writes its hours. */
  clock?: ClockFace | undefined;
  holds: readonly HeldEngine[];
  undecided: readonly UndecidedHold[];
  /** Hires that have not begun, of held boats and of those booked twice. */
  hires: readonly HireAhead[];
  old: readonly OldCard[];
  lateParts: readonly LatePart[];
  calendars: readonly FailedCalendar[];
  unread: Unread;
  waiting: readonly WaitingFinding[];
}

/**
 * Every matter that needs a person, with options worked out on the board of the next two weeks; of a day to come only
 * what that day itself wants. What is for now stands first, then by what waiting costs. Costs are against the cheapest
 * option, so that the figures can be compared as they stand.
 */
export function mattersOf(of: ToDecide): Matter[] {
  const { board, today, minute } = of;
  const desk = deskOf(board, today, minute, of.clock ?? '24');
  const isToday = board.firstDay === today;
  const found = [...(isToday ? ofNow(desk, of) : []), ...ofTheDay(desk, of, isToday)];
  const rank = { over: 0, due: 1, soon: 2, unknown: 3, fine: 4 } as const;
  const worstFirst = (a: Found, b: Found) =>
    Number(a.weight === 'soon') - Number(b.weight === 'soon') || rank[a.state ?? 'fine'] - rank[b.state ?? 'fine'];
  const most = found.sort(worstFirst).slice(0, MOST);
  desk.layOut(most.map((f) => f.boat));
  // Once the plan is laid out it shows what of the coming days does not stand any more.
  const shown = isToday ? [...most, ...cardsRefused(desk)].sort(worstFirst).slice(0, MOST) : most;
  return shown
    .map((f): Matter => {
      const matter = f.matter();
      const leave = matter.options.find((o) => o.act.kind === 'leave' || o.act.kind === 'call off');
      return { group: f.group, waiting: leave?.cost ?? null, ...matter };
    })
    .sort(
      (a, b) =>
        Number(a.weight === 'soon') - Number(b.weight === 'soon') ||
        (b.waiting ?? 0) - (a.waiting ?? 0) ||
        rank[a.state ?? 'fine'] - rank[b.state ?? 'fine'],
    );
}

/** What stands open in the book now. */
const ofNow = (desk: Desk, of: ToDecide): Found[] => [
  ...heldBoats(desk, of.holds, of.hires),
  ...undecidedFindings(desk, of.undecided, of.hires),
  ...cardsPastTheirEnd(desk, of.people),
  ...oldCards(desk, of.old),
  ...partsShort(desk),
  ...partsLate(desk, of.lateParts),
  ...calendarsFailed(of.calendars),
  ...hoursUnread(of.unread),
  ...findingsWaiting(of.waiting),
];

/** What the day itself wants; today looks two days further at what goes out. */
const ofTheDay = (desk: Desk, of: ToDecide, isToday: boolean): Found[] => [
  ...cardsInTrouble(desk, of.people),
  ...(isToday ? boatsGoing(desk, of.people) : boatsGoing(desk, of.people, 1)),
  ...hiresOverlapping(desk, of.hires, isToday ? OVERLAP_DAYS : 1),
];
