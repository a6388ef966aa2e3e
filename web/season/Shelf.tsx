import { Link } from 'react-router';
import { millilitresText, plural, quantityText } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Empty, Heads } from '../ui/parts.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

/** What the open work of the whole campaign takes from the shelf, and what is not there. */
export function Shelf() {
  const season = useSeason();
  const { data } = season;
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
            Stabiliser: up to <b className="figure">{millilitresText(data.stabiliser.ml)}</b>
            {data.stabiliser.withoutTank > 0 &&
              `, without ${plural(data.stabiliser.withoutTank, 'boat')} whose tank nobody entered`}
            .
            {data.partsUnknown > 0 &&
              ` For ${plural(data.partsUnknown, 'piece')} of work no part is known to fit: say in Stores what does.`}
          </p>
          {data.parts.length === 0 ? (
            <Empty title="Nothing to fetch.">
              What the open visits take stands here, by number, beside what is there.
            </Empty>
          ) : (
            <Lines className="as-cards" aria-label="What the campaign takes">
              <Heads
                of={['Number', 'Part', { num: 'Takes' }, { num: 'On hand' }, { num: 'Short' }, 'Wanted besides']}
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
