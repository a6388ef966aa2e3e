import { MANUAL_FIRST } from '@diurna/core/service';
import type { CardAct } from '@diurna/core/visit';
import { gatesOf, type LiveCard } from './live-card.ts';

/** What a person confirms before the boat goes back on hire, one by one. */
export function Gates({
  live,
  editable,
  write,
}: {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  const gates = gatesOf(live);
  if (gates.length === 0) return null;
  const left = gates.filter((g) => !g.done).length;
  return (
    <section className="block" aria-label="Before it goes back on hire">
      <h2 style={{ marginTop: 18 }}>
        Before it goes back on hire{' '}
        {left === 0 ? <span className="fine">✓ all confirmed</span> : <span className="faint">{left} to confirm</span>}
      </h2>
      {left > 0 && <p className="faint">Each is confirmed by a person who looked. {MANUAL_FIRST}</p>}
      <ul className="gates">
        {gates.map((g) => (
          <li key={g.id}>
            <button
              type="button"
              role="checkbox"
              className="card-tick"
              aria-checked={g.done}
              aria-label={g.text}
              disabled={!editable}
              onClick={() => void write({ kind: 'tick', step: g.id, done: !g.done })}>
              {g.done ? '✓' : ''}
            </button>
            <span>{g.text}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
