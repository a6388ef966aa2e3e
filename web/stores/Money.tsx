import { Link } from 'react-router';
import { useState } from 'react';
import { STORES_LEAVES } from '../ordering/index.ts';
import { useMe, useSession } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, moneyText, quantityText } from '../ui/format.ts';
import { Asked, Heads, Leaves, PageHead, Pager } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { storesApi } from './api.ts';

const SIZE = 60;
const ROUND = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 1 });

/** Money tied up on the shelves: what lies longest stands out, what may not be used any more is named. */
export function Money() {
  const me = useMe();
  const currency = useSession()?.currency ?? 'EUR';
  const [baseId, setBase] = useState<number | ''>(me.baseId ?? '');
  const [page, setPage] = useState(1);
  const { data, error } = storesApi.useReadWorthQuery(baseId === '' ? {} : { baseId });
  const expired = data?.parts.filter((p) => p.expired > 0 || p.expiresSoon > 0) ?? [];
  return (
    <>
      <PageHead
        title="Stores"
        acts={
          <BaseChoice
            hideLabel
            value={baseId}
            onChange={(b) => {
              setBase(b);
              setPage(1);
            }}
            none="All bases together"
          />
        }>
        Money on the shelves
      </PageHead>
      <Leaves label="Stores" of={STORES_LEAVES} />
      <Asked data={data} error={error} />
      {data && (
        <section className="block" aria-label="Money on the shelves">
          <p>
            <b className="figure">{moneyText(data.totalMinor, currency)}</b> tied up by the moving average
            {data.totalFifoMinor === data.totalMinor
              ? ', as much first in first out'
              : `, ${moneyText(data.totalFifoMinor, currency)} first in first out`}
            .{' '}
            {data.turns !== null && (
              <>
                It turned over <b className="figure">{ROUND.format(data.turns)}</b> times within a year.{' '}
              </>
            )}
            {data.deadMinor > 0 && (
              <span className="minus">
                {moneyText(data.deadMinor, currency)} of it lies dead: none of it was used within a year.
              </span>
            )}
          </p>
          {expired.length > 0 && (
            <ul className="lacking">
              {expired.map((p) => (
                <li key={p.id}>
                  <Link to={`/stores/parts/${p.id}`}>{p.number}</Link> {p.name}:{' '}
                  {p.expired > 0 && <b className="minus">{quantityText(p.expired, p.unit)} may not be used any more</b>}
                  {p.expired > 0 && p.expiresSoon > 0 && ', '}
                  {p.expiresSoon > 0 && (
                    <span className="soon">{quantityText(p.expiresSoon, p.unit)} runs out within 60 days</span>
                  )}
                </li>
              ))}
            </ul>
          )}
          <Lines className="as-cards">
            <Heads
              of={['Number', 'Part', { num: 'On hand' }, { num: 'Tied up' }, { num: 'Turns a year' }, 'Last used']}
            />
            <tbody>
              {data.parts.slice((page - 1) * SIZE, page * SIZE).map((p) => (
                <tr key={p.id}>
                  <th scope="row">
                    <Link to={`/stores/parts/${p.id}`}>{p.number}</Link>
                  </th>
                  <td>{p.name}</td>
                  <td className={p.onHand < 0 ? 'num figure minus' : 'num figure'}>{quantityText(p.onHand, p.unit)}</td>
                  <td className="num figure">{moneyText(p.worthMinor, currency)}</td>
                  <td className="num figure">{p.turns === null ? '' : ROUND.format(p.turns)}</td>
                  <td className={p.dead ? 'minus' : 'faint'}>
                    {p.lastUsed === null ? 'never' : fullDay(p.lastUsed)}
                    {p.dead ? ', dead' : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </Lines>
          <Pager page={page} size={SIZE} total={data.parts.length} turn={setPage} />
        </section>
      )}
    </>
  );
}
