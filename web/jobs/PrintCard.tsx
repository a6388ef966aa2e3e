import { MANUAL_FIRST, worksText } from '@diurna/core/service';
import { READING_UNITS, READINGS } from '@diurna/core/findings';
import { inBothUnits } from '@diurna/core/units';
import { keysAsked, minutesText, placedText, toolsOf } from '@diurna/core/visit';
import { fullDay, quantityText } from '../ui/format.ts';
import type { LiveCard } from './live-card.ts';

/** The card on paper, for those without a phone: fits A4 and letter. Shown in print only. */
export function PrintCard({ live: { card, steps, state } }: { live: LiveCard }) {
  return (
    <div className="print-card" aria-hidden="true">
      <header>
        <h1>{card.boatName}</h1>
        <p>
          {card.baseName}
          {card.berth ? `, berth ${card.berth}` : ''} · {fullDay(card.day)} · {card.technician} ·{' '}
          {minutesText(card.minutes)} planned · card {card.id}
        </p>
      </header>
      <p>
        <b>Before you start:</b> kill-switch lanyard off, battery isolated, nobody near the propeller. {MANUAL_FIRST}
      </p>
      <table className="print-engines">
        <tbody>
          {card.engines.map((e) => (
            <tr key={e.id}>
              <th scope="row">{e.position}</th>
              <td>
                {e.modelName}, serial {e.serial}
              </td>
              <td>{e.sump ? `oil ${inBothUnits(e.sump)}` : ''}</td>
              <td>{e.gearCase ? `case ${inBothUnits(e.gearCase)}` : ''}</td>
              <td>hours ______</td>
            </tr>
          ))}
        </tbody>
      </table>
      {card.parts.length > 0 && (
        <p>
          <b>Take along:</b>{' '}
          {card.parts
            .map(
              (p) => `${p.number} ${p.name}, ${quantityText(p.quantity, p.unit)}${p.place ? ` (at ${p.place})` : ''}`,
            )
            .join('; ')}
        </p>
      )}
      {toolsOf(steps.map((t) => t.step)).length > 0 && (
        <p>
          <b>Lay out:</b> {toolsOf(steps.map((t) => t.step)).join('; ')}
        </p>
      )}
      {steps.some((t) => t.step.twoPeople) && (
        <p>
          <b>A second person:</b>{' '}
          {steps
            .map((t, i) => [t, i] as const)
            .filter(([t]) => t.step.twoPeople)
            .map(([t, i]) => `step ${i + 1}, about ${minutesText(Math.max(1, Math.round(t.end - t.start)))}`)
            .join('; ')}
        </p>
      )}
      <ol>
        {steps.map(({ step, move }, i) => {
          const cylinders = card.engines.find((e) => e.id === step.engineId)?.cylinders ?? 1;
          return (
            <li key={step.id}>
              <span className="print-box">{state.ticks.has(step.id) ? '✓' : ''}</span>
              <span className="print-no">{i + 1}</span>
              <div>
                {move && <i>{move === 'tilted' ? 'Tilt up. ' : 'Bring level. '}</i>}
                {placedText(card.engines, step)}
                {step.wait >= 1 && <i> Then {Math.round(step.wait)} min by itself, over at ______.</i>}
                {step.twoPeople && <b> Two people.</b>}
                {step.gate && <b> Confirm: ______</b>}
                {step.detail && <div className="print-detail">{step.detail}</div>}
                {step.caution && <div className="print-caution">{step.caution}</div>}
                {keysAsked(step, cylinders).map(({ key, kind, part }) => (
                  <div key={key} className="print-reading">
                    {READINGS[kind].per === 'cylinder' ? `${READINGS[kind].word} ${part ?? ''}` : READINGS[kind].asks}{' '}
                    {READINGS[kind].options
                      ? READINGS[kind].options.map((o) => (
                          <span key={o.key} className="print-option">
                            ☐ {o.word}
                          </span>
                        ))
                      : `______ ${READING_UNITS[READINGS[kind].unit!][0]}`}
                  </div>
                ))}
              </div>
            </li>
          );
        })}
      </ol>
      <p>Parts used, volumes, remarks: ____________________________________________________________________</p>
      <p>
        {worksText(card.works).replace(/^./, (c) => c.toUpperCase())}. Done by ______________________ on ______________.{' '}
        {MANUAL_FIRST}
      </p>
    </div>
  );
}
