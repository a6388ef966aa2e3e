import { TASKS } from '@diurna/core/service';
import { Link } from 'react-router';
import { fullDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Empty, Heads } from '../ui/parts.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

/** Work somebody put off, with who and why, until it is done. */
export function PutOff() {
  const season = useSeason();
  const rows = season.data?.deferred;
  return (
    <>
      <SeasonHead of={season} />
      {rows?.length === 0 && (
        <Empty title="Nothing is put off.">
          What is put off in Due, to a day or to spring, stands here with its reason until it is done.
        </Empty>
      )}
      {rows && rows.length > 0 && (
        <Lines className="as-cards" aria-label="Work put off">
          <Heads of={['Engine', 'Work', 'Comes back', 'Why', 'By']} />
          <tbody>
            {rows.map((d) => (
              <tr key={d.id}>
                <th scope="row">
                  <Link to={`/fleet/engines/${d.engineId}`}>
                    {d.boatName}
                    {d.position === 'single' ? '' : ` ${d.position}`}
                  </Link>
                </th>
                <td>{TASKS[d.task].word}</td>
                <td className={d.lapsed ? 'minus' : undefined}>
                  {fullDay(d.until)}
                  {d.lapsed && ', more than a season'}
                </td>
                <td>{d.reason}</td>
                <td className="faint">
                  {d.by ?? 'unknown'}, {fullDay(d.on)}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </>
  );
}
