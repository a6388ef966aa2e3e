import { addDays, dayNumber } from '@diurna/core/calendar';
import type { PlanChange, PlanCost, PlannedVisit } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import type { Remote } from 'comlink';
import { useEffect, useState } from 'react';
import { clockText, plural, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import type { BoardApi } from './board.ts';
import { moreText, wholeMoney } from './figures.ts';
import { nameOn } from './useTable.ts';

const TERMS: [keyof PlanCost, string][] = [
  ['day', 'early and late'],
  ['skip', 'left out'],
  ['labour', 'working time'],
  ['overtime', 'overtime'],
  ['idle', 'hires at risk'],
  ['total', 'in all'],
];

/** The plan on the table beside the one accepted last: what moved, and what it saves. */
export function Compare({
  board,
  thread,
  visits,
  cost,
}: {
  board: BoardReply;
  thread: Remote<BoardApi>;
  visits: readonly PlannedVisit[];
  cost: PlanCost;
}) {
  const [found, setFound] = useState<{ changes: PlanChange[]; cost: PlanCost; refused: number } | null>(null);
  const { accepted } = board;
  useEffect(() => {
    const page = { open: true };
    void (async () => {
      // The accepted plan as it would stand today: its days counted from this plan's first, what is done left out.
      const shift = accepted ? dayNumber(accepted.firstDay) - dayNumber(board.firstDay) : 0;
      const known = new Set(board.problem.tasks.map((t) => t.id));
      const before = (accepted?.visits ?? [])
        .map((v) => ({ ...v, day: v.day + shift, tasks: v.tasks.filter((t) => known.has(t)) }))
        .filter((v) => v.day >= 0 && v.day < board.days && v.tasks.length > 0);
      const old = await thread.stand(before);
      const changes = await thread.changes(old.visits, [...visits]);
      if (page.open) setFound({ changes, cost: old.cost, refused: old.refused.length });
    })();
    return () => {
      page.open = false;
    };
  }, [board, thread, visits, accepted]);
  if (!found) return <p className="waiting">Laying both plans side by side ...</p>;
  const place = (v: PlannedVisit) => `${shortDay(addDays(board.firstDay, v.day))}, ${nameOn(board, v.technician)}`;
  return (
    <section className="plan-compare">
      <h2>
        {accepted
          ? `Beside the plan ${accepted.by ? `${accepted.by} accepted` : 'accepted'} on ${clockText(accepted.at)}`
          : 'Beside no plan at all: none was accepted yet'}
      </h2>
      <Lines>
        <thead>
          <tr>
            <th scope="col">Cost</th>
            {TERMS.map(([k, word]) => (
              <th key={k} scope="col" className="num">
                {word}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">then</th>
            {TERMS.map(([k]) => (
              <td key={k} className="num figure">
                {wholeMoney(found.cost[k])}
              </td>
            ))}
          </tr>
          <tr>
            <th scope="row">now</th>
            {TERMS.map(([k]) => (
              <td key={k} className="num figure">
                {wholeMoney(cost[k])}
              </td>
            ))}
          </tr>
          <tr>
            <th scope="row">change</th>
            {TERMS.map(([k]) => (
              <td key={k} className={`num figure ${cost[k] - found.cost[k] > 0.5 ? 'minus' : ''}`}>
                {moreText(cost[k] - found.cost[k])}
              </td>
            ))}
          </tr>
        </tbody>
      </Lines>
      {found.refused > 0 && (
        <p className="faint">{plural(found.refused, 'visit')} of that plan can no longer stand where they were.</p>
      )}
      {found.changes.length === 0 ? (
        <p>No visit differs.</p>
      ) : (
        <ul className="plan-changes">
          {found.changes.map((c) => (
            <li key={`${c.boat} ${c.before?.day} ${c.after?.day}`}>
              <b>{board.boats[c.boat]?.name}</b> {c.kind === 'new' && `is new: ${place(c.after!)}`}
              {c.kind === 'gone' && `is gone from ${place(c.before!)}`}
              {c.kind === 'moved' && `moves from ${place(c.before!)} to ${place(c.after!)}`}
              {c.kind === 'changed' &&
                `${place(c.after!)}: ${plural(c.after!.tasks.length, 'task')} instead of ${c.before!.tasks.length}`}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
