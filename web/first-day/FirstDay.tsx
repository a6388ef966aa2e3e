import { firstSteps, settingUp } from '@diurna/core/first-day';
import { Link } from 'react-router';
import { useMay } from '../app/useBook.ts';
import { useStored } from '../ui/useDraft.ts';
import { firstDayApi } from './api.ts';
import './first-day.css';

/** Leads a yard that begins: what to enter in which order, what is still missing and why it matters. */
export function FirstDay() {
  const maySteer = useMay('administrator', 'coordinator');
  const { data } = firstDayApi.useFirstDayQuery(undefined, { skip: !maySteer });
  const [away, setAway] = useStored('first-day.away', false);
  if (!data) return null;
  const steps = firstSteps(data);
  const next = steps.find((s) => !s.done);
  // Once the needed ones are there, the rest may be put away.
  if (!next || (away && !settingUp(steps))) return null;
  return (
    <section className="block first-day" aria-label="Setting the book up">
      <h2>Setting the book up</h2>
      <ol>
        {steps.map((s) => (
          <li key={s.key} className={s.done ? 'done' : s === next ? 'next' : ''}>
            <b>{s.done ? s.word : <Link to={s.to}>{s.word}</Link>}</b>{' '}
            {s.done ? <span className="fine">✓</span> : <span className="minus">{s.missing}</span>}
            {!s.done && <p>{s.why}</p>}
          </li>
        ))}
      </ol>
      {!settingUp(steps) && (
        <button
          type="button"
          className="link-button"
          onClick={() => {
            setAway(true);
          }}>
          We work without the rest for now
        </button>
      )}
    </section>
  );
}
