import { useDraggable, useDroppable } from '@dnd-kit/core';
import { addDays } from '@diurna/core/calendar';
import {
  hindrancesText,
  wordsIn,
  planTaskOf,
  type Offer,
  type PickedUp,
  type PlannedVisit,
} from '@diurna/core/planner';
import { TASKS } from '@diurna/core/service';
import type { BoardReply } from '@diurna/contract/planner';
import { minutesText } from '@diurna/core/visit';
import { plural, shortDay, timeText } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { moreText, workOf } from './figures.ts';
import { pinKey } from './plan-state.ts';
import { nameOn } from './useTable.ts';

/** Of so many tasks all are drawn on a visit; its title names them all. */
const GLYPHS = 4;

/** A line of the grid: a person, or a boat. */
export interface Row {
  id: string;
  name: string;
  note: string;
  /** Somebody who works on none of the days. */
  off: boolean;
  /** Visits of each day, in order of their start. */
  cells: PlannedVisit[][];
}

interface CellProps {
  board: BoardReply;
  row: Row;
  r: number;
  day: number;
  by: 'people' | 'boats';
  rest: boolean;
  offer: Offer | undefined;
  here: boolean;
  pins: ReadonlySet<string>;
  picked: PickedUp | null;
  busy: boolean;
  mayMove: boolean;
  enter: () => void;
  pick: (picked: PickedUp | null) => void;
  put: () => void;
}

/** One day of one line: its visits, what may be put there and what that costs. */
export function PlanCell({
  board,
  row,
  r,
  day,
  by,
  rest,
  offer,
  here,
  pins,
  picked,
  busy,
  mayMove,
  enter,
  pick,
  put,
}: CellProps) {
  const visits = row.cells[day]!;
  const { setNodeRef, isOver } = useDroppable({
    id: `cell ${row.id} ${day}`,
    data: { row, day },
    disabled: offer?.change === null || offer === undefined,
  });
  const tech = by === 'people' ? board.problem.technicians.find((t) => t.id === row.id) : undefined;
  const away =
    by === 'people'
      ? tech?.shift[day] === null
      : (board.problem.boats.find((b) => b.id === row.id)?.free[day]?.length ?? 0) === 0;
  const at = tech && typeof tech.base !== 'string' ? tech.base[day] : null;
  const word = by === 'people' ? (rest ? '' : 'away') : 'out';
  const own = picked?.from?.day === day && visits.some((v) => v.boat === picked.boat);
  return (
    <span
      role="gridcell"
      ref={setNodeRef}
      data-cell={`${r} ${day}`}
      tabIndex={here ? 0 : -1}
      onFocus={enter}
      className={[
        'plan-cell',
        rest && 'rest',
        away && 'away',
        offer?.change != null && 'open',
        offer && offer.why.length > 0 && 'shut',
        isOver && 'over-it',
      ]
        .filter(Boolean)
        .join(' ')}
      title={
        offer && offer.why.length > 0
          ? cap(hindrancesText(offer.why, nameOn(board, offer.technician, 'this person'), wordsIn(board.parts)))
          : undefined
      }
      onClick={(e) => {
        if (e.target === e.currentTarget && offer?.change != null) put();
      }}>
      <span className="visually-hidden">
        {cellWords(board, row, day, visits, offer, away ? word || 'not at work' : null, pins)}
      </span>
      {at && at !== String(board.people[row.id]?.baseId) && visits.length === 0 && (
        <span className="plan-away">{board.bases[at]?.name}</span>
      )}
      {away && visits.length === 0 && word && <span className="plan-away">{word}</span>}
      {visits.map((v) => (
        <Chip
          key={`${v.boat} ${v.day}`}
          board={board}
          visit={v}
          by={by}
          pinned={pins.has(pinKey(v))}
          lifted={picked?.from?.day === v.day && picked.boat === v.boat}
          busy={busy}
          mayMove={mayMove}
          pick={pick}
        />
      ))}
      {offer?.change != null && !own && (
        <button
          type="button"
          tabIndex={-1}
          className={`plan-offer ${offer.change < 1 ? 'good' : offer.change < 25 ? 'fair' : 'dear'}`}
          onClick={put}
          title={`${by === 'boats' ? `with ${nameOn(board, offer.technician)}, ` : ''}${moreText(offer.change)} in all${offer.joins ? ', joining the visit that stands' : ''}`}>
          {moreText(offer.change)}
        </button>
      )}
    </span>
  );
}

function Chip({
  board,
  visit: v,
  by,
  pinned,
  lifted,
  busy,
  mayMove,
  pick,
}: {
  board: BoardReply;
  visit: PlannedVisit;
  by: 'people' | 'boats';
  pinned: boolean;
  lifted: boolean;
  busy: boolean;
  mayMove: boolean;
  pick: (p: PickedUp | null) => void;
}) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: `visit ${v.boat} ${v.day}`,
    data: v,
    disabled: busy || !mayMove,
  });
  const name = by === 'people' ? (board.boats[v.boat]?.name ?? v.boat) : nameOn(board, v.technician);
  const kinds = [...new Set(v.tasks.map((t) => planTaskOf(t).task))];
  return (
    <button
      type="button"
      ref={setNodeRef}
      {...listeners}
      tabIndex={-1}
      aria-pressed={lifted}
      className={['plan-chip', lifted && 'lifted', pinned && 'pinned', isDragging && 'dragging']
        .filter(Boolean)
        .join(' ')}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      title={`${board.boats[v.boat]?.name ?? ''}, ${timeText(v.start)} to ${timeText(v.start + v.elapsed)}: ${kinds.map((k) => TASKS[k].word.toLowerCase()).join(', ')}${pinned ? '; pinned' : ''}`}
      onClick={() => {
        if (!busy) pick(lifted ? null : { boat: v.boat, from: { day: v.day }, tasks: v.tasks });
      }}>
      <b>{name}</b>
      {pinned && (
        <span className="pin-mark" aria-label="pinned">
          ▾
        </span>
      )}
      <span className="chip-glyphs">
        {kinds.slice(0, kinds.length > GLYPHS ? GLYPHS - 1 : GLYPHS).map((k) => (
          <TaskGlyph key={k} task={k} size={14} silent />
        ))}
        {kinds.length > GLYPHS && <span className="figure">+{kinds.length - GLYPHS + 1}</span>}
      </span>
    </button>
  );
}

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

function cellWords(
  board: BoardReply,
  row: Row,
  day: number,
  visits: readonly PlannedVisit[],
  offer: Offer | undefined,
  away: string | null,
  pins: ReadonlySet<string>,
): string {
  const what = visits
    .map(
      (v) =>
        `${board.boats[v.boat]?.name}, ${plural(v.tasks.length, 'task')}, ${minutesText(workOf(v))} from ${timeText(v.start)}${pins.has(pinKey(v)) ? ', pinned' : ''}`,
    )
    .join('; ');
  return `${row.name}, ${shortDay(addDays(board.firstDay, day))}: ${what || away || 'nothing'}${offer ? `. ${spokenOffer(board, row, day, offer)}` : ''}`;
}

/** A place in words, with what it costs or why it cannot be had. */
export function spokenOffer(board: BoardReply, row: Row | undefined, day: number, offer: Offer | undefined): string {
  if (!row) return '';
  const where = `${shortDay(addDays(board.firstDay, day))}, ${row.name}`;
  if (!offer) return where;
  if (offer.change === null)
    return `${where}: not possible, ${hindrancesText(offer.why, nameOn(board, offer.technician), wordsIn(board.parts))}`;
  return `${where}: ${Math.round(offer.change) === 0 ? 'costs the same' : offer.change > 0 ? `${Math.round(offer.change)} dearer` : `${Math.round(-offer.change)} cheaper`}`;
}
