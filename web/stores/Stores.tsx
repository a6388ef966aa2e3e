import { Button } from '@mui/material';
import { TASKS, TASK_KINDS } from '@diurna/core/service';
import { lazy, Suspense, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { CoverTogether, STORES_LEAVES } from '../ordering/index.ts';
import { storesApi } from './api.ts';
import { useBases, useMay, useMe, useSession } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural, priceText, quantityText } from '../ui/format.ts';
import { Asked, Empty, Entry, Leaves, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import { Wanted } from './Wanted.tsx';
import './stores.css';

const PartForm = lazy(() => import('./PartForm.tsx').then((m) => ({ default: m.PartForm })));
const SIZE = 60;

/** By engine model: what the shelf can still do. By part: what is on hand. */
export function Stores() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const baseId = params.get('base') === 'all' ? '' : Number(params.get('base') ?? me.baseId ?? '') || '';
  const mayKeep = useMay('administrator', 'coordinator', 'stores');
  const mayBuy = useMay('administrator', 'coordinator', 'manager', 'stores');
  const [adding, setAdding] = useState(false);
  const base = bases.find((b) => b.id === baseId);
  return (
    <>
      <PageHead
        title="Stores"
        acts={
          <>
            <BaseChoice
              hideLabel
              value={baseId}
              onChange={(v) => {
                setParams({ base: v === '' ? 'all' : String(v) }, { replace: true });
              }}
              none="All bases together"
            />
            {mayKeep && (
              <Button
                onClick={() => {
                  setAdding(true);
                }}>
                Add a part
              </Button>
            )}
          </>
        }>
        {base ? base.name : 'All bases together'}
      </PageHead>
      {mayBuy && <Leaves label="Stores" of={STORES_LEAVES} />}
      <Wanted baseId={baseId} mayKeep={mayKeep} />
      <Shelves baseId={baseId} />
      <Parts baseId={baseId} />
      {adding && (
        <Suspense>
          <PartForm
            onClose={() => {
              setAdding(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}

/** How many services of each kind the shelf can still do, against how many come up. */
function Shelves({ baseId }: { baseId: number | '' }) {
  const { data, error } = storesApi.useModelShelvesQuery(baseId === '' ? {} : { baseId });
  // Kinds of work some model here has in its programme or a part for.
  const shelved = TASK_KINDS.filter((t) => data?.some((m) => m.tasks.some((r) => r.task === t)));
  return (
    <section className="block">
      <h2>Services the shelf can still do</h2>
      <Asked data={data} error={error} />
      {baseId !== '' && <CoverTogether baseId={baseId} />}
      {data?.length === 0 && (
        <Empty title="No engines at this base.">Its models come here with the first engine.</Empty>
      )}
      {data && data.length > 0 && (
        <Lines className="shelves" aria-label="What the shelves still do, by model">
          <thead>
            <tr>
              <th scope="col">Model</th>
              {shelved.map((t) => (
                <th scope="col" key={t}>
                  <span className="task">
                    <TaskGlyph task={t} silent size={19} /> {TASKS[t].word}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((m) => (
              <tr key={m.modelId}>
                <th scope="row">
                  <Link to={`/fleet/models/${m.modelId}`}>{m.modelName}</Link>{' '}
                  <span className="faint">{plural(m.engines, 'engine')}</span>
                </th>
                {shelved.map((t) => {
                  const rows = m.tasks.filter((r) => r.task === t);
                  if (rows.length === 0)
                    return (
                      <td key={t} className="faint">
                        {m.stroke === 2 && TASKS[t].fourStrokeOnly ? 'not on a two-stroke' : '–'}
                      </td>
                    );
                  return (
                    <td key={t}>
                      {rows.map((r) => {
                        const short = r.count !== null && r.count < r.dueSoon && rows.length === 1;
                        return (
                          <div key={r.serials} className={short || r.count === 0 ? 'minus' : ''}>
                            <b className="figure">{r.count ?? '?'}</b>
                            {r.serials !== 'all serials' && <span className="serials"> {r.serials}</span>}
                            {r.count === null && <span className="serials"> no part known</span>}
                            {r.count !== null && (r.count === 0 || short) && r.limitedBy && (
                              <Link className="serials" to={`/stores/parts/${r.limitedBy.id}`}>
                                {' '}
                                {r.limitedBy.number}
                              </Link>
                            )}
                          </div>
                        );
                      })}
                      {rows[0]!.dueSoon > 0 && <span className="serials faint">{rows[0]!.dueSoon} come up</span>}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </section>
  );
}

function Parts({ baseId }: { baseId: number | '' }) {
  const bases = useBases();
  const currency = useSession()?.currency ?? 'EUR';
  const [q, setQ] = useState('');
  const [page, setPage] = useState(1);
  const { data, error } = storesApi.useListPartsQuery({ page, size: SIZE, ...(q.trim() && { q: q.trim() }) });
  const shown = baseId === '' ? bases : bases.filter((b) => b.id === baseId);
  return (
    <section className="block">
      <h2>Parts</h2>
      <div className="tools">
        <Entry
          label="Number or name"
          value={q}
          onType={(text) => {
            setQ(text);
            setPage(1);
          }}
        />
      </div>
      <Wrong error={error} />
      {data?.rows.length === 0 && (
        <Empty title={q ? 'No part is called that.' : 'The shelf list is empty.'}>
          {q ? 'Try a piece of its number.' : 'Read a parts file in under Fleet, Files, or add the first part above.'}
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <thead>
            <tr>
              <th scope="col">Number</th>
              <th scope="col">Part</th>
              <th scope="col">Kind</th>
              {shown.map((b) => (
                <th scope="col" className="num" key={b.id}>
                  {b.name}
                </th>
              ))}
              <th scope="col" className="num">
                Price
              </th>
              <th scope="col">Fits</th>
            </tr>
          </thead>
          <tbody>
            {data.rows.map((p) => (
              <tr key={p.id}>
                <td>
                  <Link to={`/stores/parts/${p.id}`}>
                    <b>{p.number}</b>
                  </Link>
                </td>
                <td>{p.name}</td>
                <td className="faint">{p.kind}</td>
                {shown.map((b) => {
                  const n = p.onHand.find((h) => h.baseId === b.id)?.quantity ?? 0;
                  return (
                    <td key={b.id} className={n <= 0 ? 'num figure minus' : 'num figure'}>
                      {quantityText(n, p.unit)}
                      {(() => {
                        const place = p.places.find((x) => x.baseId === b.id)?.place;
                        return place && <span className="place">{place}</span>;
                      })()}
                    </td>
                  );
                })}
                <td className="num figure faint">
                  {p.priceMinor !== null && priceText(p.priceMinor, p.unit, currency)}
                </td>
                <td className="faint">
                  {p.fitments.length === 0
                    ? 'nothing yet'
                    : plural(new Set(p.fitments.map((f) => f.modelId)).size, 'model')}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
    </section>
  );
}
