import type { PartPage } from '@diurna/contract/stores';
import { Link } from 'react-router';
import { fullDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Heads } from '../ui/parts.tsx';

/** Numbers that stand for this one, with who says so; and those it came after. */
export function OtherNumbers({ part }: { part: PartPage }) {
  if (part.links.length === 0 && part.supersedes.length === 0) return null;
  const other = (id: number) => part.others.find((o) => o.id === id);
  return (
    <section className="block" aria-label="Other numbers">
      <h2>Other numbers</h2>
      {part.supersedes.map((id) => (
        <p key={id}>
          Came after <Link to={`/stores/parts/${id}`}>{other(id)?.number}</Link>: what is left of that is used up first.
        </p>
      ))}
      {part.links.length > 0 && (
        <Lines className="as-cards">
          <Heads of={['Number', 'Is', 'Where it is written', 'Who says so', 'Fitted here']} />
          <tbody>
            {part.links.map((l) => (
              <tr key={l.otherId}>
                <th scope="row">
                  <Link to={`/stores/parts/${l.otherId}`}>{other(l.otherId)?.number}</Link>
                </th>
                <td>{l.kind === 'equivalent' ? 'an equivalent' : 'the newer number'}</td>
                <td>{l.evidence}</td>
                <td className="faint">
                  {l.saidBy}, {fullDay(l.day)}
                </td>
                <td className={l.approved ? '' : 'minus'}>{l.approved ? 'yes' : 'not approved'}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </section>
  );
}
