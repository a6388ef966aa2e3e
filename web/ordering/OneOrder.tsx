import type { OrderBook } from '@diurna/contract/ordering';
import { numberOf, orderDays, otherOffers, whyOrder, type PlannedOrder } from '@diurna/core/ordering';
import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Box } from '../ui/Box.tsx';
import { fullDay, quantityText, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Choice, Wrong } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { orderingApi } from './api.ts';
import { dayAt, sumText, whyText } from './words.ts';

/** One order of the plan: its day, its lines with why, what it comes to; changed by hand, and placed by a press. */
export function OneOrder({
  book,
  baseId,
  orders,
  at,
  fault,
  settled,
  onPacks,
  onOffer,
  onDay,
  onOrdered,
}: {
  book: OrderBook;
  baseId: number;
  orders: readonly PlannedOrder[];
  at: number;
  fault: string | null;
  settled: boolean;
  onPacks: (line: number, packs: number) => void;
  onOffer: (line: number, offer: string) => void;
  onDay: (day: number) => void;
  onOrdered: () => void;
}) {
  const may = useMay('administrator', 'coordinator', 'stores');
  const dispatch = useAppDispatch();
  const [place, { isLoading, error }] = orderingApi.usePlaceOrderMutation();
  const [mail, setMail] = useState(false);
  const [service, setService] = useState(true);
  const order = orders[at]!;
  const { name, contactId, service: hasService } = book.names.suppliers[order.supplier]!;
  const supplier = book.problem.suppliers.find((s) => s.id === order.supplier)!;
  const arrives = dayAt(book, order.day + supplier.leadDays);
  const sums = fault === null ? whyOrder(book.problem, order) : null;
  const send = async () => {
    const answer = await place({
      baseId,
      supplierId: numberOf(order.supplier),
      lines: order.lines.map((l) => ({ offerId: numberOf(l.offer), packs: l.packs })),
      mail,
      service: hasService && service,
    });
    if (!answer.data) return;
    onOrdered();
    dispatch(say({ tone: 'done', text: `Ordered from ${name}; expected ${fullDay(answer.data.expected)}.` }));
  };
  return (
    <section className="order" aria-label={`${name}, ${shortDay(dayAt(book, order.day))}`}>
      <h3>
        {order.day === 0 ? 'Today' : shortDay(dayAt(book, order.day))} from {name}
        <span className="faint"> here {shortDay(arrives)}</span>
      </h3>
      <Lines className="order-lines as-cards">
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col" className="num">
              Packs
            </th>
            <th scope="col">Makes</th>
            <th scope="col">Why</th>
          </tr>
        </thead>
        <tbody>
          {order.lines.map((l, line) => (
            <OrderLine
              key={l.offer}
              book={book}
              line={l}
              why={fault === null ? whyText(book, orders, at, line) : ''}
              may={may && settled}
              onPacks={(packs) => {
                onPacks(line, packs);
              }}
              onOffer={(offer) => {
                onOffer(line, offer);
              }}
            />
          ))}
        </tbody>
      </Lines>
      <div className="order-foot">
        {may && settled && <OnDay book={book} order={order} onDay={onDay} />}
        {fault !== null && <p className="minus">{fault}</p>}
        {sums && (
          <p className="figure">
            {sumText(book, sums.goods)} goods,{' '}
            {sums.carriage === 0 ? 'no carriage' : `${sumText(book, sums.carriage)} carriage`}
          </p>
        )}
        {may && order.day === 0 && (
          <>
            {hasService && (
              <label className="mail-too">
                <Tick on={service} onTick={setService} /> send it to their service
              </label>
            )}
            {contactId !== null && (
              <label className="mail-too">
                <Tick on={mail} onTick={setMail} /> send it by mail too
              </label>
            )}
            <Button variant="contained" disabled={!settled || fault !== null || isLoading} onClick={() => void send()}>
              Order it
            </Button>
          </>
        )}
      </div>
      <Wrong error={error} />
    </section>
  );
}

/** The day it is ordered on, put to another. */
function OnDay({ book, order, onDay }: { book: OrderBook; order: PlannedOrder; onDay: (day: number) => void }) {
  return (
    <div className="order-day">
      <Choice
        label="Order on"
        value={order.day}
        options={dayOptions(book, order)}
        onChange={(day) => {
          if (day !== '') onDay(day);
        }}
      />
    </div>
  );
}

/** Days on which its supplier takes it; the one it stands on among them, whatever it is. */
function dayOptions(book: OrderBook, { supplier, day }: PlannedOrder): [number, string][] {
  const days = new Set([day, ...orderDays(book.problem, supplier)]);
  return [...days].sort((a, b) => a - b).map((d) => [d, d === 0 ? 'today' : shortDay(dayAt(book, d))]);
}

function OrderLine({
  book,
  line,
  why,
  may,
  onPacks,
  onOffer,
}: {
  book: OrderBook;
  line: PlannedOrder['lines'][number];
  why: string;
  may: boolean;
  onPacks: (packs: number) => void;
  onOffer: (offer: string) => void;
}) {
  const offer = book.problem.offers.find((o) => o.id === line.offer)!;
  const { part, name, unit } = book.names.offers[line.offer]!;
  const others = may ? otherOffers(book.problem, line.offer) : [];
  return (
    <tr>
      <th scope="row">
        <Link to={`/stores/parts/${numberOf(offer.item)}`}>{part}</Link> <span className="faint">{name}</span>
      </th>
      <td className="num">
        {may ? (
          <Box
            figure
            short
            aria-label={`Packs of ${part}`}
            value={String(line.packs)}
            onChange={(e) => {
              onPacks(Number(e.target.value.replaceAll(/\D/g, '')));
            }}
          />
        ) : (
          <span className="figure">{line.packs}</span>
        )}
      </td>
      <td className="figure whole">
        {quantityText(line.packs * offer.pack, unit)}
        {offer.pack !== 1 && line.packs > 1 && <span className="faint"> in {quantityText(offer.pack, unit)}</span>}
      </td>
      <td className="line-words">
        {why}
        {others.length > 0 && (
          <div>
            <Choice
              label={`Whom ${part} is bought from`}
              hideLabel
              value={line.offer}
              options={[
                [line.offer, `from ${book.names.suppliers[offer.supplier]!.name}`],
                ...others.map((o): [string, string] => [o.id, `from ${book.names.suppliers[o.supplier]!.name}`]),
              ]}
              onChange={(id) => {
                if (id !== line.offer) onOffer(id);
              }}
            />
          </div>
        )}
      </td>
    </tr>
  );
}
