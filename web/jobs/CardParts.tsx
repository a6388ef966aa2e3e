import { Heads } from '../ui/parts.tsx';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { partsUsed } from '@diurna/core/visit';
import { containersOf } from '../stores/index.ts';
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
                <Containers part={p} quantity={p.used ?? p.worked} />
                <TakeInstead part={p} typed={typed} />
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

type PartLine = Card['parts'][number];

/** A fluid in what one takes from the shelf: what stands open first. */
function Containers({ part, quantity }: { part: PartLine; quantity: number }) {
  const text = containersOf(part, quantity);
  return text && <span className="faint small block-line">{text}</span>;
}

/** What may be fitted as well, and lies there. */
function Others({ part }: { part: PartLine }) {
  return part.instead
    .filter((o) => o.onHand > 0)
    .map((o) => (
      <span key={o.partId} className="small block-line">
        or {o.number}: {quantityText(o.onHand, part.unit)} on the shelf{o.place ? ` at ${o.place}` : ''}{' '}
        <span className="faint">{o.why}</span>
      </span>
    ));
}

/** Where the shelf has too little: another number that may be fitted, at a tap. */
function TakeInstead({ part, typed }: { part: UsedPart; typed: Typed }) {
  // Before anything is ticked: as much as all of the card takes. Where none of it went in, nothing is short.
  const want =
    part.worked === 0 && part.used === 0 && typed.text({ what: 'part', partId: part.partId }) === ''
      ? part.quantity
      : (part.used ?? part.worked);
  if (want <= part.onHand) return null;
  return part.instead
    .filter((o) => o.onHand >= want)
    .map((o) => (
      <button
        key={o.partId}
        type="button"
        className="link-button block-line"
        onClick={() => {
          typed.type({ what: 'part', partId: part.partId }, '0');
          typed.type({ what: 'part', partId: o.partId }, String(want));
          void typed.keep();
        }}>
        {o.number} went in instead ({o.why})
      </button>
    ));
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
                <Containers part={p} quantity={p.quantity} />
                {p.onHand < p.quantity && <Others part={p} />}
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
