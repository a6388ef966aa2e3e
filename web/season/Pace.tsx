import type { SeasonPace } from '@diurna/contract/season';
import type { Day } from '@diurna/core/calendar';
import { fullDay, plural, shortDay } from '../ui/format.ts';

const one = (n: number) => (n < 10 ? n.toFixed(1) : String(Math.round(n)));

/** How a campaign runs: done and left, the pace wanted and reached, and when it is over at that pace. */
export function Pace({ title, of, goal, today }: { title: string; of: SeasonPace; goal: string; today: Day }) {
  const late = of.finish !== null && of.finish.likely > of.by && of.left > 0;
  const most = Math.max(1, ...of.weeks.map((w) => w.done));
  return (
    <section className="season-pace" aria-label={title}>
      <h2>{title}</h2>
      <p>
        <b className="figure">
          {of.done} of {of.total}
        </b>{' '}
        done{of.left === 0 ? '.' : `, ${of.left} to go by ${shortDay(of.by)}, ${goal}.`}
      </p>
      {of.left > 0 && (
        <p className={late ? 'minus' : 'faint'}>
          {of.by > today ? `${one(of.needed)} boats a week are needed` : 'That day is past'}
          {of.reached === null
            ? '; none is done yet, so nothing tells when it is over.'
            : `, ${one(of.reached)} were done. At that pace it is over about ${fullDay(of.finish!.likely)}, between ${shortDay(
                of.finish!.early,
              )} and ${shortDay(of.finish!.late)}.`}
        </p>
      )}
      {of.done > 0 && (
        <ol className="week-bars" aria-label={`${title}, boats done by week`}>
          {of.weeks.map((w) => (
            <li key={w.from} title={`Week of ${shortDay(w.from)}: ${plural(w.done, 'boat')}`}>
              <span className="visually-hidden">
                Week of {shortDay(w.from)}: {plural(w.done, 'boat')}
              </span>
              <i style={{ height: `${(w.done / most) * 100}%` }} />
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
