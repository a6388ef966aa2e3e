import { Button } from '@mui/material';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { MANUAL_FIRST, TASKS, type TaskKind } from '@diurna/core/service';
import type { CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import { Entry, Wrong } from '../ui/parts.tsx';
import { useMe, useShort } from '../app/useBook.ts';
import { jobsApi } from '../jobs/api.ts';
import { proposalText, type Shown } from './finding-words.ts';
import type { LiveCard } from '../jobs/index.ts';
import './findings.css';

/** What was found, what it means and what follows; the technician takes it or says why not. */
export function Findings({
  live,
  findings,
  mayDecide,
  write,
}: {
  live: LiveCard;
  findings: readonly Shown[];
  mayDecide: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  if (findings.length === 0) return null;
  const left = findings.filter((f) => f.state === 'open' && !isQuiet(f)).length;
  return (
    <section className="findings" aria-label="What was found">
      {left > 0 && (
        <p className="faint" role="status">
          {left === 1 ? 'One is' : `${left} are`} still to be decided.
        </p>
      )}
      {findings.map((f) => (
        <One key={f.key} finding={f} card={live.card} mayDecide={mayDecide} write={write} />
      ))}
    </section>
  );
}

/** What is only told, and asks for nothing. */
const isQuiet = (f: Shown) => f.weight === 'watch' && f.proposals.length === 0;

const WORD: Record<Shown['weight'], string> = {
  normal: 'normal',
  watch: 'to watch',
  act: 'to act on',
  hold: 'hold',
  stop: 'stop',
};

function One({
  finding: f,
  card,
  mayDecide,
  write,
}: {
  finding: Shown;
  card: Card;
  mayDecide: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  const [other, setOther] = useState(false);
  // Decided, it is a line or two: the step at hand is what is looked for.
  const [whole, setWhole] = useState(false);
  const [reason, setReason] = useState('');
  const engine = card.engines.length > 1 ? card.engines.find((e) => e.id === f.engineId)?.position : undefined;
  const open = f.state === 'open';
  const quiet = isQuiet(f);
  const me = useMe();
  return (
    <article className={`finding ${f.weight} ${f.state}`}>
      <p className="finding-seen">
        <b className="finding-weight">{WORD[f.weight]}</b>{' '}
        {engine && (
          <b>
            {engine[0]!.toUpperCase()}
            {engine.slice(1)}:{' '}
          </b>
        )}
        {f.seen}
      </p>
      {(open || whole) && (
        <>
          <p>
            {f.means} <b>{f.does}</b>
          </p>
          {(f.weight === 'hold' || f.weight === 'stop') && <p className="small">{MANUAL_FIRST}</p>}
          {f.proposals.length > 0 && (
            <ul className="finding-follows">
              {f.proposals.map((p, i) => (
                <li key={i}>{proposalText(p)}</li>
              ))}
            </ul>
          )}
        </>
      )}
      {!open && (
        <Decided
          finding={f}
          card={card}
          may={mayDecide && card.status === 'open'}
          whole={whole}
          onWhole={setWhole}
          write={write}
        />
      )}
      {open && f.weight === 'stop' && (
        <p className="minus">
          The card cannot be finished like this. Correct the figure when you have found it, or say why it may go on.
        </p>
      )}
      {open &&
        mayDecide &&
        !quiet &&
        (other ? (
          <form
            className="finding-other"
            onSubmit={(e) => {
              e.preventDefault();
              void write({ kind: 'decide', finding: f.key, take: false, reason: reason.trim() });
            }}>
            <Entry label="Why not as proposed" autoFocus value={reason} maxLength={500} onType={setReason} />
            {f.weight === 'hold' && me.role === 'technician' && (
              <p className="faint">The engine stays in until a coordinator agrees.</p>
            )}
            <div className="tools">
              <Button type="submit" variant="contained" color="primary" disabled={reason.trim().length < 3}>
                Write it down
              </Button>
              <Button
                onClick={() => {
                  setOther(false);
                }}>
                Leave it
              </Button>
            </div>
          </form>
        ) : (
          <div className="tools">
            {f.weight !== 'stop' && (
              <Button
                variant="contained"
                color="primary"
                onClick={() => void write({ kind: 'decide', finding: f.key, take: true, reason: null })}>
                {f.weight === 'hold' ? 'Hold the engine' : 'As proposed'}
              </Button>
            )}
            <Button
              onClick={() => {
                setOther(true);
              }}>
              Otherwise, because …
            </Button>
          </div>
        ))}
    </article>
  );
}

/** What the finding asks for now joins the card that is open, at its place in the order of work. */
function DoItNow({ finding: f, card }: { finding: Shown; card: Card }) {
  const [add, { isLoading, error }] = jobsApi.useAddCardTasksMutation();
  const planned = new Set(card.tasks.filter((t) => t.engineId === f.engineId).map((t) => t.task));
  const tasks = [
    ...new Set(
      f.proposals.flatMap((p): TaskKind[] =>
        p.kind === 'follow-up' && typeof p.when === 'string' && !planned.has(p.task) ? [p.task] : [],
      ),
    ),
  ];
  if (f.state !== 'taken' || tasks.length === 0) return null;
  return (
    <>
      <Button
        size="small"
        variant="contained"
        color="primary"
        disabled={isLoading}
        onClick={() =>
          void add({
            id: card.id,
            version: card.version,
            tasks: tasks.map((task) => ({ engineId: f.engineId, task })),
            why: f.seen,
          })
        }>
        Do on this card: {tasks.map((t) => TASKS[t].word.toLowerCase()).join(', ')}
      </Button>
      <Wrong error={error} />
    </>
  );
}

/** What became of a finding, with the ways on from there. */
function Decided({
  finding: f,
  card,
  may,
  whole,
  onWhole,
  write,
}: {
  finding: Shown;
  card: Card;
  may: boolean;
  whole: boolean;
  onWhole: (whole: boolean) => void;
  write: (act: CardAct) => Promise<void>;
}) {
  const short = useShort();
  return (
    <>
      {f.state === 'taken' && <p className="fine">✓ As proposed{f.by ? `, ${short(f.by)}` : ''}.</p>}
      {f.state === 'overridden' && (
        <p>
          <b>Otherwise</b>
          {f.by ? ` (${short(f.by)})` : ''}: {f.reason}
        </p>
      )}
      {may && (
        <div className="tools">
          <DoItNow finding={f} card={card} />
          <button
            type="button"
            className="link-button"
            aria-expanded={whole}
            onClick={() => {
              onWhole(!whole);
            }}>
            {whole ? 'Less' : 'What follows'}
          </button>
          <button
            type="button"
            className="link-button"
            onClick={() => void write({ kind: 'undecide', finding: f.key })}>
            Take it back
          </button>
        </div>
      )}
    </>
  );
}
