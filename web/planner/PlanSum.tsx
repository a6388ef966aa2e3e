import type { BoardReply } from '@diurna/contract/planner';
import type { PlannedVisit } from '@diurna/core/planner';
import { plural } from '../ui/format.ts';
import { savedMinutes, wholeMoney } from './figures.ts';
import type { RunNews } from './run.ts';

/** What the plan comes to: its cost and how near the best possible, what is placed and what is not, what it saves. */
export function PlanSum({
  board,
  visits,
  cost,
  running,
  known,
  wanted,
}: {
  board: BoardReply;
  visits: readonly PlannedVisit[];
  cost: number;
  running: RunNews | null;
  /** The proven bound of this plan; null while there is none. */
  known: number | null;
  /** Tasks that find no place. */
  wanted: number;
}) {
  const tasks = visits.reduce((sum, v) => sum + v.tasks.length, 0);
  const near = known === null ? (running ? ', looking for the best possible ...' : '') : `, ${nearText(cost, known)}`;
  // While it runs the search says its own cost: it counts moves too, and never rises.
  const shown = running && Number.isFinite(running.cost) ? running.cost : cost;
  return (
    <p className="plan-sum" role="status" aria-label="The plan in figures">
      <span>
        <b className="figure">{wholeMoney(shown)}</b> {board.currency}{' '}
        {running && board.moveCost > 0 ? 'plan cost, moves counted' : 'plan cost'}
        {near}
      </span>
      <span>
        <b className="figure">{tasks}</b> tasks in {plural(visits.length, 'visit')}
      </span>
      <span className={wanted > 0 ? 'minus' : ''}>
        <b className="figure">{wanted}</b> not placed
      </span>
      <span>
        <b className="figure">{(savedMinutes(board.problem, visits) / 60).toFixed(1)} h</b> saved by sharing
      </span>
    </p>
  );
}

function nearText(cost: number, bound: number): string {
  const apart = (cost - bound) / Math.max(1e-9, cost);
  if (apart <= 1e-3) return 'the best possible';
  return `within ${apart < 0.01 ? (apart * 100).toFixed(1) : (apart * 100).toFixed(0)} % of the best possible`;
}
