import type { Purchase } from '@diurna/contract/ordering';
import { parseAmount } from '@diurna/core/units';
import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useSession, useToday } from '../app/useBook.ts';
import { storesApi } from '../stores/api.ts';
import { Box } from '../ui/Box.tsx';
import { fullDay, moneyText, quantityText, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Entry, Wrong } from '../ui/parts.tsx';
import { orderingApi } from './api.ts';
import './ordering.css';

type Line = Purchase['lines'][number];

/** What is ordered and not here yet, order by order; it is received line by line, short or over. */
export function Purchases({ baseId }: { baseId: number }) {
  const { data, error } = orderingApi.useListPurchasesQuery({ baseId });
  return (
    <section className="block">
      <h2>On order</h2>
      <Asked data={data} error={error} />
      {data?.length === 0 && <p className="faint">Nothing is on order with a supplier.</p>}
      {data?.map((p) => (
        <OnePurchase key={p.id} purchase={p} />
      ))}
    </section>
  );
}

function OnePurchase({ purchase }: { purchase: Purchase }) {
  const today = useToday();
  const may = useMay('administrator', 'coordinator', 'stores');
  const currency = useSession()?.currency ?? 'EUR';
  const goods = purchase.lines.reduce((sum, l) => sum + (l.priceMinor ?? 0), 0);
  return (
    <section className="order" aria-label={`Order ${purchase.id}, ${purchase.supplier}`}>
      <h3>
        {purchase.supplier}
        <span className="faint">
          {' '}
          order {purchase.id}, {shortDay(purchase.day)}
          {purchase.by && ` by ${purchase.by}`}; {moneyText(goods, currency)} goods,{' '}
          {purchase.carriageMinor === 0 ? 'no carriage' : `${moneyText(purchase.carriageMinor, currency)} carriage`}
        </span>
      </h3>
      <p>
        <a href={`/api/ordering/purchases/${purchase.id}/file`} download={`diurna-order-${purchase.id}.csv`}>
          as a file for a spreadsheet
        </a>
        {', '}
        <a href={`/api/ordering/purchases/${purchase.id}/paper`} download={`diurna-order-${purchase.id}.pdf`}>
          as a page to send (PDF)
        </a>
      </p>
      {purchase.service !== null && <Service purchase={purchase} may={may} />}
      <Lines className="as-cards" aria-label={`Order ${purchase.id}`}>
        <tbody>
          {purchase.lines.map((l) => (
            <tr key={l.arrivalId}>
              <th scope="row">
                <Link to={`/stores/parts/${l.partId}`}>{l.number}</Link> <span className="faint">{l.name}</span>
              </th>
              <td className="num figure whole">{quantityText(l.quantity, l.unit)}</td>
              <td className="whole">
                {l.received === null ? (
                  <>
                    {fullDay(l.expected)}
                    {l.expected < today && <span className="minus"> late</span>}
                    {l.answer !== null && (
                      <span className={l.answer === 'confirmed' ? 'faint block-line' : 'soon block-line'}>
                        {l.answer}
                      </span>
                    )}
                  </>
                ) : (
                  <span className="faint">
                    {l.received === 0 ? (l.answer ?? 'did not come') : `${quantityText(l.received, l.unit)} came`}
                  </span>
                )}
              </td>
              <td className="line-words">{may && l.received === null && <Receive line={l} today={today} />}</td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

/** How the order stands with the supplier's service. */
function Service({ purchase, may }: { purchase: Purchase; may: boolean }) {
  const [ask, { isLoading, error }] = orderingApi.useAskSupplierMutation();
  const { service, serviceSays } = purchase;
  return (
    <p className={service === 'failed' ? 'minus' : service === 'answered' ? '' : 'faint'} role="status">
      {serviceSays ?? 'On its way to their service.'}{' '}
      {may && service !== 'answered' && (
        <button type="button" className="link-button" disabled={isLoading} onClick={() => void ask(purchase.id)}>
          ask them now
        </button>
      )}
      <Wrong error={error} />
    </p>
  );
}

/** Puts what came on the shelf: as ordered, or as counted. */
function Receive({ line, today }: { line: Line; today: string }) {
  const [close, { isLoading, error }] = storesApi.useCloseArrivalMutation();
  const dispatch = useAppDispatch();
  const [text, setText] = useState<string | null>(null);
  const [restOn, setRestOn] = useState('');
  const came = parseAmount(text ?? String(line.quantity));
  const put = async (received: number) => {
    const rest = received > 0 && received < line.quantity && restOn !== '' ? restOn : null;
    const answer = await close({ id: line.arrivalId, received, restOn: rest });
    if (!answer.data) return;
    const short = line.quantity - received;
    dispatch(
      say({
        tone: 'done',
        text:
          received === 0
            ? `${line.number} will not come: nothing counts on it any more.`
            : `${quantityText(received, line.unit)} of ${line.number} on the shelf${short > 0 ? `, ${quantityText(short, line.unit)} less than ordered` : ''}${rest === null ? '' : `; the rest expected on ${fullDay(rest)}`}.`,
      }),
    );
  };
  return (
    <form
      className="tools receive"
      onSubmit={(e) => {
        e.preventDefault();
        if (came !== null && came > 0) void put(came);
      }}>
      <Box
        figure
        short
        aria-label={`Came of ${line.number}${line.unit === 'mL' ? ', mL' : ''}`}
        value={text ?? String(line.quantity)}
        onChange={(e) => {
          setText(e.target.value);
        }}
      />
      {came !== null && came > 0 && came < line.quantity && (
        <Entry kind="date" label="The rest comes" value={restOn} min={today} onType={setRestOn} />
      )}
      <Button type="submit" size="small" disabled={came === null || came <= 0 || isLoading}>
        It has come
      </Button>
      <button type="button" className="link-button" disabled={isLoading} onClick={() => void put(0)}>
        it will not come
      </button>
      <Wrong error={error} />
    </form>
  );
}
