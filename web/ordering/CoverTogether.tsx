import { TASKS } from '@diurna/core/service';
import { Link } from 'react-router';
import { plural } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { orderingApi } from './api.ts';
import './ordering.css';

/** What the shelf can do together of what comes up: each kind alone says more than all of them can have. */
export function CoverTogether({ baseId }: { baseId: number }) {
  const { data } = orderingApi.useReadCoverQuery({ baseId });
  if (!data || data.comesUp === 0) return null;
  const all = data.possible === data.comesUp;
  return (
    <div role="group" aria-label="All together">
      <p>
        {plural(data.comesUp, 'service')} come up within {data.days} days.{' '}
        {all ? (
          'The shelf does all of them.'
        ) : (
          <b className="minus">
            Together the shelf does {data.exact ? '' : 'at least '}
            {data.possible}.
          </b>
        )}
        {data.short.length > 0 && (
          <>
            {' '}
            Short:{' '}
            {data.short.map((p, i) => (
              <span key={p.partId}>
                {i > 0 && ', '}
                <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link>
              </span>
            ))}
            .
          </>
        )}
      </p>
      {data.lacking.length > 0 && (
        <ul className="lacking">
          {data.lacking.map((l) => (
            <li key={`${l.modelId} ${l.task}`}>
              <TaskGlyph task={l.task} silent size={18} /> {TASKS[l.task].word}, {l.modelName}:{' '}
              <span className="figure">
                {l.possible} of {l.wanted}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
