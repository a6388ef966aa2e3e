import { Link } from 'react-router';
import type { Reply } from '../app/api.ts';
import { millilitresText, plural, quantityText, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Empty, Heads, Wrong } from '../ui/parts.tsx';
import { seasonApi } from './api.ts';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

/** What the open work of the whole campaign takes from the shelf, and what is not there. */
export function Shelf() {
  const season = useSeason();
  const { data } = season;
  const {
    currentData: plan,
    isFetching,
    error,
  } = seasonApi.usePlanSeasonQuery(
    { baseId: season.baseId ?? 0, share: 50 },
    { skip: season.baseId === null || !data?.off },
  );
  const known = plan !== undefined && !isFetching && !error;
  const weeksOf = new Map(plan?.parts.map((p) => [p.partId, p.weeks]));
  const short = data?.parts.filter((p) => p.onHand < p.quantity) ?? [];
  return (
    <>
      <SeasonHead of={season} />
      {data?.off && (
        <>
          <p>
            {data.parts.length === 0
              ? 'Nothing on the lists takes parts.'
              : short.length === 0
                ? 'The shelf has all of it.'
                : `${plural(short.length, 'number')} of ${data.parts.length} are short.`}{' '}
            <Stabiliser of={data.stabiliser} />
            {data.parts.length > 0 &&
              (known
                ? ' The weeks are those of the plan backwards, and of cards.'
                : error
                  ? ' In which weeks cannot be said now.'
                  : ' In which weeks is being worked out.')}
            {data.partsUnknown > 0 &&
              ` For ${plural(data.partsUnknown, 'piece')} of work no part is known to fit: say in Stores what does.`}
          </p>
          <Wrong error={error} />
          {data.parts.length === 0 ? (
            <Empty title="Nothing to fetch.">
              What the open visits take stands here, by number, beside what is there.
            </Empty>
          ) : (
            <Lines className="as-cards" aria-label="What the campaign takes">
              <Heads
                of={['Number', 'Part', { num: 'Takes' }, { num: 'On hand' }, { num: 'Short' }, 'To fetch', 'When']}
              />
              <tbody>
                {[...data.parts]
                  .sort((a, b) => Number(b.onHand < b.quantity) - Number(a.onHand < a.quantity))
                  .map((p) => (
                    <tr key={p.partId}>
                      <th scope="row">
                        <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link>
                      </th>
                      <td>{p.name}</td>
                      <td className="num figure">{quantityText(p.quantity, p.unit)}</td>
                      <td className="num figure">{quantityText(p.onHand, p.unit)}</td>
                      <td className={p.onHand < p.quantity ? 'num figure minus' : 'num figure'}>
                        {p.onHand < p.quantity ? quantityText(p.quantity - p.onHand, p.unit) : ''}
                      </td>
                      <td className="faint">{p.packs}</td>
                      <td className="faint">{known && <When part={p} weeks={weeksOf.get(p.partId) ?? []} />}</td>
                    </tr>
                  ))}
              </tbody>
            </Lines>
          )}
        </>
      )}
    </>
  );
}

/** What all tanks together take, and whose size is not known. */
function Stabiliser({ of: { ml, withoutTank, secondDoses } }: { of: Reply<'readSeason'>['stabiliser'] }) {
  const second = secondDoses > 0 ? `, and second doses for ${plural(secondDoses, 'boat')}` : '';
  if (ml === 0 && withoutTank === 0)
    return secondDoses > 0 ? `Stabiliser: second doses for ${plural(secondDoses, 'boat')}.` : null;
  const unknown = `${plural(withoutTank, 'boat')} whose tank nobody entered`;
  if (ml === 0) return `How much stabiliser is not known: ${unknown}${second}.`;
  return (
    <>
      Stabiliser: up to <b className="figure">{millilitresText(ml)}</b>
      {withoutTank > 0 && `, without ${unknown}`}
      {second}.
    </>
  );
}

type Wanted = Reply<'readSeason'>['parts'][number];

/**
 * The weeks in which the shelf runs short of a part, with the containers that have to be there; else when it is taken.
 */
function When({ part, weeks }: { part: Wanted; weeks: Reply<'planSeason'>['parts'][number]['weeks'] }) {
  // What is left of a container serves the next week too.
  const packed = weeks.some((w) => w.packs !== null);
  const lacking = weeks.filter((w) => (packed ? w.packs !== null : w.short > 0));
  const planned = weeks.reduce((sum, w) => sum + w.quantity, 0);
  const later = part.quantity - planned > 0.5;
  if (weeks.length === 0) return 'later';
  if (lacking.length > 0)
    return (
      <ul className="plain-list">
        {lacking.map((w) => (
          <li key={w.from}>
            week of {shortDay(w.from)}: <b className="figure">{w.packs ?? quantityText(w.short, part.unit)}</b>
          </li>
        ))}
        {later && <li>more later</li>}
      </ul>
    );
  const first = shortDay(weeks[0]!.from);
  return `from the week of ${first}${later ? ', more later' : ''}`;
}
