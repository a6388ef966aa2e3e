import { MANUAL_FIRST } from '@diurna/core/service';
import type { CardAct } from '@diurna/core/visit';
import { gatesOf, wantsLook, type LiveCard } from './live-card.ts';

/** What a person confirms before the boat goes back on hire, one by one. */
export function Gates({
  live,
  editable,
  write,
  pick,
}: {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
  /** Brings a step up that is not just ticked. */
  pick: (step: string) => void;
}) {
  const gates = gatesOf(live);
  if (gates.length === 0) return null;
  const left = gates.filter((g) => !g.done).length;
  return (
    <section className="block" aria-label="Before it goes back on hire">
      <h2 className="above">
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
              onClick={() => {
                // It was confirmed too early: the old tick goes, and it is looked at anew.
                if (g.again !== null) {
                  void write({ kind: 'tick', step: g.id, done: false });
                  pick(g.id);
                } else if (!g.done && wantsLook(live, live.byId.get(g.id)!.step)) pick(g.id);
                else void write({ kind: 'tick', step: g.id, done: !g.done });
              }}>
              {g.done ? '✓' : ''}
            </button>
            <span>
              {g.text}
              {g.again !== null && <span className="soon"> Again: “{g.again}” was ticked after it.</span>}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
