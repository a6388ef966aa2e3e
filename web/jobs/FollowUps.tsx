import type { JobCard as Card } from '@diurna/contract/jobs';
import { TASKS } from '@diurna/core/service';
import { shortDay } from '../ui/format.ts';

/** What is asked for of these engines besides the card. */
export function FollowUps({ card }: { card: Card }) {
  const own = card.followUps.filter(
    (f) =>
      !card.tasks.some((t) => t.engineId === f.engineId && t.task === f.task && card.status === 'open') ||
      f.waitsFor !== null,
  );
  if (own.length === 0) return null;
  return (
    <section className="block" aria-label="Asked for">
      <h2 className="above">Asked for, still to be done</h2>
      <ul className="plain-list">
        {own.map((f) => (
          <li key={f.id}>
            {card.engines.length > 1 && <b>{card.engines.find((e) => e.id === f.engineId)?.position} </b>}
            <b>{TASKS[f.task].word}</b>{' '}
            {f.waitsFor
              ? `after ${TASKS[f.waitsFor].word.toLowerCase()}`
              : f.dueOn
                ? shortDay(f.dueOn)
                : 'at the next return'}
            . <span className="faint">{f.why}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
