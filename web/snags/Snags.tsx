import { engineName } from '@diurna/core/fleet';
import { useState } from 'react';
import { Link } from 'react-router';
import { snagsApi } from './api.ts';
import { useMay } from '../app/useBook.ts';
import { clockText } from '../ui/format.ts';
import { AskReason } from '../ui/parts.tsx';
import { Causes } from './Causes.tsx';
import '../ui/dock.css';

/** Open trouble of a base, or all trouble of one boat, with its pictures. */
export function Snags({ baseId = '', boatId }: { baseId?: number | ''; boatId?: number }) {
  const { data } = snagsApi.useListSnagsQuery({
    ...(baseId !== '' && { baseId }),
    ...(boatId !== undefined && { boatId, state: 'all' as const }),
  });
  const mayClose = useMay('administrator', 'coordinator', 'technician');
  const [closing, setClosing] = useState<number | null>(null);
  const [why, setWhy] = useState<number | null>(null);
  const [close, { error }] = snagsApi.useCloseSnagMutation();
  if (!data || (data.length === 0 && boatId === undefined)) return null;
  return (
    <section className="block">
      <h2>Snags</h2>
      {data.length === 0 && <p className="faint">None reported.</p>}
      <ul className="snags">
        {data.map((s) => (
          <li key={s.id} className={s.closed ? 'closed' : ''}>
            <div>
              <b>
                {boatId === undefined ? (
                  <Link to={`/fleet/boats/${s.boatId}`}>
                    {s.position ? engineName(s.boatName, s.position) : s.boatName}
                  </Link>
                ) : (
                  (s.position ?? s.boatName)
                )}
              </b>{' '}
              {s.text}
            </div>
            {why === s.id && <Causes snag={s} />}
            <div className="faint small">
              {s.by}, {clockText(s.at)}
              {s.hasPhoto && (
                <>
                  ,{' '}
                  <a href={`/api/snags/${s.id}/photo`} target="_blank" rel="noreferrer">
                    picture
                  </a>
                </>
              )}
              {s.closed ? (
                <>
                  . Closed by {s.closed.by}: {s.closed.remark}
                </>
              ) : (
                <>
                  {s.symptom && (
                    <>
                      ,{' '}
                      <button
                        type="button"
                        className="link-button"
                        aria-expanded={why === s.id}
                        aria-label={`likely causes, ${s.boatName}: ${s.text}`}
                        onClick={() => {
                          setWhy(why === s.id ? null : s.id);
                        }}>
                        likely causes
                      </button>
                    </>
                  )}
                  {mayClose && (
                    <>
                      ,{' '}
                      <button
                        type="button"
                        className="link-button"
                        aria-label={`close it: the snag of ${s.boatName}, ${s.text}`}
                        onClick={() => {
                          setClosing(s.id);
                        }}>
                        close it
                      </button>
                    </>
                  )}
                </>
              )}
            </div>
          </li>
        ))}
      </ul>
      {closing !== null && (
        <AskReason
          open
          title="Close this snag"
          act="Close it"
          label="What was done"
          error={error}
          onClose={() => {
            setClosing(null);
          }}
          sentence="The snag stays in the book with what was done about it."
          onGive={(remark) => {
            const s = data.find((x) => x.id === closing);
            if (s)
              void close({ id: s.id, version: s.version, remark }).then((a) => {
                if (a.data) setClosing(null);
              });
          }}
        />
      )}
    </section>
  );
}
