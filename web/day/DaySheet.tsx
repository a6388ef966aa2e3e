import type { DayReply, DayVisit } from '@diurna/contract/day';
import { endOf, secondText } from '@diurna/core/day';
import { MANUAL_FIRST, worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { useSession } from '../app/useBook.ts';
import { plural, quantityText, timeText } from '../ui/format.ts';
import { picksOf } from './picks.ts';
import './day-sheet.css';

/** The day on paper: only printed, never shown. */
export function DaySheet({ day, title, place }: { day: DayReply; title: string; place: string }) {
  const company = useSession()?.company ?? '';
  return (
    <div className="day-sheet" role="group" aria-label="Day sheet">
      <h1>{title}</h1>
      <p>{[company, place, `${plural(day.boatsOut, 'boat')} out`].filter((x) => x !== '').join(', ')}.</p>
      {day.people
        .filter((p) => p.visits.length > 0 || p.shift)
        .map((p) => (
          <section key={p.id}>
            <h2>
              {p.name}
              {p.shift
                ? `, ${timeText(p.shift.from)} to ${timeText(p.shift.to)}${p.baseName ? `, ${p.baseName}` : ''}`
                : ', off'}
            </h2>
            {p.visits.length === 0 ? (
              <p>Nothing handed out.</p>
            ) : (
              <table className="sheet-visits">
                <colgroup>
                  {['sheet-time', 'sheet-time', 'sheet-boat', 'sheet-berth', 'sheet-work', '', 'sheet-done'].map(
                    (c, i) => (
                      // The columns stand under each other from person to person.
                      <col key={i} className={c} />
                    ),
                  )}
                </colgroup>
                <thead>
                  <tr>
                    <th>From</th>
                    <th>To</th>
                    <th>Boat</th>
                    <th>Berth</th>
                    <th>Work</th>
                    <th>Parts</th>
                    <th>Done</th>
                  </tr>
                </thead>
                <tbody>
                  {p.visits.map((v) => (
                    <tr key={v.jobId}>
                      <td>{v.start === null ? '' : timeText(v.start)}</td>
                      <td>{v.start === null ? minutesText(v.minutes) : timeText(endOf(v))}</td>
                      <td>
                        {v.boatName}
                        {wants(v)}
                      </td>
                      <td>{v.berth}</td>
                      <td>{worksText(v.works)}</td>
                      <td>
                        {day.kits
                          .find((k) => k.jobId === v.jobId)
                          ?.lines.map(
                            (l) =>
                              `${quantityText(Math.round(l.quantity), l.unit)}${l.unit === 'each' ? ' ×' : ''} ${l.number}${l.place ? ` (${l.place})` : ''}`,
                          )
                          .join(', ')}
                      </td>
                      <td>☐</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        ))}
      <Shelves day={day} />
      <section>
        <h2>Boats</h2>
        <ul className="sheet-boats">
          {[...day.boats]
            .sort((a, b) => a.at - b.at)
            .map((b, i) => (
              // Booked twice at one time, a boat stands here twice: its place alone tells the two apart.
              <li key={`${i} ${b.boatId} ${b.way} ${b.at}`}>
                <span>
                  {b.at >= 1440 ? 'tomorrow ' : ''}
                  {b.way} {timeText(b.at)}
                </span>
                <b>{b.boatName}</b>
                <span>{b.text}</span>
              </li>
            ))}
        </ul>
        {day.boatsMore > 0 && <p>And {day.boatsMore} more, less pressing.</p>}
      </section>
      <p>{MANUAL_FIRST}</p>
    </div>
  );
}

/** What is picked off the shelves, base by base, each part once. */
function Shelves({ day }: { day: DayReply }) {
  const bases = [...new Map(day.kits.map((k) => [k.baseId, k.baseName])).entries()];
  return bases.map(([baseId, name]) => {
    const picks = picksOf(day.kits.filter((k) => k.baseId === baseId));
    if (picks.length === 0) return null;
    return (
      <section key={baseId}>
        <h2>Off the shelves{bases.length > 1 && `, ${name}`}</h2>
        <ul className="sheet-picks">
          {picks.map((p) => (
            <li key={p.partId}>
              <span>☐</span>
              <b>{p.place ?? 'no place'}</b>
              <span>
                {quantityText(Math.round(p.quantity), p.unit)}
                {p.unit === 'each' ? ' ×' : ''} {p.number}
                {p.containers && `: ${p.containers}`}
                {p.lacks > 1e-6 && <b> (lacks {quantityText(Math.ceil(p.lacks), p.unit)})</b>}
              </span>
            </li>
          ))}
        </ul>
      </section>
    );
  });
}

/** What a visit wants besides its technician, in brackets behind the boat. */
function wants(v: DayVisit): string {
  const second = secondText(v);
  const all = [...(v.needsLift ? ['lift'] : []), ...(second === null ? [] : [second])];
  return all.length === 0 ? '' : ` (${all.join(', ')})`;
}
