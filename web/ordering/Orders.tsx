import type { OrderBook } from '@diurna/contract/ordering';
import { numberOf, orderByHand, orderFaults, priceOrders, whyOrder, type PlannedOrder } from '@diurna/core/ordering';
import { Button, LinearProgress } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay, useMe } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { Box } from '../ui/Box.tsx';
import { fullDay, plural, quantityText, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Choice, Empty, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { orderingApi } from './api.ts';
import { STORES_LEAVES } from './leaves.ts';
import { Purchases } from './Purchases.tsx';
import { ShortParts } from './ShortParts.tsx';
import { useOrderRun } from './useOrderRun.ts';
import { dayAt, sumText, whyText } from './words.ts';
import './ordering.css';

const SPANS = [28, 42, 90] as const;

/** What to order, from whom, on which day, in which packs; and what is on order. */
export function Orders() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const baseId = Number(params.get('base') ?? me.baseId ?? bases[0]?.id ?? '') || '';
  const days = SPANS.find((n) => n === Number(params.get('days'))) ?? 42;
  const set = (more: Record<string, string>) => {
    setParams({ ...Object.fromEntries(params), ...more }, { replace: true });
  };
  const { data, error } = orderingApi.useReadOrderBookQuery({ baseId: Number(baseId), days }, { skip: baseId === '' });
  return (
    <>
      <PageHead
        title="Orders"
        tools={
          <div className="tools">
            <BaseChoice
              hideLabel
              value={baseId}
              onChange={(v) => {
                set({ base: String(v) });
              }}
            />
            <Choice
              hideLabel
              label="How far ahead"
              value={days}
              options={SPANS.map((n) => [n, `${n} days`])}
              onChange={(n) => {
                set({ days: String(n) });
              }}
            />
          </div>
        }
      />
      <Leaves label="Stores" of={STORES_LEAVES} />
      {bases.length === 0 && <Empty title="There is no base yet.">Parts are ordered for one.</Empty>}
      {baseId !== '' && <Asked data={data} error={error} />}
      {data && <Proposal key={`${baseId} ${days}`} book={data} baseId={Number(baseId)} />}
      {data && <ShortParts book={data} />}
      {baseId !== '' && <Purchases baseId={baseId} />}
    </>
  );
}

/** The orders of least cost, worked out while one looks; packs are changed by hand, with the price of it. */
function Proposal({ book: latest, baseId }: { book: OrderBook; baseId: number }) {
  // What is being changed by hand is not taken away by news: it stays until it is ordered or planned anew.
  const [held, setHeld] = useState<OrderBook | null>(null);
  const book = held ?? latest;
  const run = useOrderRun(book.problem);
  const head = useRef<HTMLHeadingElement>(null);
  const [own, setOwn] = useState<{ of: readonly PlannedOrder[]; orders: PlannedOrder[] } | null>(null);
  const planned = run.plan?.orders ?? [];
  const byHand = useMemo(() => priceOrders(book.problem, orderByHand(book.problem)).total, [book]);
  // What was changed holds while the plan it was changed from stands.
  const orders = own && own.of === run.plan?.orders ? own.orders : planned;
  const faults = orderFaults(book.problem, orders);
  const cost = faults.length === 0 ? priceOrders(book.problem, orders).total : null;
  const change = (at: number, line: number, packs: number) => {
    const next = orders.map((o, i) =>
      i === at ? { ...o, lines: o.lines.map((l, j) => (j === line ? { ...l, packs } : l)) } : o,
    );
    setOwn({ of: planned, orders: next });
    setHeld(book);
  };
  if (book.problem.offers.length === 0)
    return (
      <Empty title="Nobody sells anything yet.">
        Write down <Link to="/stores/suppliers">who you buy from</Link>, with their packs and prices.
      </Empty>
    );
  return (
    <section className="block" aria-label="What to order">
      <h2 ref={head} tabIndex={-1}>
        What to order
      </h2>
      {!run.over && (
        <LinearProgress aria-label="Working out the orders" variant="determinate" value={run.share * 100} />
      )}
      {held !== null && held !== latest && (
        <p className="minus" role="status">
          What is on the shelves, or wanted, has changed meanwhile.{' '}
          <button
            type="button"
            className="link-button"
            onClick={() => {
              setHeld(null);
              setOwn(null);
            }}>
            Plan anew
          </button>
        </p>
      )}
      {run.broken && <Wrong error={null}>This browser broke off. Load the page again.</Wrong>}
      {run.plan && (
        <p role="status">
          {orders.length === 0
            ? 'Nothing has to be ordered within these days.'
            : `${plural(orders.length, 'order')} within these days.`}{' '}
          {cost !== null && own && own.of === planned && (
            <b className={cost > run.plan.cost.total + 0.005 ? 'minus' : ''}>
              As changed it costs {sumText(book, Math.abs(cost - run.plan.cost.total))}{' '}
              {cost >= run.plan.cost.total ? 'more' : 'less'}.{' '}
            </b>
          )}
          {run.over && byHand - run.plan.cost.total > 0.5 && (
            <span className="faint">
              Each part ordered alone when it runs low would cost {sumText(book, byHand - run.plan.cost.total)} more.
            </span>
          )}
        </p>
      )}
      {orders.map((order, at) => (
        <OneOrder
          key={`${order.supplier} ${order.day}`}
          book={book}
          baseId={baseId}
          orders={orders}
          at={at}
          fault={faults.find((f) => f.path === `orders[${at}]`)?.text ?? null}
          settled={run.over}
          onPacks={(line, packs) => {
            change(at, line, packs);
          }}
          onOrdered={() => {
            setHeld(null);
            setOwn(null);
            // The order goes from here, and whoever pressed stays in the page.
            head.current?.focus();
          }}
        />
      ))}
    </section>
  );
}

function OneOrder({
  book,
  baseId,
  orders,
  at,
  fault,
  settled,
  onPacks,
  onOrdered,
}: {
  book: OrderBook;
  baseId: number;
  orders: readonly PlannedOrder[];
  at: number;
  fault: string | null;
  settled: boolean;
  onPacks: (line: number, packs: number) => void;
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
            />
          ))}
        </tbody>
      </Lines>
      <div className="order-foot">
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

function OrderLine({
  book,
  line,
  why,
  may,
  onPacks,
}: {
  book: OrderBook;
  line: PlannedOrder['lines'][number];
  why: string;
  may: boolean;
  onPacks: (packs: number) => void;
}) {
  const offer = book.problem.offers.find((o) => o.id === line.offer)!;
  const { part, name, unit } = book.names.offers[line.offer]!;
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
      <td className="line-words">{why}</td>
    </tr>
  );
}
