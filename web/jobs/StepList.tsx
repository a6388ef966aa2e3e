import { minutesText, placedText, type Step } from '@diurna/core/visit';
import { type LiveCard } from './live-card.ts';
import { hourText } from '../ui/format.ts';

/** Every step of the card in working order, to look at or to tick out of order. */
export function StepList({
  live,
  atHand,
  editable,
  onTick,
}: {
  live: LiveCard;
  atHand: string | null;
  editable: boolean;
  onTick: (step: Step, done: boolean) => void;
}) {
  const { card, state, steps } = live;
  return (
    <ol className="step-list">
      {steps.map(({ step, start, move }) => {
        const tick = state.ticks.get(step.id);
        return (
          <li key={step.id} className={tick ? 'ticked' : step.id === atHand ? 'at-hand' : ''}>
            {editable ? (
              <button
                type="button"
                role="checkbox"
                aria-checked={tick !== undefined}
                className="card-tick"
                aria-label={placedText(card.engines, step)}
                onClick={() => {
                  onTick(step, tick === undefined);
                }}>
                {tick ? '✓' : ''}
              </button>
            ) : (
              <span className="figure">{tick ? '✓' : ''}</span>
            )}
            <span className="figure faint">{tick ? hourText(tick.at) : minutesText(Math.round(start))}</span>
            <span>
              {move && <span className="faint">{move === 'tilted' ? 'tilt: ' : 'level: '}</span>}
              {placedText(card.engines, step)}
              {step.wait >= 1 && <span className="faint">, then {Math.round(step.wait)} min by itself</span>}
              {step.twoPeople && <b> · two people</b>}
              {step.gate && <b> · confirm</b>}
              {tick && <span className="faint"> {live.nameOf(tick.by)}</span>}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
