import type { WhichPart } from '@diurna/contract/stores';
import { TASKS } from '@diurna/core/service';
import { Link } from 'react-router';
import { quantityText } from '../ui/format.ts';
import { Asked, Heads } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { storesApi } from './api.ts';
import './stores.css';

/** Which part each task takes on an engine: one answer by its serial, or what is in doubt. */
export function EngineParts({ engineId }: { engineId: number }) {
  const { data, error } = storesApi.useWhichPartsQuery(engineId);
  if (!data) return <Asked data={data} error={error} />;
  if (data.length === 0) return null;
  return (
    <section className="block" aria-label="Its parts">
      <h2>Its parts</h2>
      <Lines className="as-cards">
        <Heads of={['Task', 'Part', { num: 'Takes' }, { num: 'On hand' }, 'Instead, or in doubt']} />
        <tbody>
          {data.map((w, i) => (
            <tr key={i}>
              <td>
                <span className="task">
                  <TaskGlyph task={w.task} silent size={19} /> {TASKS[w.task].word}
                </span>
              </td>
              <th scope="row">
                {w.part ? (
                  <>
                    <Link to={`/stores/parts/${w.part.id}`}>{w.part.number}</Link>{' '}
                    <span className="faint">{w.part.name}</span>
                  </>
                ) : (
                  <span className="soon">not sure</span>
                )}
              </th>
              <td className="num figure">
                {w.quantity === null ? '?' : quantityText(w.quantity, w.part?.unit ?? 'each')}
              </td>
              <td className={w.onHand <= 0 ? 'num figure minus' : 'num figure'}>
                {w.part ? quantityText(w.onHand, w.part.unit) : ''}
              </td>
              <td className="wraps">
                <Instead of={w} />
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

function Instead({ of }: { of: WhichPart }) {
  return (
    <>
      {of.doubts.map((d) => (
        <p key={d} className="soon no-margin">
          {d}
        </p>
      ))}
      {of.instead.map((o) => (
        <p key={o.id} className="no-margin">
          <Link to={`/stores/parts/${o.id}`}>{o.number}</Link>{' '}
          <span className="figure">{quantityText(o.onHand, o.unit)}</span> on hand{' '}
          <span className="faint">{o.why}</span>
        </p>
      ))}
    </>
  );
}
