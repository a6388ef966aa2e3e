import { addDays } from '@diurna/core/calendar';
import type { BoardReply } from '@diurna/contract/planner';
import type { PlanConflict, PlannedVisit } from '@diurna/core/planner';
import { plural, shortDay } from '../ui/format.ts';
import { nameOn } from './useTable.ts';

/** Boats about which somebody else decided otherwise meanwhile: one of the two is chosen. */
export function PlanConflicts({
  board,
  conflicts,
  settle,
  takeMine,
}: {
  board: BoardReply;
  conflicts: readonly PlanConflict[];
  settle: (boat: string) => void;
  takeMine: (conflict: PlanConflict) => void;
}) {
  if (conflicts.length === 0) return null;
  return (
    <div className="plan-conflicts" role="alert">
      <p>
        <b>Somebody else accepted a plan meanwhile.</b> What only one of you changed is put together. For{' '}
        {plural(conflicts.length, 'boat')} both of you decided:
      </p>
      <ul>
        {conflicts.map((c) => (
          <li key={c.boat}>
            <b>{board.boats[c.boat]?.name}</b>: theirs {visitsText(c.theirs, board)}; yours {visitsText(c.mine, board)}.{' '}
            <button
              type="button"
              className="link-button"
              onClick={() => {
                settle(c.boat);
              }}>
              keep theirs
            </button>{' '}
            <button
              type="button"
              className="link-button"
              onClick={() => {
                takeMine(c);
              }}>
              take mine
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function visitsText(visits: readonly PlannedVisit[], board: BoardReply): string {
  if (visits.length === 0) return 'nothing';
  return visits
    .map((v) => `${shortDay(addDays(board.firstDay, v.day))} with ${nameOn(board, v.technician)}`)
    .join(', ');
}
