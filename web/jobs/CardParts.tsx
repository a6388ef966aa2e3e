import { Heads } from '../ui/parts.tsx';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { partsUsed } from '@diurna/core/visit';
import { quantityText } from '../ui/format.ts';
import type { Typed } from './useTyped.ts';
import { Box } from '../ui/Box.tsx';

export type UsedPart = ReturnType<typeof partsUsed<Card['parts'][number]>>[number];

/** Parts of a card: to take along, really used, or used and booked. */
export function CardParts({
  card,
  used,
  typed,
  editable,
}: {
  card: Card;
  used: UsedPart[];
  typed: Typed;
  editable: boolean;
}) {
  if (!editable) {
    if (card.status !== 'done') return <PartsPlanned card={card} />;
    return (
      <section className="block">
        <h2 className="above">Parts used</h2>
        {card.used.length === 0 && <p className="faint">none</p>}
        <table className="used">
          <tbody>
            {card.used.map((u) => (
              <tr key={u.partId}>
                <th scope="row">
                  {u.name} <span className="faint">{u.number}</span>
                  {u.belowZero && <b className="minus"> below zero, marked</b>}
                </th>
                <td className="num figure">{quantityText(u.quantity, u.unit)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    );
  }
  if (card.parts.length === 0) return null;
  return (
    <section className="block">
      <h2 className="above">Parts really used</h2>
      <p className="faint">
        Worked out from the ticked tasks. Change a figure where more or less went in; 0 where none did.
      </p>
      <table className="used">
        <Heads of={['Part', { num: 'Shelf' }, { num: 'Used' }]} />
        <tbody>
          {used.map((p) => (
            <tr key={p.partId} className={p.used !== null && p.used > p.onHand ? 'short' : ''}>
              <th scope="row">
                {p.name} <span className="faint">{p.number}</span>
              </th>
              <td className="num">
                <span className="figure">{quantityText(p.onHand, p.unit)}</span>
                {p.place && <span className="faint small"> {p.place}</span>}
              </td>
              <td className="num">
                <Box
                  figure
                  aria-label={`Used: ${p.name}${p.unit === 'mL' ? ', mL' : ''}`}
                  aria-invalid={p.used === null}
                  value={typed.text({ what: 'part', partId: p.partId })}
                  placeholder={String(p.worked)}
                  onChange={(e) => {
                    typed.type({ what: 'part', partId: p.partId }, e.target.value);
                  }}
                  onBlur={() => void typed.keep()}
                />{' '}
                {p.unit === 'mL' ? 'mL' : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function PartsPlanned({ card }: { card: Card }) {
  return (
    <section className="block">
      <h2 className="above">Parts to take along</h2>
      <table className="used">
        <tbody>
          {card.parts.map((p) => (
            <tr key={p.partId} className={p.onHand < p.quantity ? 'short' : ''}>
              <th scope="row">
                {p.name}{' '}
                <span className="faint">
                  {p.number}
                  {p.place && `, at ${p.place}`}
                </span>
              </th>
              <td className="num figure">
                {quantityText(p.quantity, p.unit)} of {quantityText(p.onHand, p.unit)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
