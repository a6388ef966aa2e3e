import { addDays, timeOfDay, type ClockFace, type Day } from '../../calendar/index.ts';
import { shortNames } from '../../people/index.ts';
import { Board, factsOfBoats, problemOf, wordsIn, type Offer } from '../../planner/index.ts';
import type { Matter, MatterGroup, PlanBoard } from '../types.ts';

/** Boats that go out within so many days are looked at. */
export const GOING_DAYS = 2;
export const DAY_MINUTES = 1440;
const weekday = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', timeZone: 'UTC' });

/** A matter as it is found; its group and what waiting costs are added to it at the end. */
export type MatterText = Omit<Matter, 'group' | 'waiting'>;

/** A matter that was found: how it ranks is known at once, its options are worked out if it is shown. */
export interface Found extends Pick<Matter, 'group' | 'weight' | 'state'> {
  /** The boat whose work may be placed anew. */
  boat: string | null;
  matter: () => MatterText;
}

/** A matter that needs no places. */
export const asFound = (group: MatterGroup, matter: MatterText): Found => ({
  group,
  weight: matter.weight,
  state: matter.state,
  boat: null,
  matter: () => matter,
});

/** What every matter is worked out with: the board of the next days, and words for places on it. */
export interface Desk {
  board: PlanBoard;
  /** The plan that stands; it knows the work of boats that have cards, and of those it was laid out for. */
  plan: Board;
  today: Day;
  /** Minutes after midnight: what lies before is over. */
  minute: number;
  name: (technician: string) => string;
  /** The plan's names of tasks, parts and skills in words. */
  say: (at: string) => string;
  dayWord: (day: Day) => string;
  /** "13:30" of minutes from the first day's midnight. */
  clock: (minute: number) => string;
  /** The day that many minutes from the first day's midnight lie on. */
  dayOf: (minute: number) => Day;
  whereText: (o: Offer) => string;
  /** Places for work of a boat, cheapest first. */
  placesFor: (boat: string, tasks: string[]) => Offer[];
  /** Lays the plan out once it is known whose work is to be placed: the whole fleet's would take long. */
  layOut: (boats: readonly (string | null)[]) => void;
  to: (o: Offer) => { day: Day; technicianId: number; startMinute: null };
}

/** Sets the board up for finding matters. `minute` counts from midnight of the board's first day. */
export function deskOf(board: PlanBoard, today: Day, minute: number, face: ClockFace): Desk {
  let plan: Board | null = null;
  const laid = () => {
    if (!plan) throw new Error('options are worked out after the plan is laid out');
    return plan;
  };
  const names = shortNames(Object.entries(board.people).map(([id, p]) => [id, p.name] as const));
  const name = (technician: string) => names.get(technician) ?? '';
  const dayWord = (day: Day) =>
    day === today ? 'today' : weekday.format(new Date(`${day}T12:00:00Z`)).replace(',', '');
  return {
    board,
    get plan() {
      return laid();
    },
    layOut: (boats) => {
      const ids = new Set([...boats, ...board.standing.map((s) => s.boat)].map(Number));
      plan = new Board(problemOf(factsOfBoats(board.yard, ids)), board.standing);
    },
    today,
    minute,
    name,
    say: wordsIn(board.parts),
    dayWord,
    clock: (at) => timeOfDay(at, face),
    dayOf: (at) => addDays(board.firstDay, Math.floor(at / DAY_MINUTES)),
    whereText: (o) => `${dayWord(addDays(board.firstDay, o.day))} with ${name(o.technician)}`,
    placesFor: (boat, tasks) =>
      laid()
        .offers({ boat, from: null, tasks })
        .filter((o) => o.change !== null)
        .sort((a, b) => a.change! - b.change!),
    to: (o) => ({ day: addDays(board.firstDay, o.day), technicianId: Number(o.technician), startMinute: null }),
  };
}

/** Costs against the cheapest of the options. */
export function relative(options: Matter['options']): Matter['options'] {
  const known = options.flatMap((o) => (o.cost === null ? [] : [o.cost]));
  const least = Math.min(...known);
  return options.map((o) => ({ ...o, cost: o.cost === null ? null : Math.round((o.cost - least) * 100) / 100 }));
}
