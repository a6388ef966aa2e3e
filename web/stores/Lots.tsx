import type { PartPage } from '@diurna/contract/stores';
import { addDays } from '@diurna/core/calendar';
import { Link } from 'react-router';
import { useBases, useSession, useToday } from '../app/useBook.ts';
import { fullDay, moneyText, quantityText } from '../ui/format.ts';
import { Heads } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';

/** So many days ahead a date is told as near. */
const NEAR_DAYS = 60;

/** What is left of each receipt that has a lot or a date: what may be used the shortest is taken first. */
export function Lots({ part }: { part: PartPage }) {
  const bases = useBases();
  const today = useToday();
  const told = part.lots.filter((l) => l.lot !== null || l.expires !== null);
  if (told.length === 0) return null;
  const nameOf = (id: number) => bases.find((b) => b.id === id)?.name ?? '';
  const expired = told.filter((l) => l.expires !== null && l.expires < today);
  return (
    <section className="block" aria-label="Lots">
      <h2>Lots</h2>
      {expired.length > 0 && (
        <p className="minus">
          {quantityText(
            expired.reduce((sum, l) => sum + l.left, 0),
            part.unit,
          )}{' '}
          may not be used any more. Write it off, and say why.
        </p>
      )}
      <Lines>
        <Heads of={['Lot', 'Base', 'Came', 'Use by', { num: 'Left' }]} />
        <tbody>
          {told.map((l, i) => (
            <tr key={i}>
              <th scope="row">{l.lot ?? 'no lot'}</th>
              <td>{nameOf(l.baseId)}</td>
              <td className="faint">{fullDay(l.since)}</td>
              <td
                className={
                  l.expires === null
                    ? 'faint'
                    : l.expires < today
                      ? 'minus'
                      : l.expires < addDays(today, NEAR_DAYS)
                        ? 'soon'
                        : ''
                }>
                {l.expires === null ? 'keeps' : `${fullDay(l.expires)}${l.expires < today ? ', over' : ''}`}
              </td>
              <td className="num figure">{quantityText(l.left, part.unit)}</td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

/** What the part's shelves are worth, in a sentence. */
export function ShelfMoney({ part }: { part: PartPage }) {
  const currency = useSession()?.currency ?? 'EUR';
  const worth = part.worth.reduce((sum, w) => sum + w.worthMinor, 0);
  const fifo = part.worth.reduce((sum, w) => sum + w.worthFifoMinor, 0);
  if (worth === 0) return null;
  return (
    <p className="faint">
      <span className="figure">{moneyText(worth, currency)}</span> tied up by the moving average
      {fifo === worth ? '' : `, ${moneyText(fifo, currency)} first in first out`}.{' '}
      <Link to="/stores/money">All of it</Link>
    </p>
  );
}
