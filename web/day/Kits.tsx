import { useShort } from '../app/useBook.ts';
import type { DayReply } from '@diurna/contract/day';
import { TASKS } from '@diurna/core/service';
import { Link } from 'react-router';
import { plural, quantityText, timeText } from '../ui/format.ts';
import { picksOf } from './picks.ts';

/** What each visit of the day takes from the shelf, in the order in which it is needed. */
export function Kits({ day }: { day: DayReply }) {
  if (day.kits.length === 0) return null;
  const bases = [...new Map(day.kits.map((k) => [k.baseId, k.baseName])).entries()];
  return (
    <section className="block">
      <h2>Kits to pick</h2>
      {bases.map(([baseId, name]) => (
        <section key={baseId} aria-label={`Kits at ${name}`}>
          {bases.length > 1 && <h3 className="kits-base">{name}</h3>}
          <Picks kits={day.kits.filter((k) => k.baseId === baseId)} />
          <Poured kits={day.kits.filter((k) => k.baseId === baseId)} />
        </section>
      ))}
    </section>
  );
}

/** Fluids of all visits together, in what one takes off the shelf. */
function Poured({ kits }: { kits: DayReply['kits'] }) {
  const fluids = picksOf(kits).filter((p) => p.containers !== null);
  if (fluids.length === 0) return null;
  return (
    <ul className="kits" aria-label="Poured for all of them">
      {fluids.map((p) => (
        <li key={p.partId}>
          <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link>{' '}
          <span className="figure">{quantityText(Math.round(p.quantity), p.unit)}</span> for{' '}
          {plural(p.boats.length, 'boat')}: {p.containers}
          {p.spared > 0 && <span className="faint"> (boat by boat it takes {p.spared} more)</span>}
        </li>
      ))}
    </ul>
  );
}

/** Kits from the shelf of one base. */
function Picks({ kits }: { kits: DayReply['kits'] }) {
  const short = useShort();
  // The shelf serves the visits in the order of the day.
  const left = new Map<number, number>();
  return (
    <ul className="kits">
      {kits.map((k) => (
        <li key={k.jobId}>
          <Link to={`/jobs/${k.jobId}`}>
            <b>{k.boatName}</b>
          </Link>{' '}
          <span className="faint">
            {k.start === null ? '' : `${timeText(k.start)}, `}
            {short(k.technician)}
          </span>
          <p>
            {k.lines.map((l, i) => {
              const there = left.get(l.partId) ?? l.onHand;
              left.set(l.partId, there - l.quantity);
              const lacks = there < l.quantity - 1e-6;
              return (
                <span key={l.partId}>
                  {i > 0 && '; '}
                  <span className={lacks ? 'minus' : ''}>
                    <span className="figure">
                      {quantityText(Math.round(l.quantity), l.unit)}
                      {l.unit === 'each' ? ' ×' : ''}
                    </span>{' '}
                    {l.name}
                    {l.place && <span className="faint"> at {l.place}</span>}
                    {lacks && <b> (shelf has {quantityText(Math.max(0, Math.round(there)), l.unit)})</b>}
                  </span>
                </span>
              );
            })}
            {k.unknown.length > 0 && (
              <span className="soon">
                {k.lines.length > 0 && '; '}no part known for{' '}
                {k.unknown.map((t) => TASKS[t].word.toLowerCase()).join(', ')}
              </span>
            )}
          </p>
        </li>
      ))}
    </ul>
  );
}
