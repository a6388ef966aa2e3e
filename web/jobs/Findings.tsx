import { Button } from '@mui/material';
import type { FindingRow } from '@diurna/contract/findings';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { findingsOf, type Finding, type Proposal } from '@diurna/core/findings';
import { traitsOf } from '@diurna/core/fleet';
import { MANUAL_FIRST, TASKS } from '@diurna/core/service';
import { readingsOf, type CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import type { LiveCard } from './useCard.ts';

/** What a proposal would do, in words. */
export function proposalText(p: Proposal): string {
  switch (p.kind) {
    case 'hold': return `the engine is held until ${p.checks.map((t) => TASKS[t].word.toLowerCase()).join(', then ')} ${p.checks.length === 1 ? 'is' : 'are'} in the log and a coordinator lets it go`;
    case 'follow-up': return `${TASKS[p.task].word.toLowerCase()} ${p.when === 'now' ? 'asked for now' : p.when === 'after the one before' ? 'after that' : `in ${p.when} days`}`;
    case 'shorten': return `${TASKS[p.task].word.toLowerCase()} of this boat at ${p.percent} % of its interval`;
    case 'order': return `parts for ${TASKS[p.task].word.toLowerCase()} asked for from Stores`;
  }
}

type Shown = Pick<FindingRow, 'key' | 'engineId' | 'weight' | 'seen' | 'means' | 'does' | 'proposals' | 'state' | 'by' | 'reason'>;

/** Findings as the readings on this phone give them, with what became of those the book knows. */
export function findingsOn({ card, state }: Pick<LiveCard, 'card' | 'state'>): Shown[] {
  if (card.status !== 'open') return card.findings.filter((f) => f.state !== 'withdrawn');
  const readings = readingsOf(state);
  const now: Finding[] = card.engines.flatMap((e) => findingsOf({ id: e.id, cylinders: e.cylinders, traits: traitsOf({ ...e, traits: e.traits as never }), sump: e.sump, gearCase: e.gearCase, firstOil: e.firstOil }, readings));
  const decided = card.findings.filter((f) => f.state === 'taken' || f.state === 'overridden');
  return [
    ...now.filter((f) => !decided.some((d) => d.key === f.key)).map((f): Shown => {
      const own = state.decisions.get(f.key);
      return { ...f, state: own ? (own.take ? 'taken' : 'overridden') : 'open', by: null, reason: own?.reason ?? null };
    }),
    ...decided,
  ];
}

/** What was found, what it means and what follows; the technician takes it or says why not. */
export function Findings({ live, findings, mayDecide, write }: { live: LiveCard; findings: readonly Shown[]; mayDecide: boolean; write: (act: CardAct) => Promise<void> }) {
  if (findings.length === 0) return null;
  return (
    <section className="findings" aria-label="What was found">
      {findings.map((f) => <One key={f.key} finding={f} card={live.card} mayDecide={mayDecide} write={write} />)}
    </section>
  );
}

const WORD: Record<Shown['weight'], string> = { normal: 'normal', watch: 'to watch', act: 'to act on', hold: 'hold', stop: 'stop' };

function One({ finding: f, card, mayDecide, write }: { finding: Shown; card: Card; mayDecide: boolean; write: (act: CardAct) => Promise<void> }) {
  const [other, setOther] = useState(false);
  const [reason, setReason] = useState('');
  const engine = card.engines.length > 1 ? card.engines.find((e) => e.id === f.engineId)?.position : undefined;
  const open = f.state === 'open';
  const quiet = f.weight === 'watch' && f.proposals.length === 0;
  return (
    <article className={`finding ${f.weight} ${f.state}`}>
      <p className="finding-seen"><b className="finding-weight">{WORD[f.weight]}</b> {engine && <b>{engine[0]!.toUpperCase()}{engine.slice(1)}: </b>}{f.seen}</p>
      <p>{f.means} <b>{f.does}</b></p>
      {(f.weight === 'hold' || f.weight === 'stop') && <p className="small">{MANUAL_FIRST}</p>}
      {f.proposals.length > 0 && <ul className="finding-follows">{f.proposals.map((p, i) => <li key={i}>{proposalText(p)}</li>)}</ul>}
      {f.state === 'taken' && <p className="fine">✓ As proposed{f.by ? `, ${f.by.split(' ')[0]}` : ''}.</p>}
      {f.state === 'overridden' && <p><b>Otherwise</b>{f.by ? ` (${f.by.split(' ')[0]})` : ''}: {f.reason}</p>}
      {open && f.weight === 'stop' && <p className="minus">The card cannot be finished like this. Correct the figure when you have found it.</p>}
      {open && mayDecide && f.weight !== 'stop' && !quiet && (other ? (
        <form className="finding-other" onSubmit={(e) => { e.preventDefault(); void write({ kind: 'decide', finding: f.key, take: false, reason: reason.trim() }); }}>
          <label className="choice"><span className="choice-label">Why not as proposed</span><input className="plain-input" autoFocus value={reason} maxLength={500} onChange={(e) => { setReason(e.target.value); }} /></label>
          <div className="tools"><Button type="submit" variant="contained" color="primary" disabled={reason.trim().length < 3}>Write it down</Button><Button onClick={() => { setOther(false); }}>Leave it</Button></div>
        </form>
      ) : (
        <div className="tools">
          <Button variant="contained" color="primary" onClick={() => void write({ kind: 'decide', finding: f.key, take: true, reason: null })}>{f.weight === 'hold' ? 'Hold the engine' : 'As proposed'}</Button>
          <Button onClick={() => { setOther(true); }}>Otherwise, because …</Button>
        </div>
      ))}
    </article>
  );
}
