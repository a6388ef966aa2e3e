import type { Supplier } from '@diurna/contract/ordering';
import { Button } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { useMay, useSession } from '../app/useBook.ts';
import { moneyText, plural } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Empty, Leaves, PageHead } from '../ui/parts.tsx';
import { orderingApi } from './api.ts';
import { STORES_LEAVES } from './leaves.ts';
import { weekdaysText } from './words.ts';
import './ordering.css';

const SupplierForm = lazy(() => import('./SupplierForm.tsx').then((m) => ({ default: m.SupplierForm })));

/** Whom the yard buys from: when they take orders, how long they say and take, and what they sell. */
export function Suppliers() {
  const { data, error } = orderingApi.useListSuppliersQuery();
  const mayKeep = useMay('administrator', 'coordinator', 'stores');
  const currency = useSession()?.currency ?? 'EUR';
  const [open, setOpen] = useState<Supplier | 'new' | null>(null);
  return (
    <>
      <PageHead
        title="Suppliers"
        acts={
          mayKeep && (
            <Button
              onClick={() => {
                setOpen('new');
              }}>
              Add a supplier
            </Button>
          )
        }
      />
      <Leaves label="Stores" of={STORES_LEAVES} />
      <Asked data={data} error={error} />
      {data?.length === 0 && (
        <Empty title="No supplier yet.">
          With their packs, prices and days the book works out what to order from whom, and by when.
        </Empty>
      )}
      {data && data.length > 0 && (
        <Lines className="as-cards" aria-label="Suppliers">
          <thead>
            <tr>
              <th scope="col">Supplier</th>
              <th scope="col">Takes orders</th>
              <th scope="col">On the shelf after</th>
              <th scope="col">Carriage</th>
              <th scope="col">Sells</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            {data.map((s) => (
              <tr key={s.id}>
                <th scope="row">{s.name}</th>
                <td>{weekdaysText(s.weekdays)}</td>
                <td>
                  {plural(s.leadDays, 'day')}
                  {s.learned && (
                    <span className={s.learned.days > s.leadDays + 0.5 ? 'minus' : 'faint'}>
                      {' '}
                      really {s.learned.days} over {plural(s.learned.orders, 'line')}
                      {s.learned.late > 0 && `, ${s.learned.late} late`}
                    </span>
                  )}
                </td>
                <td className="figure">
                  {moneyText(s.carriageMinor, currency)}
                  {s.freeFromMinor !== null && (
                    <span className="faint"> free from {moneyText(s.freeFromMinor, currency)}</span>
                  )}
                  {s.leastMinor > 0 && <span className="faint"> least {moneyText(s.leastMinor, currency)}</span>}
                </td>
                <td>{plural(s.offers.length, 'offer')}</td>
                <td className="keep">
                  {mayKeep && (
                    <button
                      type="button"
                      className="link-button"
                      aria-label={`Edit ${s.name}`}
                      onClick={() => {
                        setOpen(s);
                      }}>
                      edit
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {open !== null && (
        <Suspense>
          <SupplierForm
            supplier={open === 'new' ? null : open}
            onClose={() => {
              setOpen(null);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
