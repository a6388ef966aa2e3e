import { addDays } from '@diurna/core/calendar';
import { planTaskOf, type PlannedVisit, type TaskReasons } from '@diurna/core/planner';
import { TASKS } from '@diurna/core/service';
import type { BoardReply } from '@diurna/contract/planner';
import type { Remote } from 'comlink';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { plural, quantityText, shortDay } from '../ui/format.ts';
import { ShowAll } from '../ui/ShowAll.tsx';
import { Lines } from '../ui/Lines.tsx';
import type { BoardApi } from './board.ts';
import { wholeMoney, workOf } from './figures.ts';
import { nameOn } from './useTable.ts';

const FIRST_SHOWN = 6;
const PARTS_SHOWN = 9;

/** What is not placed and what would free it, what the plan eats, and everybody's hours. */
export function PlanSide({
  board,
  thread,
  ready,
  visits,
  settled,
  wanted,
  pick,
}: {
  board: BoardReply;
  thread: Remote<BoardApi> | null;
  ready: object | null;
  visits: readonly PlannedVisit[];
  /** Not while it is still being worked out. */
  settled: boolean;
  wanted: string[];
  pick: (task: string) => void;
}) {
  const [reasons, setReasons] = useState<TaskReasons[] | null>(null);
  const [all, setAll] = useState(false);
  const ids = wanted.join('|');
  useEffect(() => {
    if (!thread || !settled || ready !== board) return undefined;
    let current = true;
    void thread.whyLeft([...visits], ids === '' ? [] : ids.split('|')).then((r) => {
      if (current) setReasons(r.sort((a, b) => skipOf(board, b.task) - skipOf(board, a.task)));
    });
    return () => {
      current = false;
    };
  }, [thread, ready, board, visits, settled, ids]);
  const shown = all ? (reasons ?? []) : (reasons ?? []).slice(0, FIRST_SHOWN);
  return (
    <>
      <section className="block">
        <h2>Not placed</h2>
        {!settled && <p className="faint">Reasons come when the plan stands.</p>}
        {settled && wanted.length === 0 && (
          <p className="faint">Everything that falls due within these days has its place.</p>
        )}
        {settled && wanted.length > 0 && !reasons && <p className="faint">Looking for what stands in the way ...</p>}
        {settled && shown.map((r) => <NotPlaced key={r.task} board={board} reasons={r} pick={pick} />)}
        {settled && (reasons?.length ?? 0) > FIRST_SHOWN && (
          <ShowAll all={all} rest={reasons!.length - FIRST_SHOWN} onChange={setAll} />
        )}
      </section>
      <Stock board={board} visits={visits} wanted={wanted} />
      <Hours board={board} visits={visits} />
    </>
  );
}

const skipOf = (board: BoardReply, task: string) => board.problem.tasks.find((t) => t.id === task)?.skipCost ?? 0;

function NotPlaced({
  board,
  reasons,
  pick,
}: {
  board: BoardReply;
  reasons: TaskReasons;
  pick: (task: string) => void;
}) {
  const { task, engineId } = planTaskOf(reasons.task);
  const info = board.tasks[reasons.task];
  const boat = board.problem.engines.find((e) => e.id === String(engineId))?.boat ?? '';
  const name = (id: string | null) => (id === null ? 'a lent technician' : nameOn(board, id, id));
  return (
    <div
      className="not-placed"
      role="group"
      aria-label={`No place for ${board.boats[boat]?.name ?? ''}, ${TASKS[task].word.toLowerCase()}`}>
      <button
        type="button"
        className="link-button plain"
        onClick={() => {
          pick(reasons.task);
        }}
        title="Pick it up">
        <b>
          {board.boats[boat]?.name}
          {info && info.position !== 'single' ? ` ${info.position}` : ''}, {TASKS[task].word.toLowerCase()}
        </b>
      </button>{' '}
      <span className={info?.state ?? ''}>{info?.text}</span>
      {reasons.reasons.map((text) => (
        <p key={text}>{text}</p>
      ))}
      {reasons.frees.slice(0, 2).map((f) => (
        <p key={f.relief} className="frees">
          {f.relief === 'overtime' &&
            `Two hours more of ${name(f.technician)} on ${shortDay(addDays(board.firstDay, f.day))}`}
          {f.relief === 'parts today' && (
            <>
              The parts here by {shortDay(addDays(board.firstDay, f.day))} {partLink(board, reasons.task)}
            </>
          )}
          {f.relief === 'one more lift' && `One more turn on the lift on ${shortDay(addDays(board.firstDay, f.day))}`}
          {f.relief === 'lent technician' &&
            `A lent technician with every skill on ${shortDay(addDays(board.firstDay, f.day))}`}
          {f.relief === 'boat kept at base' &&
            `The boat kept at base on ${shortDay(addDays(board.firstDay, f.day))}, before the hire lost`}
          : saves <b className="figure">{wholeMoney(-f.change)}</b> {board.currency}
        </p>
      ))}
      {reasons.best && (
        <p className="frees">
          <button
            type="button"
            className="link-button"
            onClick={() => {
              pick(reasons.task);
            }}>
            See every place
          </button>
        </p>
      )}
    </div>
  );
}

function partLink(board: BoardReply, task: string) {
  const parts = Object.keys(board.problem.tasks.find((t) => t.id === task)?.parts ?? {});
  const short =
    parts.find((p) => (board.problem.parts.find((x) => x.id === p)?.supply.reduce((a, b) => a + b, 0) ?? 0) < 1e9) ??
    parts[0];
  const part = short ? board.parts[short] : undefined;
  return part ? <Link to={`/stores/parts/${part.partId}`}>order</Link> : null;
}

/** Supply of the plan's days, what the plan takes, and what is wanted besides. */
function Stock({
  board,
  visits,
  wanted,
}: {
  board: BoardReply;
  visits: readonly PlannedVisit[];
  wanted: readonly string[];
}) {
  const lines = useMemo(() => {
    const task = new Map(board.problem.tasks.map((t) => [t.id, t]));
    const use = (ids: readonly string[]) => {
      const sum = new Map<string, number>();
      for (const id of ids)
        for (const [p, n] of Object.entries(task.get(id)?.parts ?? {})) sum.set(p, (sum.get(p) ?? 0) + n);
      return sum;
    };
    const planned = use(visits.flatMap((v) => v.tasks));
    const left = use(wanted);
    return board.problem.parts
      .map((p) => ({
        id: p.id,
        part: board.parts[p.id]!,
        base: p.id.split(' at ')[1] ?? '',
        supply: p.supply.reduce((a, b) => a + b, 0),
        planned: planned.get(p.id) ?? 0,
        all: (planned.get(p.id) ?? 0) + (left.get(p.id) ?? 0),
      }))
      .filter((l) => l.all > 0)
      .sort((a, b) => b.all / Math.max(0.01, b.supply) - a.all / Math.max(0.01, a.supply))
      .slice(0, PARTS_SHOWN);
  }, [board, visits, wanted]);
  const several = Object.keys(board.bases).length > 1;
  return (
    <section className="block">
      <h2>What this plan uses</h2>
      <Lines className="plan-stock">
        <tbody>
          {lines.map((l) => (
            <tr key={l.id} className={l.all > l.supply + 1e-6 ? 'minus' : ''}>
              <td>
                <Link to={`/stores/parts/${l.part.partId}`}>{l.part.name}</Link>
                {several && <span className="faint small"> {board.bases[l.base]?.name}</span>}
              </td>
              <td className="num figure">
                {l.all > l.supply + 1e-6 ? (
                  <>
                    <span className="visually-hidden">short: </span>
                    {quantityText(Math.round(l.all), l.part.unit)} wanted,{' '}
                    {quantityText(Math.round(l.supply), l.part.unit)} there
                  </>
                ) : (
                  `${quantityText(Math.round(l.planned), l.part.unit)} of ${quantityText(Math.round(l.supply), l.part.unit)}`
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

function Hours({ board, visits }: { board: BoardReply; visits: readonly PlannedVisit[] }) {
  return (
    <section className="block">
      <h2>Hours a person</h2>
      {board.problem.technicians.map((t) => {
        const there = t.shift.reduce((sum, s) => sum + (s ? s.to - s.from : 0), 0) / 60;
        const work = visits.filter((v) => v.technician === t.id).reduce((sum, v) => sum + workOf(v), 0) / 60;
        const share = there > 0 ? work / there : 0;
        return (
          <div key={t.id} className="hours-line">
            <span>{nameOn(board, t.id, t.id)}</span>
            <span className="hours-bar" aria-hidden="true">
              <span className={share > 0.9 ? 'full' : ''} style={{ width: `${Math.min(100, share * 100)}%` }} />
            </span>
            <span className="figure">
              {work.toFixed(0)}/{there.toFixed(0)}
            </span>
          </div>
        );
      })}
      <p className="faint small">{plural(board.days, 'day')}; hours planned of hours there.</p>
    </section>
  );
}
