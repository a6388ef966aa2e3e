import { Button } from '@mui/material';
import { addDays } from '@diurna/core/calendar';
import { pricePlan, whatIf, type PlannedVisit, type PlanProblem, type WhatIf } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { shortDay } from '../ui/format.ts';
import { Choice } from '../ui/parts.tsx';
import { moreText } from './figures.ts';
import { planOnce } from './run.ts';

/** Each side is given the same time, so that what differs is the change and not the search. */
const SECONDS = 1.5;
type Kind = WhatIf['kind'];
const KINDS: [Kind, string][] = [
  ['technician', 'one more technician'],
  ['lift out', 'the lift out for a week'],
  ['late delivery', 'a delivery a week late'],
  ['cancelled hire', 'a hire cancelled'],
  ['boat added', 'one more boat like'],
];

interface Line {
  key: string;
  text: string;
  change: number | null;
  placed: number;
}

/** What would be if: priced side by side, the plan itself is not touched. */
export function WhatIfs({ board, visits }: { board: BoardReply; visits: readonly PlannedVisit[] }) {
  const [kind, setKind] = useState<Kind>('technician');
  const [of, setOf] = useState<string>('');
  const [lines, setLines] = useState<Line[]>([]);
  const [busy, setBusy] = useState(false);
  const dispatch = useAppDispatch();
  const options = optionsOf(board, kind);
  const chosen = options.some(([v]) => v === of) ? of : (options[0]?.[0] ?? '');
  const look = async () => {
    const change = changeOf(board, kind, chosen);
    if (!change) return;
    setBusy(true);
    const text = `${KINDS.find(([k]) => k === kind)![1]}${kind === 'technician' ? ' at' : ':'} ${options.find(([v]) => v === chosen)![1]}`;
    const key = crypto.randomUUID();
    setLines((all) => [{ key, text, change: null, placed: 0 }, ...all].slice(0, 6));
    const work = async (problem: PlanProblem) => {
      const { visits: found, broken } = await planOnce({
        problem,
        standing: [...visits],
        pins: [],
        moveCost: 0,
        seconds: SECONDS,
        prove: false,
      });
      if (broken) throw new Error(broken);
      return {
        cost: pricePlan(problem, { visits: found }).cost.total,
        placed: found.reduce((n, v) => n + v.tasks.length, 0),
      };
    };
    try {
      const [as, would] = [await work(board.problem), await work(whatIf(board.problem, change))];
      setLines((all) =>
        all.map((l) => (l.key === key ? { ...l, change: would.cost - as.cost, placed: would.placed - as.placed } : l)),
      );
    } catch (error) {
      setLines((all) => all.filter((l) => l.key !== key));
      dispatch(say({ tone: 'wrong', text: (error as Error).message }));
    }
    setBusy(false);
  };
  return (
    <section className="block what-ifs">
      <h2>What if</h2>
      <div className="tools">
        <Choice
          label="What"
          hideLabel
          value={kind}
          onChange={(k) => {
            if (k !== '') setKind(k);
          }}
          options={KINDS}
        />
        <Choice
          label="Which"
          hideLabel
          value={chosen}
          onChange={(v) => {
            setOf(v);
          }}
          options={options}
          disabled={options.length === 0}
        />
        <Button size="small" disabled={busy || options.length === 0} onClick={() => void look()}>
          Price it
        </Button>
      </div>
      {options.length === 0 && <p className="faint">There is none within these days.</p>}
      <div aria-live="polite">
        {lines.map((l) => (
          <p key={l.key} className="what-line">
            <span>{l.text}</span>
            {l.change === null ? (
              <span className="faint">working it out ...</span>
            ) : (
              <b className={`figure ${l.change > 0.5 ? 'minus' : 'fine'}`} title="against the best plan as things are">
                {moreText(l.change)}
                {l.placed !== 0 ? `, ${l.placed > 0 ? '+' : '−'}${Math.abs(l.placed)} tasks` : ''}
              </b>
            )}
          </p>
        ))}
      </div>
      <p className="faint small">
        The whole plan is made anew for each, and for things as they are; what they differ by stands here. Before wages
        and purchase of what is added.
      </p>
    </section>
  );
}

function optionsOf(board: BoardReply, kind: Kind): [string, string][] {
  switch (kind) {
    case 'technician':
      return Object.entries(board.bases).map(([id, b]) => [id, b.name]);
    case 'lift out':
      return Object.entries(board.bases)
        .filter(([id]) => board.problem.bases.some((b) => b.id === id && b.liftSlots.some((n) => n > 0)))
        .map(([id, b]) => [id, b.name]);
    case 'late delivery':
      return board.problem.parts
        .filter((p) => p.supply.some((n, d) => d > 0 && n > 0))
        .map((p) => [p.id, `${board.parts[p.id]?.name} ${board.bases[p.id.split(' at ')[1] ?? '']?.name ?? ''}`]);
    case 'cancelled hire':
      return Object.entries(board.boats)
        .flatMap(([id, b]) =>
          b.hires
            .filter(([out, back]) => back > 0 && out < board.days * 1440 && out >= 0)
            .map(([out]): [string, string] => [
              `${id} ${out}`,
              `${b.name}, ${shortDay(addDays(board.firstDay, Math.floor(out / 1440)))}`,
            ]),
        )
        .sort((x, y) => x[1].localeCompare(y[1], 'en', { numeric: true }));
    case 'boat added':
      return Object.entries(board.boats)
        .filter(([id]) => board.problem.engines.some((e) => e.boat === id))
        .map(([id, b]): [string, string] => [id, b.name])
        .sort((x, y) => x[1].localeCompare(y[1]));
  }
}

function changeOf(board: BoardReply, kind: Kind, of: string): WhatIf | null {
  switch (kind) {
    case 'technician':
      return { kind, base: of };
    case 'lift out':
      return { kind, base: of, day: 0, days: 7 };
    case 'late delivery':
      return { kind, part: of, days: 7 };
    case 'boat added':
      return { kind, like: of };
    case 'cancelled hire': {
      const [boat = '', at = ''] = of.split(' ');
      const hire = board.boats[boat]?.hires.find(([out]) => String(out) === at);
      if (!hire) return null;
      const days = Array.from({ length: board.days }, (_, d) => d).filter(
        (d) => d >= Math.floor(hire[0] / 1440) && d <= Math.floor(hire[1] / 1440),
      );
      return { kind, boat, days, from: 420, to: 1140 };
    }
  }
}
