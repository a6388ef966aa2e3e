import type { Day } from '../../calendar/index.ts';
import type { DayPerson, HeldEngine, Matter, OldCard, PlanBoard, UndecidedHold } from '../types.ts';
import { cardsInTrouble, oldCards } from './cards.ts';
import { deskOf } from './desk.ts';
import { boatsGoing } from './going.ts';
import { heldEngines, undecidedFindings } from './holds.ts';
import { partsShort } from './parts.ts';

export { GOING_DAYS } from './desk.ts';

const MOST = 14;

/** What matters are found in. */
export interface ToDecide {
  board: PlanBoard;
  people: readonly DayPerson[];
  today: Day;
  /** Minutes after midnight now. */
  minute: number;
  holds: readonly HeldEngine[];
  undecided: readonly UndecidedHold[];
  old: readonly OldCard[];
}

/**
 * Every matter that needs a person, worst first, each with options worked out on the board of the next two
 * weeks. Costs are against the cheapest option, so that the figures can be compared as they stand.
 */
export function mattersOf({ board, people, today, minute, holds, undecided, old }: ToDecide): Matter[] {
  const desk = deskOf(board, today, minute);
  const found = [
    ...heldEngines(desk, holds),
    ...undecidedFindings(undecided),
    ...cardsInTrouble(desk, people),
    ...oldCards(desk, old),
    ...boatsGoing(desk, people),
    ...partsShort(desk),
  ];
  const rank = { over: 0, due: 1, soon: 2, unknown: 3, fine: 4 } as const;
  const shown = found
    .sort(
      (a, b) =>
        Number(a.weight === 'soon') - Number(b.weight === 'soon') || rank[a.state ?? 'fine'] - rank[b.state ?? 'fine'],
    )
    .slice(0, MOST);
  desk.layOut(shown.map((f) => f.boat));
  return shown.map((f) => f.matter());
}
