import { timeOfDay } from '@diurna/core/calendar';
import type { DayReply, DayVisit } from '@diurna/contract/day';
import { endOf, secondText } from '@diurna/core/day';
import { MANUAL_FIRST, worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { useSession } from '../app/useBook.ts';
import { quantityText } from '../ui/format.ts';

/** The day on paper: only printed, never shown. */
export function DaySheet({ day, title }: { day: DayReply; title: string }) {
  const company = useSession()?.company ?? '';
  return (
    <div className="day-sheet" role="group" aria-label="Day sheet">
      <h1>{title}</h1>
      <p>
        {company}. {day.boatsOut} boats out.
      </p>
      {day.people
        .filter((p) => p.visits.length > 0 || p.shift)
        .map((p) => (
          <section key={p.id}>
            <h2>
              {p.name}
              {p.shift
                ? `, ${timeOfDay(p.shift.from)} to ${timeOfDay(p.shift.to)}${p.baseName ? `, ${p.baseName}` : ''}`
                : ', off'}
            </h2>
            {p.visits.length === 0 ? (
              <p>Nothing handed out.</p>
            ) : (
              <table>
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
                      <td>{v.start === null ? '' : timeOfDay(v.start)}</td>
                      <td>{v.start === null ? minutesText(v.minutes) : timeOfDay(endOf(v))}</td>
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
      <section>
        <h2>Boats</h2>
        <table>
          <thead>
            <tr>
              <th>When</th>
              <th>Boat</th>
              <th />
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {[...day.boats]
              .sort((a, b) => a.at - b.at)
              .map((b, i) => (
                // Booked twice at one time, a boat stands here twice: its place alone tells the two apart.
                <tr key={`${i} ${b.boatId} ${b.way} ${b.at}`}>
                  <td>
                    {b.at >= 1440 ? 'tomorrow ' : ''}
                    {timeOfDay(b.at)}
                  </td>
                  <td>{b.boatName}</td>
                  <td>{b.way}</td>
                  <td>{b.text}</td>
                </tr>
              ))}
          </tbody>
        </table>
        {day.boatsMore > 0 && <p>And {day.boatsMore} more, less pressing.</p>}
      </section>
      <p>{MANUAL_FIRST}</p>
    </div>
  );
}

/** What a visit wants besides its technician, in brackets behind the boat. */
function wants(v: DayVisit): string {
  const second = secondText(v);
  const all = [...(v.needsLift ? ['lift'] : []), ...(second === null ? [] : [second])];
  return all.length === 0 ? '' : ` (${all.join(', ')})`;
}
