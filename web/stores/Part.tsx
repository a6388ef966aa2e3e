import { Button } from '@mui/material';
import type { PartPage } from '@diurna/contract/stores';
import { someEnginesText } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { fleetApi } from '../fleet/api.ts';
import { storesApi } from './api.ts';
import { useBases, useMay, useSession } from '../app/useBook.ts';
import { clockText, fullDay, priceText, quantityText } from '../ui/format.ts';
import { Asked, Empty, Heads, PageHead, Pager, Waiting, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { KitContents } from './KitContents.tsx';
import { Lots, ShelfMoney } from './Lots.tsx';
import { OnTheWay } from './OnTheWay.tsx';
import { OpenContainers } from './OpenContainers.tsx';
import { OtherNumbers } from './OtherNumbers.tsx';
import { ShelfActs } from './ShelfActs.tsx';
import './stores.css';
import { Box } from '../ui/Box.tsx';

const PartAhead = lazy(() => import('../ordering/PartAhead.tsx').then((m) => ({ default: m.PartAhead })));
const PartForm = lazy(() => import('./PartForm.tsx').then((m) => ({ default: m.PartForm })));
const SIZE = 40;

/** One part: on hand, what it fits, its ledger, and what can be done with it. */
export function Part() {
  const id = Number(useParams().id);
  const { data: part, error } = storesApi.useReadPartQuery(id);
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const bases = useBases();
  const currency = useSession()?.currency ?? 'EUR';
  const mayKeep = useMay('administrator', 'coordinator', 'stores');
  const mayAsk = useMay('administrator', 'coordinator', 'manager', 'stores');
  const [editing, setEditing] = useState(false);
  if (error && !part)
    return problemOf(error)?.status === 404 ? <Empty title="There is no such part." /> : <Wrong error={error} />;
  if (!part) return <Waiting />;
  return (
    <>
      <PageHead
        title={part.number}
        acts={
          mayKeep && (
            <Button
              onClick={() => {
                setEditing(true);
              }}>
              Edit the part
            </Button>
          )
        }>
        {part.name}
      </PageHead>
      <div className="two">
        <section className="block">
          <h2>On hand</h2>
          <Lines>
            <tbody>
              {bases.map((b) => {
                const n = part.onHand.find((h) => h.baseId === b.id)?.quantity ?? 0;
                const kept = part.keptBack.find((h) => h.baseId === b.id)?.quantity ?? 0;
                return (
                  <tr key={b.id}>
                    <td>{b.name}</td>
                    <td>
                      <Place part={part} baseId={b.id} baseName={b.name} mayKeep={mayKeep} />
                    </td>
                    <td className={n <= 0 ? 'num figure minus' : 'num figure'}>
                      {quantityText(n, part.unit)}
                      {n < 0 ? ' below zero: count it' : ''}
                    </td>
                    <td className={kept > n ? 'num minus' : 'num faint'}>
                      {kept > 0
                        ? `${quantityText(Math.round(kept), part.unit)} kept back for open cards${kept > n ? `: ${quantityText(Math.round(kept - n), part.unit)} short` : `, ${quantityText(Math.round(n - kept), part.unit)} free`}`
                        : ''}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </Lines>
          <p className="faint above-s">
            {part.kind}
            {part.priceMinor === null
              ? ''
              : `, ${priceText(part.priceMinor, part.unit, currency)}${part.unit === 'each' ? ' each' : ''}`}
          </p>
          <ShelfMoney part={part} />
        </section>
        <section className="block">
          <h2>Fits</h2>
          {part.fitments.length === 0 && (
            <p className="faint">
              Nothing yet. Say under Edit which models and tasks take it, so that cards and counts know.
            </p>
          )}
          <Lines>
            <tbody>
              {part.fitments.map((f, i) => (
                <tr key={i}>
                  <td>
                    <Link to={`/fleet/models/${f.modelId}`}>
                      {(() => {
                        const m = models.find((x) => x.id === f.modelId);
                        return m ? `${m.maker} ${m.name}` : '';
                      })()}
                    </Link>
                  </td>
                  <td>{TASKS[f.task].word}</td>
                  <td className="num figure">
                    {f.quantity === null ? 'by volume' : quantityText(f.quantity, part.unit)}
                  </td>
                  <td className="faint">{someEnginesText(f)}</td>
                </tr>
              ))}
            </tbody>
          </Lines>
        </section>
      </div>
      <OtherNumbers part={part} />
      {mayKeep && <ShelfActs part={part} />}
      <OpenContainers part={part} />
      <Lots part={part} />
      {mayAsk && (
        <Suspense>
          <PartAhead partId={part.id} />
        </Suspense>
      )}
      <OnTheWay part={part} mayKeep={mayKeep} />
      <KitContents part={part} />
      <Ledger part={part} />
      {editing && (
        <Suspense>
          <PartForm
            part={part}
            onClose={() => {
              setEditing(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}

/** Where it lies at a base; Stores says so in place. */
function Place({
  part,
  baseId,
  baseName,
  mayKeep,
}: {
  part: PartPage;
  baseId: number;
  baseName: string;
  mayKeep: boolean;
}) {
  const place = part.places.find((p) => p.baseId === baseId)?.place ?? '';
  const [text, setText] = useState<string | null>(null);
  const [put, { error, isLoading }] = storesApi.usePutPlaceMutation();
  if (text === null) {
    return (
      <>
        {place && <span>{place}</span>}{' '}
        {mayKeep && (
          <button
            type="button"
            className="link-button"
            aria-label={`${place ? 'change' : 'say where'}: the place at ${baseName}`}
            onClick={() => {
              setText(place);
            }}>
            {place ? 'change' : 'say where'}
          </button>
        )}
      </>
    );
  }
  return (
    <form
      className="place-form"
      onSubmit={(e) => {
        e.preventDefault();
        void put({ id: part.id, baseId, place: text }).then((a) => {
          if (a.data) setText(null);
        });
      }}>
      <Box
        autoFocus
        maxLength={60}
        placeholder="rack, shelf, box"
        aria-label={`Place at ${baseName}`}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setText(null);
        }}
      />
      <Button type="submit" size="small" disabled={isLoading}>
        Keep
      </Button>
      <Wrong error={error} />
    </form>
  );
}

function Ledger({ part }: { part: PartPage }) {
  const [page, setPage] = useState(1);
  const { data, error } = storesApi.useLedgerQuery({ id: part.id, page, size: SIZE });
  if (!data) return <Asked data={data} error={error} />;
  return (
    <section className="block">
      <h2>Ledger</h2>
      {data.rows.length === 0 && <p className="faint">No movement yet. Receive or count the first ones.</p>}
      {data.rows.length > 0 && (
        <Lines>
          <Heads of={['When', 'Base', 'What', { num: 'In or out' }, { num: 'Then on hand' }, 'Who', 'Note']} />
          <tbody>
            {data.rows.map((m) => (
              <tr key={m.id}>
                <td className="faint">{clockText(m.at)}</td>
                <td>{m.baseName}</td>
                <td>
                  {m.jobId ? (
                    <Link to={`/jobs/${m.jobId}`}>{m.reason} on a job</Link>
                  ) : m.takenBy ? (
                    `${m.quantity < 0 ? 'handed to' : 'brought back by'} ${m.takenBy}`
                  ) : (
                    m.reason
                  )}
                  {m.belowZero && <b className="minus"> below zero, marked</b>}
                </td>
                <td className={m.quantity < 0 ? 'num figure' : 'num figure fine'}>
                  {m.quantity > 0 ? '+' : ''}
                  {quantityText(m.quantity, part.unit)}
                </td>
                <td className={m.balance < 0 ? 'num figure minus' : 'num figure'}>
                  {quantityText(m.balance, part.unit)}
                </td>
                <td>{m.by}</td>
                <td className="faint">
                  {[m.note, m.lot && `lot ${m.lot}`, m.expires && `use by ${fullDay(m.expires)}`]
                    .filter(Boolean)
                    .join(', ')}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      <Pager page={page} size={SIZE} total={data.total} turn={setPage} />
    </section>
  );
}
