import { Button } from '@mui/material';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { MANUAL_FIRST } from '@diurna/core/service';
import { minutesText, visitSteps, workingOrder, type Step } from '@diurna/core/visit';
import { useEffect, useMemo, useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import type { CardDraft } from './draft.ts';

interface Props {
  card: Card;
  draft: CardDraft;
  patch: (part: Partial<CardDraft>) => void;
  editable: boolean;
  /** All steps of a task are done: its tick follows. */
  onTaskDone: (task: Card['tasks'][number]) => void;
}

const moment = () => Date.now();
const whole = (m: number) => Math.max(1, Math.round(m));

/** The steps of the visit in working order, one large at a time, with timers that run on whatever the phone does. */
export function Steps({ card, draft, patch, editable, onTaskDone }: Props) {
  const order = useMemo(() => {
    const cylinders = new Map(card.engines.map((e) => [e.id, e.cylinders]));
    return workingOrder(visitSteps(card.tasks.map((t) => ({ engineId: t.engineId, task: t.task, cylinders: cylinders.get(t.engineId)! }))));
  }, [card]);
  const [all, setAll] = useState(false);
  const now = useClock(Object.keys(draft.timers).length > 0);
  const dispatch = useAppDispatch();
  const done = (s: Step) => draft.steps[s.id] !== undefined;
  const running = order.steps.filter(({ step }) => draft.timers[step.id] !== undefined && done(step));
  const over = running.filter(({ step }) => draft.timers[step.id]! <= now);
  // A drain that is done calls once, also when the page was shut meanwhile.
  useEffect(() => {
    const called = over.filter(({ step }) => !draft.called.includes(step.id));
    if (called.length === 0) return;
    patch({ called: [...draft.called, ...called.map(({ step }) => step.id)] });
    ring();
    dispatch(say({ tone: 'done', text: `Done waiting: ${called.map(({ step }) => placed(card, step)).join('; ')}` }));
  });
  const left = order.steps.filter(({ step }) => !done(step));
  const waitsFor = (s: Step): number => Math.max(0, ...s.after.filter((id) => !id.endsWith(' started')).map((id) => (draft.timers[id] ?? 0) - now));
  const byId = new Map(order.steps.map((t) => [t.step.id, t.step]));
  const open = (s: Step) => s.after.every((id) => { const before = byId.get(id.replace(/ started$/, '')); return !before || done(before); });
  // What can be done with both hands now; a drain on the way is worked around.
  const current = left.find(({ step }) => open(step) && waitsFor(step) <= 0) ?? left.find(({ step }) => open(step));
  const tick = (s: Step) => {
    const steps = { ...draft.steps, [s.id]: moment() };
    patch({ steps, ...(s.wait >= 1 && { timers: { ...draft.timers, [s.id]: moment() + s.wait * 60_000 } }) });
    if (s.task === null) return;
    const own = order.steps.filter(({ step }) => step.engineId === s.engineId && step.task === s.task);
    const task = card.tasks.find((t) => t.engineId === s.engineId && t.task === s.task);
    if (task && task.state === 'open' && own.every(({ step }) => steps[step.id] !== undefined)) onTaskDone(task);
  };
  const back = (s: Step) => {
    const { [s.id]: _step, ...steps } = draft.steps;
    const { [s.id]: _timer, ...timers } = draft.timers;
    patch({ steps, timers, called: draft.called.filter((id) => id !== s.id) });
  };
  const last = order.steps.filter(({ step }) => done(step)).sort((a, b) => draft.steps[b.step.id]! - draft.steps[a.step.id]!)[0];
  const wait = current ? waitsFor(current.step) : 0;
  return (
    <section className="steps" aria-label="Steps in working order">
      {editable && current && (
        <div className="step-now">
          <p className="faint figure">step {order.steps.length - left.length + 1} of {order.steps.length}, about {minutesText(whole(current.step.minutes))}</p>
          <p className="step-text">{placed(card, current.step)}</p>
          {current.step.twoPeople && <p className="step-two"><b>Two people.</b> Call somebody over before you begin.</p>}
          {current.step.gate && <p className="step-two"><b>Confirm it yourself</b>: the boat goes back on hire on your word.</p>}
          {current.step.caution && <p className="step-caution">{current.step.caution} {MANUAL_FIRST}</p>}
          {wait > 0 && <p role="status">Still {clock(wait)} to wait before this.</p>}
          <div className="tools">
            <Button variant="contained" color="primary" onClick={() => { tick(current.step); }}>{current.step.wait >= 1 ? `Done, wait ${whole(current.step.wait)} min` : 'Done'}</Button>
            {last && <Button onClick={() => { back(last.step); }}>Back one step</Button>}
          </div>
        </div>
      )}
      {editable && !current && order.steps.length > 0 && <p className="fine"><b>Every step is done.</b> Look through the figures below and finish the job. {last && <button type="button" className="link-button" onClick={() => { back(last.step); }}>Back one step</button>}</p>}
      {running.filter(({ step }) => draft.timers[step.id]! > now).map(({ step }) => (
        <p key={step.id} className="step-timer" role="timer"><b className="figure">{clock(draft.timers[step.id]! - now)}</b> {placed(card, step)}</p>
      ))}
      <button type="button" className="link-button" aria-expanded={all || !editable} onClick={() => { setAll(!all); }}>{all ? 'Only the step to do' : `All ${order.steps.length} steps, ${minutesText(order.elapsed)} in all`}</button>
      {(all || !editable) && (
        <ol className="step-list">{order.steps.map(({ step, start }) => (
          <li key={step.id} className={done(step) ? 'ticked' : ''}>
            <span className="figure faint">{minutesText(Math.round(start))}</span>
            <span>{done(step) ? '✓ ' : ''}{placed(card, step)}{step.wait >= 1 && <span className="faint">, then {whole(step.wait)} min by itself</span>}{step.twoPeople && <b> · two people</b>}{step.gate && <b> · confirm</b>}</span>
          </li>
        ))}</ol>
      )}
    </section>
  );
}

/** The step with its engine, where the boat has several. */
function placed(card: Card, step: Step): string {
  const engine = card.engines.length > 1 ? card.engines.find((e) => e.id === step.engineId) : undefined;
  return engine ? `${engine.position[0]!.toUpperCase()}${engine.position.slice(1)}: ${step.text.charAt(0).toLowerCase()}${step.text.slice(1)}` : step.text;
}

const clock = (ms: number) => `${Math.floor(ms / 60_000)}:${String(Math.floor((ms % 60_000) / 1000)).padStart(2, '0')}`;

/** The present moment, told every second while something runs. */
function useClock(runs: boolean): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!runs) return undefined;
    const timer = setInterval(() => { setNow(Date.now()); }, 1000);
    return () => { clearInterval(timer); };
  }, [runs]);
  return now;
}

/** Two short tones and a shake; silent where the phone forbids it. */
function ring(): void {
  if ('vibrate' in navigator) navigator.vibrate([200, 100, 200]);
  try {
    const audio = new AudioContext();
    for (const at of [0, 0.35]) {
      const tone = audio.createOscillator();
      tone.frequency.value = 880;
      tone.connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
  } catch {
    // No sound on this device: the words on the page stay.
  }
}
