import type { DayBoat, DayReply } from '@diurna/contract/day';
import { Link } from 'react-router';
import { timeText } from '../ui/format.ts';

const WORD: Record<DayBoat['state'], string> = {
  held: 'held',
  ready: 'ready',
  'work first': 'work first',
  over: 'over',
  'hours wanted': 'hours wanted',
  fine: 'nothing due',
  gone: 'out',
};
const TONE: Record<DayBoat['state'], string> = {
  held: 'bad',
  ready: 'well',
  'work first': 'wait',
  over: 'bad',
  'hours wanted': 'wait',
  fine: 'well',
  gone: 'well',
};
const SHOWN = 12;

/** What comes back today and goes out until tomorrow noon, and whether it may. */
export function GoingBack({ day }: { day: DayReply }) {
  const boats = day.boats.slice(0, SHOWN);
  const more = day.boats.length - boats.length + day.boatsMore;
  // They are in order: behind one with nothing against it stand only such.
  const well = boats.length > 0 && TONE[boats.at(-1)!.state] === 'well';
  return (
    <section className="block">
      <h2>Going out and coming back</h2>
      {boats.length === 0 && (
        <p className="faint">No boat goes out or comes back until tomorrow noon, as far as is booked.</p>
      )}
      <ul className="going">
        {boats.map((b, i) => (
          <li key={`${i} ${b.boatId} ${b.way} ${b.at}`} className={TONE[b.state]}>
            <Link to={`/fleet/boats/${b.boatId}`}>
              <b>{b.boatName}</b>
            </Link>{' '}
            <span className="figure">
              {b.way === 'out' ? 'out' : 'back'} {b.at >= 1440 ? 'tomorrow ' : ''}
              {timeText(b.at)}
            </span>
            <p>
              <span className="visually-hidden">{WORD[b.state]}: </span>
              {b.text}
            </p>
          </li>
        ))}
      </ul>
      {more > 0 && (
        <p className="faint">
          and {more} more{well ? ' with nothing against them' : ', less pressing'}.
        </p>
      )}
    </section>
  );
}
