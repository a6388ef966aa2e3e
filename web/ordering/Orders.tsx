import type { OrderBook } from '@diurna/contract/ordering';
import { orderByHand, orderFaults, priceOrders, putLine, putOrder, type PlannedOrder } from '@diurna/core/ordering';
import { LinearProgress } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useBases, useMe } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { orderingApi } from './api.ts';
import { STORES_LEAVES } from './leaves.ts';
import { OneOrder } from './OneOrder.tsx';
import { Purchases } from './Purchases.tsx';
import { ShortParts } from './ShortParts.tsx';
import { useOrderRun } from './useOrderRun.ts';
import { sumText } from './words.ts';
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

/**
 * The orders of least cost, worked out while one looks; packs, supplier and day are changed by hand, with the price of
 * it.
 */
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
  const change = (next: PlannedOrder[]) => {
    setOwn({ of: planned, orders: next });
    setHeld(book);
  };
  const withPacks = (at: number, line: number, packs: number) =>
    orders.map((o, i) => (i === at ? { ...o, lines: o.lines.map((l, j) => (j === line ? { ...l, packs } : l)) } : o));
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
            change(withPacks(at, line, packs));
          }}
          onOffer={(line, offer) => {
            change(putLine(book.problem, orders, at, line, offer));
          }}
          onDay={(day) => {
            change(putOrder(orders, at, day));
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
