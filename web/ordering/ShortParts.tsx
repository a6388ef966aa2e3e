import type { OrderBook } from '@diurna/contract/ordering';
import { itemId } from '@diurna/core/ordering';
import { shortOn } from '@diurna/core/stores';
import { Link } from 'react-router';
import { plural, quantityText, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { dayAt, sumText } from './words.ts';
import './ordering.css';

/** What one piece, or one litre, that is owed costs on a day: the hires its boats miss, or at least its price. */
function dayShort(book: OrderBook, p: OrderBook['parts'][number]): string {
  const item = book.problem.items.find((i) => i.id === itemId(p.partId));
  if (!item) return '';
  return p.unit === 'mL' ? `${sumText(book, item.shortPerDay * 1000)} a litre` : sumText(book, item.shortPerDay);
}

/** Parts the shelf with all that is under way does not last for: surely, or in one case of twenty. */
export function ShortParts({ book }: { book: OrderBook }) {
  const rows = book.parts
    .flatMap((p) => {
      const may = shortOn(p.planned, p.stock);
      return may === null ? [] : [{ p, may, likely: shortOn(p.median, p.stock) }];
    })
    .sort((a, b) => (a.likely ?? Infinity) - (b.likely ?? Infinity) || a.may - b.may);
  if (rows.length === 0) return null;
  return (
    <section className="block">
      <h2>What runs short without an order</h2>
      <Lines className="as-cards" aria-label="Parts that run short">
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col" className="num">
              On hand and coming
            </th>
            <th scope="col" className="num">
              Wanted
            </th>
            <th scope="col">Likely short</th>
            <th scope="col" className="num">
              A day short costs
            </th>
            <th scope="col">Who wants it</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ p, may, likely }) => (
            <tr key={p.partId}>
              <th scope="row">
                <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link> <span className="faint">{p.name}</span>
              </th>
              <td className="num figure">{quantityText(p.stock.at(-1) ?? p.onHand, p.unit)}</td>
              <td className="num figure whole">
                {quantityText(Math.round(p.mean.at(-1) ?? 0), p.unit)}
                <span className="faint"> to {quantityText(Math.ceil(p.planned.at(-1) ?? 0), p.unit)}</span>
              </td>
              <td className={likely === null ? 'faint' : 'minus'}>
                {likely === null ? `perhaps ${shortDay(dayAt(book, may))}` : shortDay(dayAt(book, likely))}
              </td>
              <td className="num figure">{dayShort(book, p)}</td>
              <td className="line-words">
                {p.sure.slice(0, 3).map((s, i) => (
                  <span key={s.jobId}>
                    {i > 0 && ', '}
                    <Link to={`/jobs/${s.jobId}`}>{s.boat}</Link> {shortDay(dayAt(book, s.day))}
                  </span>
                ))}
                {p.sure.length > 3 && `, ${p.sure.length - 3} more cards`}
                {p.likely > 0 && `${p.sure.length > 0 ? '; ' : ''}${plural(p.likely, 'engine')} likely due`}
                {!p.sold && <span className="minus"> nobody sells it</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}
