import { Button } from '@mui/material';
import { WASTE_STREAMS, wasteCounted, type WasteStream } from '@diurna/core/findings';
import { useState } from 'react';
import { Link } from 'react-router';
import { findingsApi } from '../findings/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useMe } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, quantityText } from '../ui/format.ts';
import { Asked, Choice, Entry, Heads, Leaves, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { parseAmount } from '@diurna/core/units';
import { useRecordLeaves } from './leaves.ts';

const amount = (stream: WasteStream, quantity: number) =>
  wasteCounted(stream) ? `${quantity}` : quantityText(quantity, 'mL');

/** What came out of engines, by stream and base: what stands in the store, what was collected, card by card. */
export function UsedOil() {
  const [baseId, setBaseId] = useState<number | ''>('');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [page, setPage] = useState(1);
  const { data, error } = findingsApi.useListWasteQuery({
    page,
    size: 50,
    ...(baseId !== '' && { baseId }),
    ...(from && { from }),
    ...(to && { to }),
  });
  const may = useMay('administrator', 'coordinator', 'stores');
  return (
    <>
      <PageHead title="Used oil and waste">
        By stream, as each card took it out. Oil, fuel, filters and rags go to their own waste; local codes say how.
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <div className="tools">
        <BaseChoice
          value={baseId}
          onChange={(id) => {
            setBaseId(id);
            setPage(1);
          }}
          none="All bases"
        />
        <Entry
          kind="date"
          label="From"
          value={from}
          onType={(text) => {
            setFrom(text);
            setPage(1);
          }}
        />
        <Entry
          kind="date"
          label="To"
          value={to}
          onType={(text) => {
            setTo(text);
            setPage(1);
          }}
        />
      </div>
      <Asked data={data} error={error} />
      {data && (
        <>
          <div className="two">
            <Totals title="In the store now" rows={data.store} none="Nothing stands in the waste store." />
            <Totals
              title={from || to ? 'Taken out in these days' : 'Taken out, all told'}
              rows={data.totals}
              none="No card has booked waste in these days."
            />
          </div>
          {may && <Collected />}
          <section className="block">
            <h2>Entries</h2>
            {data.rows.length === 0 && <p className="faint">Each finished card books what it took out here.</p>}
            {data.rows.length > 0 && (
              <Lines>
                <Heads of={['Day', 'Stream', { num: 'Quantity' }, 'Base', 'From', 'By']} />
                <tbody>
                  {data.rows.map((w) => (
                    <tr key={w.id}>
                      <td className="faint">{fullDay(w.day)}</td>
                      <th scope="row">{w.stream}</th>
                      <td className="num figure">
                        {amount(w.stream, w.quantity)}
                        {!w.measured && <span className="faint"> by the label</span>}
                      </td>
                      <td>{w.baseName}</td>
                      <td>
                        {w.jobId ? <Link to={`/jobs/${w.jobId}`}>{w.boatName}</Link> : 'collected'}
                        {w.note && <span className="faint"> {w.note}</span>}
                      </td>
                      <td>{w.by}</td>
                    </tr>
                  ))}
                </tbody>
              </Lines>
            )}
            <Pager page={page} size={50} total={data.total} turn={setPage} />
          </section>
        </>
      )}
    </>
  );
}

function Totals({
  title,
  rows,
  none,
}: {
  title: string;
  rows: { baseId: number; baseName: string; stream: WasteStream; quantity: number }[];
  none: string;
}) {
  return (
    <section className="block">
      <h2>{title}</h2>
      {rows.length === 0 && <p className="faint">{none}</p>}
      {rows.length > 0 && (
        <Lines>
          <tbody>
            {rows.map((r) => (
              <tr key={`${r.baseId} ${r.stream}`}>
                <th scope="row">{r.baseName}</th>
                <td>{r.stream}</td>
                <td className="num figure">{amount(r.stream, r.quantity)}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </section>
  );
}

/** The collector was here: what he took is written down with his paper. */
function Collected() {
  const me = useMe();
  const [baseId, setBaseId] = useState<number | ''>(me.baseId ?? '');
  const [stream, setStream] = useState<WasteStream | ''>('used oil');
  const [text, setText] = useState('');
  const [note, setNote] = useState('');
  const [take, { isLoading, error }] = findingsApi.useTakeWasteAwayMutation();
  const dispatch = useAppDispatch();
  const n = parseAmount(text);
  const counted = stream !== '' && wasteCounted(stream);
  return (
    <form
      className="block"
      onSubmit={(e) => {
        e.preventDefault();
        if (n === null || baseId === '' || stream === '') return;
        void take({ baseId, stream, quantity: counted ? n : Math.round(n * 1000), note: note.trim() }).then((a) => {
          if (a.data) {
            setText('');
            setNote('');
            dispatch(say({ tone: 'done', text: 'Written down: collected.' }));
          }
        });
      }}>
      <h2>Collected</h2>
      <div className="tools">
        <BaseChoice label="From" value={baseId} onChange={setBaseId} none="which base" />
        <Choice<WasteStream>
          label="Stream"
          value={stream}
          onChange={setStream}
          options={WASTE_STREAMS.map((s): [WasteStream, string] => [s, s])}
        />
        <Entry kind="figure" short label={counted ? 'Pieces' : 'Litres'} value={text} onType={setText} />
        <Entry label="By whom, which paper" maxLength={300} value={note} onType={setNote} />
        <Button
          type="submit"
          disabled={n === null || n <= 0 || baseId === '' || stream === '' || note.trim().length < 3 || isLoading}>
          Write it down
        </Button>
      </div>
      <Wrong error={error} />
    </form>
  );
}
