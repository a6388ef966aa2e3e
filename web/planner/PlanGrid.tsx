import { DndContext, PointerSensor, TouchSensor, useSensor, useSensors } from '@dnd-kit/core';
import { addDays, weekday } from '@diurna/core/calendar';
import type { Offer, PickedUp, PlannedVisit } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { dayLetter, shortDay } from '../ui/format.ts';
import { PlanCell, spokenOffer, type Row } from './PlanCell.tsx';
import { nameOn } from './useTable.ts';

/** As many lines are drawn whole; of more only those in view. */
const DRAWN_WHOLE = 60;
/** How high a line is before it was drawn (px). */
const USUAL_ROW = 56;
/** So many days fit the width of a desk's screen. */
const SHORT_DAYS = 14;
/** How wide a day on which nobody works is (px). */
const FOLDED = 20;

interface Props {
  board: BoardReply;
  by: 'people' | 'boats';
  /** Lines of people and boats of that name alone; empty = all. */
  find: string;
  visits: readonly PlannedVisit[];
  pins: ReadonlySet<string>;
  picked: PickedUp | null;
  offers: Offer[] | null;
  busy: boolean;
  mayMove: boolean;
  pick: (picked: PickedUp | null) => void;
  drop: (day: number, technician: string) => void;
  pin: (visit: PlannedVisit) => void;
  leaveOut: () => void;
}

/** The cheaper of two offers; impossible ones last. */
const cheaper = (a: Offer | undefined, b: Offer) => (!a || (b.change ?? Infinity) < (a.change ?? Infinity) ? b : a);

export function PlanGrid({
  board,
  by,
  find,
  visits,
  pins,
  picked,
  offers,
  busy,
  mayMove,
  pick,
  drop,
  pin,
  leaveOut,
}: Props) {
  const days = useMemo(() => Array.from({ length: board.days }, (_, d) => addDays(board.firstDay, d)), [board]);
  const rows = useMemo(() => named(rowsOf(board, by, visits), board, find), [board, by, visits, find]);
  const [at, setAt] = useState<{ row: number; day: number }>({ row: 0, day: 0 });
  const grid = useRef<HTMLDivElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  /** What a cell would cost; of a boat's line, with the person who costs least. */
  const offerAt = useMemo(() => {
    const map = new Map<string, Offer>();
    for (const o of offers ?? []) {
      const key = by === 'people' ? `${o.day} ${o.technician}` : `${o.day} ${picked?.boat ?? ''}`;
      map.set(key, by === 'people' ? o : cheaper(map.get(key), o));
    }
    return map;
  }, [offers, by, picked]);
  const offerOf = (row: Row, day: number) => (picked ? offerAt.get(`${day} ${row.id}`) : undefined);

  const whole = rows.length <= DRAWN_WHOLE;
  const virtual = useVirtualizer({
    count: whole ? 0 : rows.length,
    getScrollElement: () => grid.current,
    estimateSize: () => USUAL_ROW,
    overscan: 6,
  });
  const drawn = whole
    ? rows.map((_, index) => ({ index, start: 0 }))
    : virtual.getVirtualItems().map(({ index, start }) => ({ index, start }));
  const folded = useMemo(
    () =>
      days.map(
        (_, d) => board.problem.technicians.every((t) => t.shift[d] === null) && !visits.some((v) => v.day === d),
      ),
    [days, board, visits],
  );
  const focusCell = (row: number, day: number) => {
    const r = Math.max(0, Math.min(rows.length - 1, row));
    const d = Math.max(0, Math.min(board.days - 1, day));
    setAt({ row: r, day: d });
    const focus = () => {
      const cell = grid.current?.querySelector<HTMLElement>(`[data-cell="${r} ${d}"]`);
      cell?.focus();
      return cell != null;
    };
    if (focus()) return;
    // A line out of view is scrolled to and drawn first.
    virtual.scrollToIndex(r);
    requestAnimationFrame(() => requestAnimationFrame(focus));
  };
  const put = (row: Row, day: number) => {
    const offer = offerOf(row, day);
    if (offer && offer.change !== null) drop(day, offer.technician);
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const row = rows[at.row];
    if (!row) return;
    const here = row.cells[at.day] ?? [];
    const current = picked?.from ? here.findIndex((v) => v.boat === picked.boat && picked.from!.day === at.day) : -1;
    switch (e.key) {
      case 'ArrowRight':
        focusCell(at.row, at.day + 1);
        break;
      case 'ArrowLeft':
        focusCell(at.row, at.day - 1);
        break;
      case 'ArrowDown':
        focusCell(at.row + 1, at.day);
        break;
      case 'ArrowUp':
        focusCell(at.row - 1, at.day);
        break;
      case 'Home':
        focusCell(at.row, 0);
        break;
      case 'End':
        focusCell(at.row, board.days - 1);
        break;
      case 'Enter':
      case ' ': {
        // On the cell it stands in: the next visit of that day. Elsewhere: put it down.
        if (picked && current < 0 && !(here.length > 0 && !offerOf(row, at.day))) {
          put(row, at.day);
          break;
        }
        const next = here[(current + 1) % Math.max(1, here.length)];
        if (next) pick({ boat: next.boat, from: { day: next.day }, tasks: next.tasks });
        break;
      }
      case 'm':
      case 'M': {
        const v = here[0];
        if (v && !picked) pick({ boat: v.boat, from: { day: v.day }, tasks: v.tasks });
        break;
      }
      case 'p':
      case 'P': {
        const v = here[Math.max(0, current)];
        if (v && mayMove) pin(v);
        break;
      }
      case 'Delete':
        if (picked?.from && mayMove) leaveOut();
        break;
      case 'Escape':
        pick(null);
        break;
      default:
        return;
    }
    e.preventDefault();
    e.stopPropagation();
  };
  const spoken = picked ? spokenOffer(board, rows[at.row], at.day, offerOf(rows[at.row]!, at.day)) : '';

  return (
    <DndContext
      sensors={sensors}
      onDragStart={({ active }) => {
        const v = active.data.current as PlannedVisit;
        // Picked up already, its prices stand: taken anew they would be gone for a moment, and a quick drop with them.
        const lifted = picked?.boat === v.boat && picked.from?.day === v.day;
        if (mayMove && !busy && !lifted) pick({ boat: v.boat, from: { day: v.day }, tasks: v.tasks });
      }}
      onDragEnd={({ over }) => {
        const to = over?.data.current as { row: Row; day: number } | undefined;
        if (to) put(to.row, to.day);
      }}>
      <div className="plan-frame" ref={grid}>
        <div
          role="grid"
          aria-label={by === 'people' ? 'People by days' : 'Boats by days'}
          aria-rowcount={rows.length + 1}
          aria-colcount={board.days + 1}
          className={`plan-grid ${by} ${picked ? 'picking' : ''} ${board.days <= SHORT_DAYS ? 'short' : ''}`}
          style={
            {
              '--columns': folded.map((f) => (f ? `${FOLDED}px` : 'minmax(var(--cell), 1fr)')).join(' '),
              '--least': `calc(var(--name) + ${folded.filter((f) => !f).length} * var(--cell) + ${folded.filter(Boolean).length * FOLDED}px)`,
            } as React.CSSProperties
          }
          onKeyDown={onKey}>
          <div role="row" className="plan-row plan-days" aria-rowindex={1}>
            <span role="columnheader" className="plan-name" />
            {days.map((day, d) => (
              <span
                role="columnheader"
                key={day}
                className={`plan-day ${weekday(day) > 5 ? 'rest' : ''} ${day === board.today ? 'today' : ''}`}
                title={`${shortDay(day)}${folded[d] ? ', nobody works' : ''}`}>
                {!folded[d] && dayLetter(day)} <b className="figure">{Number(day.slice(8))}</b>
              </span>
            ))}
          </div>
          <div
            className="plan-lines"
            role="presentation"
            style={whole ? undefined : { height: virtual.getTotalSize() }}>
            {drawn.map(({ index: r, start }) => {
              const row = rows[r]!;
              return (
                <div
                  role="row"
                  key={row.id}
                  ref={whole ? undefined : virtual.measureElement}
                  data-index={r}
                  className={`plan-row ${row.off ? 'plan-off' : ''}`}
                  aria-rowindex={r + 2}
                  style={whole ? undefined : { transform: `translateY(${start}px)` }}>
                  <span role="rowheader" className="plan-name" title={`${row.name}, ${row.note}`}>
                    <b>{row.name}</b>
                    <span>{row.off ? 'off' : row.note}</span>
                  </span>
                  {days.map((day, d) => (
                    <PlanCell
                      key={day}
                      board={board}
                      row={row}
                      r={r}
                      day={d}
                      by={by}
                      rest={weekday(day) > 5}
                      offer={offerOf(row, d)}
                      here={at.row === r && at.day === d}
                      pins={pins}
                      picked={picked}
                      busy={busy}
                      mayMove={mayMove}
                      enter={() => {
                        setAt({ row: r, day: d });
                      }}
                      pick={pick}
                      put={() => {
                        put(row, d);
                      }}
                    />
                  ))}
                </div>
              );
            })}
          </div>
        </div>
      </div>
      <div className="visually-hidden" aria-live="polite">
        {spoken}
      </div>
    </DndContext>
  );
}

/** Lines with a name like it, or with a visit of a boat named so. */
function named(rows: Row[], board: BoardReply, find: string): Row[] {
  const words = find.trim().toLowerCase();
  if (words === '') return rows;
  const like = (name: string | undefined) => (name ?? '').toLowerCase().includes(words);
  return rows.filter((r) => like(r.name) || r.cells.some((c) => c.some((v) => like(board.boats[v.boat]?.name))));
}

function rowsOf(board: BoardReply, by: 'people' | 'boats', visits: readonly PlannedVisit[]): Row[] {
  const empty = () => Array.from({ length: board.days }, (): PlannedVisit[] => []);
  const rows =
    by === 'people'
      ? board.problem.technicians.map((t): Row => ({
          id: t.id,
          name: nameOn(board, t.id, t.id),
          note: [board.bases[String(board.people[t.id]?.baseId)]?.name, ...t.skills].filter(Boolean).join(', '),
          off: t.shift.every((s) => s === null) && !visits.some((v) => v.technician === t.id),
          cells: empty(),
        }))
      : board.problem.boats
          .filter((b) => board.problem.engines.some((e) => e.boat === b.id))
          .map((b): Row => ({
            id: b.id,
            name: board.boats[b.id]?.name ?? b.id,
            note: [board.bases[b.base]?.name, board.boats[b.id]?.berth].filter(Boolean).join(', '),
            off: false,
            cells: empty(),
          }))
          .sort(worstFirst(board));
  const byId = new Map(rows.map((r) => [r.id, r]));
  for (const v of [...visits].sort((a, b) => a.start - b.start))
    byId.get(by === 'people' ? v.technician : v.boat)?.cells[v.day]?.push(v);
  return rows;
}

const WORST: Record<BoardReply['tasks'][string]['state'], number> = { over: 0, due: 1, unknown: 2, soon: 3, fine: 4 };

/** Boats whose work is furthest over first, then whose is due soonest, then by name. */
function worstFirst(board: BoardReply): (a: Row, b: Row) => number {
  const keys = new Map<string, string>();
  const boatOf = new Map(board.problem.engines.map((e) => [e.id, e.boat]));
  for (const t of board.problem.tasks) {
    const of = board.tasks[t.id];
    const boat = boatOf.get(t.engine);
    if (!of || boat === undefined) continue;
    const key = `${WORST[of.state]} ${of.likely ?? '9999'}`;
    const known = keys.get(boat);
    if (known === undefined || key < known) keys.set(boat, key);
  }
  const of = (r: Row) => keys.get(r.id) ?? '9';
  return (a, b) => of(a).localeCompare(of(b)) || a.name.localeCompare(b.name, 'en', { numeric: true });
}
