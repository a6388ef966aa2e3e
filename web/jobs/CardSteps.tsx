import { Button, useMediaQuery } from '@mui/material';
import {
  answerTicks,
  minutesText,
  never,
  placedText,
  readingsWanted,
  secondHands,
  stepAtHand,
  timersOf,
  type CardAct,
  type Step,
} from '@diurna/core/visit';
import { useState } from 'react';
import { findingsOn, findsNothing } from '../findings/index.ts';
import { wantsLook, type LiveCard } from './live-card.ts';
import { StepList } from './StepList.tsx';
import { StepNow } from './StepNow.tsx';
import { useKeptPictures } from './StepPicture.tsx';
import { useClock } from './useCard.ts';
import { hourText } from '../ui/format.ts';

interface Props {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
  onTrouble: () => void;
  /** A step somebody picked out of order; null = none. */
  picked: string | null;
  pick: (step: string | null) => void;
}

const whole = (m: number) => Math.max(1, Math.round(m));
/** Steps shown below the one at hand. */
const NEXT = 3;

/** The card step by step: the step at hand in large, what comes next, and all of it on demand. */
export function CardSteps({ live, editable, write, onTrouble, picked: pickedId, pick }: Props) {
  const { card, state, steps } = live;
  useKeptPictures(live);
  const narrow = useMediaQuery('(max-width: 760px)');
  const [all, setAll] = useState(false);
  const draining = timersOf(live, 0).length > 0;
  const now = useClock(editable && draining);
  const [reason, setReason] = useState({ step: '', text: '' });
  // One that was picked out of order stands in place of the step at hand until it is ticked or left.
  const picked = pickedId !== null && !state.ticks.has(pickedId) ? live.byId.get(pickedId) : undefined;
  const { at, waits } = picked ? { at: picked, waits: 0 } : stepAtHand(live, now);
  const why = reason.step === at?.step.id ? reason.text : '';
  const hindered = at && editable ? live.engines.hindrances(at.step) : [];
  const impossible = at !== null && never(at.step, hindered);
  // What stops the work is settled first: the figure put right, or said why it may go on.
  const stopped = findingsOn(live).some((f) => f.state === 'open' && f.weight === 'stop');
  const wantsWhy = hindered.length > 0 && !impossible && why.trim().length < 3;
  const paused = state.pauses.at(-1)?.to === null;
  const left = steps.filter(({ step }) => !state.ticks.has(step.id) && !live.passed.has(step.id));
  const done = steps
    .filter(({ step }) => state.ticks.has(step.id))
    .sort((a, b) => state.ticks.get(b.step.id)!.at - state.ticks.get(a.step.id)!.at);
  const last = done[0]?.step;
  const cylindersOf = (step: Step) => card.engines.find((e) => e.id === step.engineId)?.cylinders ?? 1;
  const wanted = at ? readingsWanted(at.step, cylindersOf(at.step), state) : [];
  const tick = (step: Step, said: { why?: string } = {}) => {
    void write({ kind: 'tick', step: step.id, done: true, ...said });
    pick(null);
    // The next one begins where the eyes are.
    if (narrow) scrollTo(0, 0);
  };
  const untick = (step: Step) => void write({ kind: 'tick', step: step.id, done: false });
  const following = at ? left.filter((t) => t.step.id !== at.step.id).slice(0, NEXT) : [];
  return (
    <section className="steps" aria-label="Steps in working order">
      {last && (
        <p className="step-last">
          <span className="figure faint">{hourText(state.ticks.get(last.id)!.at)}</span>{' '}
          <span>
            <s>{placedText(card.engines, last)}</s>{' '}
            <span className="faint">{live.nameOf(state.ticks.get(last.id)!.by)}</span>
          </span>
        </p>
      )}
      {at && (
        <StepNow
          live={live}
          at={at}
          waits={waits}
          editable={editable}
          paused={paused}
          hindered={hindered}
          why={why}
          onWhy={(text) => {
            setReason({ step: at.step.id, text });
          }}
          onRead={(keys, value, entered) => {
            for (const key of keys) void write({ kind: 'read', key, value });
            // The last answer, and all as it should be: it is the tick.
            const free = entered && !paused && !stopped && hindered.length === 0 && waits <= 0;
            if (
              free &&
              answerTicks(at.step, cylindersOf(at.step), state, keys, value) &&
              findsNothing(live, keys, value)
            )
              tick(at.step);
          }}
          {...(editable &&
            last && {
              onBack: () => {
                untick(last);
              },
            })}
          {...(picked && {
            onLeave: () => {
              pick(null);
            },
          })}
        />
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
        <StepList
          live={live}
          atHand={at?.step.id ?? null}
          editable={editable}
          onTick={(step, done) => {
            // What stands in its way, or has to be seen first, is told where the step at hand is.
            if (done && wantsLook(live, step)) pick(step.id);
            else void write({ kind: 'tick', step: step.id, done });
          }}
        />
      )}
      {editable && (
        <div className="step-bar" role="group" aria-label="Tick the step">
          <Button onClick={onTrouble}>Something wrong</Button>
          {at && (
            <Button
              variant="contained"
              color="primary"
              disabled={wanted.length > 0 || paused || stopped || impossible || wantsWhy}
              onClick={() => {
                tick(at.step, hindered.length > 0 ? { why: why.trim() } : {});
              }}>
              {stopped
                ? 'Settle it first'
                : impossible
                  ? 'Not now'
                  : wanted.length > 0
                    ? 'Say what you saw'
                    : wantsWhy
                      ? 'Say why'
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
