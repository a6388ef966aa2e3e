import { MANUAL_FIRST } from '@diurna/core/service';
import { visitSteps, type CardAct } from '@diurna/core/visit';
import { placed, type LiveCard } from './useCard.ts';

/** The gates of the work that is done: those not confirmed keep the card from being finished. */
export function gatesOf(live: LiveCard): { id: string; text: string; gate: string; done: boolean }[] {
  const done = live.tasks.filter((t) => t.state === 'done');
  const cylinders = new Map(live.card.engines.map((e) => [e.id, e.cylinders]));
  const wanted = new Set(visitSteps(done.map((t) => ({ engineId: t.engineId, task: t.task, cylinders: cylinders.get(t.engineId) ?? 1 }))).filter((s) => s.gate !== null).map((s) => s.id));
  return live.steps.filter(({ step }) => step.gate !== null && (wanted.has(step.id) || (step.task !== null && done.some((t) => t.engineId === step.engineId && t.task === step.task))))
    .map(({ step }) => ({ id: step.id, text: placed(live.card, step), gate: step.gate!, done: live.state.ticks.has(step.id) }));
}

/** What a person confirms before the boat goes back on hire, one by one. */
export function Gates({ live, editable, write }: { live: LiveCard; editable: boolean; write: (act: CardAct) => Promise<void> }) {
  const gates = gatesOf(live);
  if (gates.length === 0) return null;
  const left = gates.filter((g) => !g.done).length;
  return (
    <section className="block" aria-label="Before it goes back on hire">
      <h2 style={{ marginTop: 18 }}>Before it goes back on hire {left === 0 ? <span className="fine">✓ all confirmed</span> : <span className="faint">{left} to confirm</span>}</h2>
      {left > 0 && <p className="faint">Each is confirmed by a person who looked. {MANUAL_FIRST}</p>}
      <ul className="gates">{gates.map((g) => (
        <li key={g.id}><button type="button" role="checkbox" className="tick" aria-checked={g.done} aria-label={g.text} disabled={!editable} onClick={() => void write({ kind: 'tick', step: g.id, done: !g.done })}>{g.done ? '✓' : ''}</button><span>{g.text}</span></li>
      ))}</ul>
    </section>
  );
}
