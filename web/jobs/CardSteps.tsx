import { Button } from '@mui/material';
import { MANUAL_FIRST } from '@diurna/core/service';
import {
  minutesText,
  placedText,
  readingsWanted,
  secondHands,
  stepAtHand,
  timersOf,
  type CardAct,
  type Step,
} from '@diurna/core/visit';
import { useEffect, useRef, useState } from 'react';
import { quantityText } from '../ui/format.ts';
import { Readings } from '../findings/index.ts';
import { ring, stayAwake } from './ring.ts';
import { clockOfMs, countdown, type LiveCard } from './live-card.ts';
import { useClock } from './useCard.ts';

interface Props {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
  onTrouble: () => void;
}

const whole = (m: number) => Math.max(1, Math.round(m));
/** Steps shown below the one at hand. */
const NEXT = 3;

/** The card step by step: what drains, the step at hand in large, what comes next, and all of it on demand. */
export function CardSteps({ live, editable, write, onTrouble }: Props) {
  const { card, state, steps } = live;
  const [all, setAll] = useState(false);
  const draining = timersOf(live, 0).length > 0;
  const now = useClock(editable && draining);
  const timers = timersOf(live, now);
  useCalls(
    live,
    timers.filter((t) => t.over).map((t) => t.step),
  );
  useEffect(() => (editable && timers.some((t) => !t.over) ? stayAwake() : undefined), [editable, timers]);
  const { at, waits } = stepAtHand(live, now);
  const paused = state.pauses.at(-1)?.to === null;
  const left = steps.filter(({ step }) => !state.ticks.has(step.id) && !live.passed.has(step.id));
  const done = steps
    .filter(({ step }) => state.ticks.has(step.id))
    .sort((a, b) => state.ticks.get(b.step.id)!.at - state.ticks.get(a.step.id)!.at);
  const last = done[0]?.step;
  const cylinders = card.engines.find((e) => e.id === at?.step.engineId)?.cylinders ?? 1;
  const wanted = at ? readingsWanted(at.step, cylinders, state) : [];
  const untick = (step: Step) => void write({ kind: 'tick', step: step.id, done: false });
  const following = at ? left.filter((t) => t.step.id !== at.step.id).slice(0, NEXT) : [];
  return (
    <section className="steps" aria-label="Steps in working order">
      {timers.map(({ step, until, over }) => (
        <p key={step.id} className={over ? 'step-timer is-over' : 'step-timer'} role={over ? 'status' : 'timer'}>
          <b className="figure">{over ? 'done' : countdown(until - now)}</b>
          <span>
            {over ? (
              <>
                <b>Done waiting.</b> {placedText(card.engines, step)}
              </>
            ) : (
              <>
                {placedText(card.engines, step)}. {at && waits <= 0 ? 'Go on meanwhile.' : ''}
              </>
            )}
          </span>
        </p>
      ))}
      {last && (
        <p className="step-last">
          <span className="figure faint">{clockOfMs(state.ticks.get(last.id)!.at)}</span>{' '}
          <span>
            <s>{placedText(card.engines, last)}</s>{' '}
            <span className="faint">{live.nameOf(state.ticks.get(last.id)!.by)}</span>
          </span>
          {editable && (
            <button
              type="button"
              className="link-button"
              aria-label="Back one step"
              onClick={() => {
                untick(last);
              }}>
              Back
            </button>
          )}
        </p>
      )}
      {paused && (
        <p className="caution" role="status">
          <b>Paused</b>
          {state.pauses.at(-1)!.why ? `: ${state.pauses.at(-1)!.why}` : ''}, since{' '}
          {clockOfMs(state.pauses.at(-1)!.from)}.{' '}
          {editable && (
            <button
              type="button"
              className="link-button"
              onClick={() => void write({ kind: 'pause', on: false, why: null })}>
              Go on
            </button>
          )}
        </p>
      )}
      {at && (
        <div className="step-now" role="group" aria-label="The step at hand">
          <p className="faint figure">
            step {steps.length - left.length + 1} of {steps.length}, about {minutesText(whole(at.step.minutes))}
          </p>
          {at.move && (
            <p className="step-move">{at.move === 'tilted' ? 'Tilt it up first.' : 'Bring it level first.'}</p>
          )}
          <h2 className="step-text">{placedText(card.engines, at.step)}</h2>
          {at.step.detail && <p className="step-detail">{at.step.detail}</p>}
          <StepParts card={card} step={at.step} />
          {at.step.twoPeople && (
            <p className="step-two">
              <b>Two people.</b> Call somebody over before you begin.
            </p>
          )}
          {at.step.caution && (
            <p className="step-caution">
              {at.step.caution} {MANUAL_FIRST}
            </p>
          )}
          {editable && (
            <Readings
              key={at.step.id}
              card={card}
              step={at.step}
              state={state}
              disabled={paused}
              onRead={(key, value) => void write({ kind: 'read', key, value })}
            />
          )}
          {at.step.gate && (
            <p className="step-two">
              <b>Confirm it yourself</b>: the boat goes back on hire on your word.
            </p>
          )}
          {waits > 0 && <p role="status">Still {countdown(waits)} to wait before this.</p>}
        </div>
      )}
      {!at && steps.length > 0 && (
        <p className="fine steps-over">
          <b>Every step is done.</b> {editable ? 'Look through the figures below and finish the job.' : ''}
        </p>
      )}
      {following.length > 0 && !all && (
        <ol className="step-next">
          {following.map(({ step, move }) => (
            <li key={step.id}>
              {placedText(card.engines, step)}
              {move && <span className="faint"> ({move === 'tilted' ? 'tilted' : 'level'})</span>}
              {step.twoPeople && <b> · two people</b>}
            </li>
          ))}
        </ol>
      )}
      {at && !paused && secondHands(live, at).length > 0 && (
        <p className="step-later">
          A second person is wanted{' '}
          {secondHands(live, at)
            .map(
              (h) =>
                `${h.from < 1 ? 'next' : `in about ${minutesText(whole(h.from))}`} for ${minutesText(whole(h.minutes))}`,
            )
            .join(', then ')}
          .
        </p>
      )}
      <button
        type="button"
        className="link-button"
        aria-expanded={all}
        onClick={() => {
          setAll(!all);
        }}>
        {all
          ? 'Only the step at hand'
          : `All ${steps.length} steps, ${minutesText(card.elapsed)} from first to last${card.basis.some((b) => b.first) ? ', with first times' : ''}`}
      </button>
      {all && (
        <ol className="step-list">
          {steps.map(({ step, start, move }) => {
            const tick = state.ticks.get(step.id);
            return (
              <li key={step.id} className={tick ? 'ticked' : step.id === at?.step.id ? 'at-hand' : ''}>
                {editable ? (
                  <button
                    type="button"
                    role="checkbox"
                    aria-checked={tick !== undefined}
                    className="card-tick"
                    aria-label={placedText(card.engines, step)}
                    onClick={() => void write({ kind: 'tick', step: step.id, done: tick === undefined })}>
                    {tick ? '✓' : ''}
                  </button>
                ) : (
                  <span className="figure">{tick ? '✓' : ''}</span>
                )}
                <span className="figure faint">{tick ? clockOfMs(tick.at) : minutesText(Math.round(start))}</span>
                <span>
                  {move && <span className="faint">{move === 'tilted' ? 'tilt: ' : 'level: '}</span>}
                  {placedText(card.engines, step)}
                  {step.wait >= 1 && <span className="faint">, then {whole(step.wait)} min by itself</span>}
                  {step.twoPeople && <b> · two people</b>}
                  {step.gate && <b> · confirm</b>}
                  {tick && <span className="faint"> {live.nameOf(tick.by)}</span>}
                </span>
              </li>
            );
          })}
        </ol>
      )}
      {editable && (
        <div className="step-bar" role="group" aria-label="Tick the step">
          <Button onClick={onTrouble}>Something wrong</Button>
          {at && (
            <Button
              variant="contained"
              color="primary"
              disabled={wanted.length > 0 || paused}
              onClick={() => void write({ kind: 'tick', step: at.step.id, done: true })}>
              {wanted.length > 0
                ? 'Say what you saw'
                : at.step.gate
                  ? 'I confirm it'
                  : at.step.wait >= 1
                    ? `Done, wait ${whole(at.step.wait)} min`
                    : 'Tick and next'}
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** The right part for this serial, with what its shelf has. */
function StepParts({ card, step }: { card: LiveCard['card']; step: Step }) {
  if (!step.parts || step.task === null) return null;
  const parts = card.parts.filter((p) => p.tasks.some((t) => t.engineId === step.engineId && t.task === step.task));
  const unknown = card.partsUnknown.some((t) => t.engineId === step.engineId && t.task === step.task);
  const serial = card.engines.find((e) => e.id === step.engineId)?.serial;
  return (
    <>
      {parts.length > 0 && (
        <ul className="step-parts" aria-label="Parts for this serial">
          {parts.map((p) => (
            <li key={p.partId}>
              <b className="figure">{p.number}</b> {p.name}{' '}
              <span className={p.onHand <= 0 ? 'minus' : 'faint'}>
                {p.onHand <= 0
                  ? `not on the shelf${p.place ? ` (${p.place})` : ''}`
                  : `${p.place ? `at ${p.place}, ` : 'shelf '}has ${quantityText(p.onHand, p.unit)}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {unknown && (
        <p className="trap">
          No part is known to fit serial {serial}. Find the right one on the label, and tell Stores.
        </p>
      )}
    </>
  );
}

/** A drain that is over calls once on this phone, also when the page was shut meanwhile. */
function useCalls(live: LiveCard, over: readonly Step[]): void {
  const called = useRef<Set<string> | null>(null);
  const store = `diurna.called.${live.card.id}`;
  useEffect(() => {
    called.current ??= new Set(JSON.parse(localStorage.getItem(store) ?? '[]') as string[]);
    const fresh = over.filter((s) => !called.current!.has(`${s.id} ${live.state.ticks.get(s.id)!.at}`));
    if (fresh.length === 0) return;
    for (const s of fresh) called.current.add(`${s.id} ${live.state.ticks.get(s.id)!.at}`);
    localStorage.setItem(store, JSON.stringify([...called.current].slice(-60)));
    // The strip at the top says which; a notice would lie over the buttons.
    ring();
  });
}
