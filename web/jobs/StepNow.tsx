import { useMediaQuery } from '@mui/material';
import { MANUAL_FIRST } from '@diurna/core/service';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { ReadingValue } from '@diurna/core/findings';
import {
  hindranceText,
  minutesText,
  never,
  placedText,
  type Hindrance,
  type Step,
  type TimedStep,
} from '@diurna/core/visit';
import { Readings } from '../findings/index.ts';
import { quantityText } from '../ui/format.ts';
import { Entry } from '../ui/parts.tsx';
import { countdown, type LiveCard } from './live-card.ts';
import { StepPicture } from './StepPicture.tsx';
import { StepTools } from './Tools.tsx';

/** The step at hand in large: what to do, with what, what to mind, what to say of it. */
export function StepNow({
  live,
  at,
  waits,
  editable,
  paused,
  hindered,
  why,
  onWhy,
  onRead,
  onLeave,
  onBack,
}: {
  live: LiveCard;
  at: TimedStep;
  /** Milliseconds it still has to wait. */
  waits: number;
  editable: boolean;
  paused: boolean;
  /** What stands in its way as the engine is now. */
  hindered: readonly Hindrance[];
  why: string;
  onWhy: (text: string) => void;
  onRead: (keys: readonly string[], value: ReadingValue, entered: boolean) => void;
  /** Takes the tick of the step before back; left out where there is none. */
  onBack?: () => void;
  /** Back to the order, where it was picked out of it. */
  onLeave?: () => void;
}) {
  const { card, state, steps } = live;
  const { step } = at;
  const left = steps.filter((t) => !state.ticks.has(t.step.id) && !live.passed.has(t.step.id)).length;
  const { box, tight } = useFits(step.id);
  const [shownOf, setShownOf] = useState('');
  const shown = shownOf === step.id;
  return (
    <div
      className={tight && !shown ? 'step-now tight' : 'step-now'}
      role="group"
      aria-label="The step at hand"
      ref={box}>
      <p className="faint step-place">
        <span className="figure">
          {onLeave ? 'out of order, ' : `step ${steps.length - left + 1} of ${steps.length}, `}
          {minutesText(Math.max(1, Math.round(step.minutes)))}
        </span>
        <span className="step-ways">
          <StepPicture live={live} step={step} />
          {tight && (
            <button
              type="button"
              className="link-button"
              aria-expanded={shown}
              aria-label="How, and with what"
              onClick={() => {
                setShownOf(shown ? '' : step.id);
              }}>
              How
            </button>
          )}
          {onLeave ? (
            <button type="button" className="link-button" onClick={onLeave}>
              Back to the order
            </button>
          ) : (
            onBack && (
              <button type="button" className="link-button" aria-label="Back one step" onClick={onBack}>
                Back
              </button>
            )
          )}
        </span>
      </p>
      {at.move && !step.id.endsWith(' tilt') && (
        <p className="step-move">{at.move === 'tilted' ? 'Tilt it up first.' : 'Bring it level first.'}</p>
      )}
      <h2 className="step-text" tabIndex={-1}>
        {placedText(card.engines, step)}
      </h2>
      {hindered.length > 0 && <Hindered step={step} of={hindered} why={why} onWhy={onWhy} />}
      {(!tight || shown) && (
        <>
          {step.detail && <p className="step-detail">{step.detail}</p>}
          <StepTools live={live} step={step} />
        </>
      )}
      <StepParts card={card} step={step} />
      {step.twoPeople && (
        <p className="step-two">
          <b>Two people.</b> Call somebody over before you begin.
        </p>
      )}
      {step.caution && (
        <p className="step-caution">
          {step.caution} {MANUAL_FIRST}
        </p>
      )}
      {editable && <Readings key={step.id} card={card} step={step} state={state} disabled={paused} onRead={onRead} />}
      {step.gate && (
        <p className="step-two">
          {step.readings.length > 0 ? (
            <b>On your word it goes back on hire.</b>
          ) : (
            <>
              <b>Confirm it yourself</b>: the boat goes back on hire on your word.
            </>
          )}
        </p>
      )}
      {waits > 0 && <p role="status">Still {countdown(waits)} to wait before this.</p>}
    </div>
  );
}

/**
 * Whether the step at hand is whole in view on a phone; where it is not, how it is done and what it is held against
 * folds away; what to do, to mind and to say stays.
 */
function useFits(step: string) {
  const narrow = useMediaQuery('(max-width: 760px)');
  const box = useRef<HTMLDivElement>(null);
  const [height, setHeight] = useState(() => window.innerHeight);
  const [of, setOf] = useState('');
  const here = `${step} ${height}`;
  useEffect(() => {
    const turned = () => {
      setHeight(window.innerHeight);
    };
    addEventListener('resize', turned);
    return () => {
      removeEventListener('resize', turned);
    };
  }, []);
  useLayoutEffect(() => {
    if (!narrow || !box.current) return;
    const bar = document.querySelector('.step-bar')?.getBoundingClientRect().height ?? 0;
    const over = box.current.getBoundingClientRect();
    const above = over.top + window.scrollY;
    if (above + over.height + bar > height) setOf(here);
  }, [here, narrow, height]);
  return { box, tight: narrow && of === here };
}

/** Why the step cannot be done as the engine stands, or is done only for a reason. */
function Hindered({
  step,
  of,
  why,
  onWhy,
}: {
  step: Step;
  of: readonly Hindrance[];
  why: string;
  onWhy: (text: string) => void;
}) {
  const stays = never(step, of);
  return (
    <div className="wrong step-hindered" role="alert">
      <p>
        <b>{stays ? 'Not now.' : 'Look first.'}</b> {of.map(hindranceText).join(' ')}
        {stays && step.turns !== null && ' It is not started like this: close it, tick that, then come back.'}
      </p>
      {!stays && <Entry full label="Why it is done all the same" value={why} maxLength={300} onType={onWhy} />}
    </div>
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
