import { substitute, toolsOf, type Step } from '@diurna/core/visit';
import { useState } from 'react';
import { Entry } from '../ui/parts.tsx';
import type { LiveCard } from './live-card.ts';

/** What a step is done with; at the first one, everything to lay out for the visit. */
export function StepTools({ live, step }: { live: LiveCard; step: Step }) {
  const first = step.id === 'arrive';
  const tools = first ? toolsOf(live.steps.map((t) => t.step)) : step.tools;
  if (tools.length === 0) return null;
  return (
    <div className="step-tools">
      {first ? (
        <ul className="lay-out" aria-label="Lay out">
          <li className="lay-out-head" aria-hidden="true">
            Lay out:
          </li>
          {tools.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      ) : (
        <p>
          <b>With:</b> {tools.join('; ')}
        </p>
      )}
      {step.toolMm !== null && <OtherSize key={step.id} wantedMm={step.toolMm} />}
    </div>
  );
}

/** Whether another size may stand in: a near one rounds the head, and by how much is said. */
function OtherSize({ wantedMm }: { wantedMm: number }) {
  const [open, setOpen] = useState(false);
  const [stamped, setStamped] = useState('');
  const verdict = stamped.trim() === '' ? null : substitute(wantedMm, stamped);
  if (!open)
    return (
      <button
        type="button"
        className="link-button"
        onClick={() => {
          setOpen(true);
        }}>
        Another size at hand?
      </button>
    );
  return (
    <>
      <Entry
        label="Size as stamped"
        autoFocus
        value={stamped}
        maxLength={20}
        placeholder="3/4 in, or 19 mm"
        onType={setStamped}
      />
      {stamped.trim() !== '' && (
        <p className={verdict?.fits ? 'fine' : 'trap'} role="status">
          {verdict?.text ?? 'A size such as 19 mm or 3/4 in.'}
        </p>
      )}
    </>
  );
}
