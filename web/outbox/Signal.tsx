import { useMatch } from 'react-router';
import { nameHere } from '../app/device.ts';
import { useAppSelector } from '../app/store.ts';
import { useMe } from '../app/useBook.ts';
import { plural } from '../ui/format.ts';
import { NotTaken, PictureNotTaken } from './NotTaken.tsx';
import './signal.css';

/** What has not reached the book yet, and what it did not take. */
export function Signal() {
  const me = useMe();
  const { waiting, refused, pictures, signal } = useAppSelector((s) => s.outbox);
  const mine = waiting.filter((w) => w.personId === me.id).length;
  const going = pictures.filter((p) => p.personId === me.id && p.because === undefined);
  // A card that was not finished says so itself while it is open.
  const shown = useMatch('/jobs/:id')?.params.id;
  const others = waiting.length - mine;
  const whose = [...new Set(waiting.filter((w) => w.personId !== me.id).map((w) => nameHere(w.personId)))].join(', ');
  // What was done at the dock stands there, beside its boat.
  const atDock = useMatch('/day/back') !== null;
  const notTaken = refused.filter(
    (r) => r.personId === me.id && !(r.finish && String(r.jobId) === shown) && !(r.dock && atDock),
  );
  const noPicture = pictures.filter((p) => p.personId === me.id && p.because !== undefined);
  if (signal && mine + going.length + notTaken.length + noPicture.length === 0) return null;
  const held = [
    mine > 0 && plural(mine, 'entry', 'entries'),
    going.length > 0 && plural(going.length, 'picture'),
  ].filter((x): x is string => typeof x === 'string');
  const toGo = going.reduce((sum, p) => sum + p.size - p.sent, 0);
  return (
    <div className="signal no-print" role="status" aria-label="Signal">
      {!signal && (
        <p>
          <b>No signal.</b>{' '}
          {held.length === 0
            ? 'What you opened before can be read; what you write is kept on this phone.'
            : `${held.join(' and ')} kept on this phone, sent when signal is back.`}
          {others > 0 ? ` ${plural(others, 'entry', 'entries')} of ${whose} wait here too.` : ''}
        </p>
      )}
      {signal && held.length > 0 && (
        <p>
          Sending {held.join(' and ')}
          {toGo > 0 ? `, ${megabytes(toGo)} to go` : ''} …
        </p>
      )}
      {notTaken.map((r) => (
        <NotTaken key={r.id} refused={r} />
      ))}
      {noPicture.map((p) => (
        <PictureNotTaken key={p.id} picture={p} />
      ))}
    </div>
  );
}

const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(bytes < 950_000 ? 2 : 1)} MB`;
