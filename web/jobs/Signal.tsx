import { valueText } from '@diurna/core/findings';
import type { CardAct } from '@diurna/core/visit';
import { Link, useMatch } from 'react-router';
import { useAppSelector } from '../app/store.ts';
import { useMe } from '../app/useBook.ts';
import { plural } from '../ui/format.ts';
import { usePutAway } from './useOutbox.ts';
import './signal.css';

/** What has not reached the book yet, and what it did not take. */
export function Signal() {
  const me = useMe();
  const { waiting, refused, signal } = useAppSelector((s) => s.outbox);
  const away = usePutAway();
  const mine = waiting.filter((w) => w.personId === me.id).length;
  // A card that was not finished says so itself while it is open.
  const shown = useMatch('/jobs/:id')?.params.id;
  const others = waiting.length - mine;
  const notTaken = refused.filter((r) => r.personId === me.id && !(r.finish && String(r.jobId) === shown));
  if (signal && mine === 0 && notTaken.length === 0) return null;
  return (
    <div className="signal no-print" role="status">
      {!signal && (
        <p>
          <b>No signal.</b>{' '}
          {mine === 0
            ? 'What you opened before can be read; what you write is kept on this phone.'
            : `${plural(mine, 'entry', 'entries')} kept on this phone, sent when signal is back.`}
          {others > 0 ? ` ${plural(others, 'entry', 'entries')} of a colleague wait here too.` : ''}
        </p>
      )}
      {signal && mine > 0 && <p>Sending {plural(mine, 'entry', 'entries')} …</p>}
      {notTaken.map((r) => (
        <p key={r.id} className="minus">
          <b>Not taken:</b> {r.entry ? actText(r.entry.act) : `the finish of ${r.finish!.boatName}.`} {r.because}{' '}
          {r.finish && <Link to={`/jobs/${r.jobId}`}>See the card</Link>}{' '}
          <button
            type="button"
            className="link-button"
            onClick={() => {
              away(r.id);
            }}>
            I have read it
          </button>
        </p>
      ))}
    </div>
  );
}

function actText(act: CardAct): string {
  switch (act.kind) {
    case 'tick':
      return `the tick of “${act.step.replace(/^\d+ /, '')}”.`;
    case 'read':
      return `${act.key.replace(/^\d+ /, '')}, ${valueText(act.key, act.value)}.`;
    case 'remark':
      return `the remark “${act.text}”.`;
    case 'type':
      return `“${act.text}”.`;
    case 'hold':
      return `the hold: “${act.why}”.`;
    case 'photo':
      return 'a picture.';
    default:
      return 'what you decided.';
  }
}
