import { DAY_ORDERS, type DayOrder } from '@diurna/core/calendar';
import { Button } from '@mui/material';
import { COLUMNS, FILE_KINDS, type FileKind, type ImportResult } from '@diurna/contract/exchange';
import { useState } from 'react';
import { exchangeApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { plural } from '../ui/format.ts';
import { Choice, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { chooseAgain } from '../ui/save.ts';
import { Lines } from '../ui/Lines.tsx';
import { FLEET_LEAVES } from '../fleet/index.ts';
import './files.css';
import { Box } from '../ui/Box.tsx';

const WORD: Record<FileKind, [string, string]> = {
  fleet: ['Fleet', 'bases, boats, engine models and engines'],
  hours: ['Hours', 'readings of the meters'],
  parts: ['Parts', 'parts, what they fit, and counts on the shelf'],
  service: ['Service history', 'work done before'],
  hires: ['Hires', 'when boats go out and come back'],
};
const ORDER_WORD: Record<DayOrder, string> = { 'day-first': 'the day first', 'month-first': 'the month first' };
const DOES = { add: 'new', change: 'changes', same: 'in the book', faulty: 'faulty' } as const;

/** CSV files in, with a look before anything is written; the same files out. */
export function Files() {
  const maySteer = useMay('administrator', 'coordinator');
  const mayRead = useMay('administrator', 'coordinator', 'manager');
  const [kind, setKind] = useState<FileKind>('fleet');
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, previewing] = exchangeApi.usePreviewImportMutation();
  const [importFile, importing] = exchangeApi.useImportFileMutation();
  const dispatch = useAppDispatch();
  const result = importing.data ?? previewing.data;

  const [days, setDays] = useState<DayOrder>();
  const look = async (chosen: File | undefined, as: FileKind) => {
    importing.reset();
    previewing.reset();
    setDays(undefined);
    if (!chosen) return;
    const text = await chosen.text();
    setFile({ name: chosen.name, text });
    await preview({ kind: as, text });
  };
  const readAs = (order: DayOrder) => {
    if (!file) return;
    setDays(order);
    void preview({ kind, text: file.text, days: order });
  };
  const write = async () => {
    if (!file) return;
    const answer = await importFile({ kind, text: file.text, ...(days && { days }) });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${file.name} is in the book: ${answer.data.counts.add} new, ${answer.data.counts.change} changed.`,
          link: { to: '/due', word: 'See what is due' },
        }),
      );
  };

  return (
    <>
      <PageHead title="Files in and out">
        CSV, UTF-8, the first line names the columns. Read them in this order: fleet, hours, parts, service history,
        hires.
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      {maySteer && (
        <section className="block">
          <h2>Read a file in</h2>
          <div className="tools">
            <Choice
              label="What is in it"
              value={kind}
              onChange={(v) => {
                if (v) {
                  setKind(v);
                  setFile(null);
                  previewing.reset();
                  importing.reset();
                }
              }}
              options={FILE_KINDS.map((k): [FileKind, string] => [k, WORD[k][0]])}
            />
            <label className="choice">
              <span className="choice-label">File</span>
              <Box
                key={kind}
                type="file"
                onClick={chooseAgain}
                accept=".csv,text/csv"
                onChange={(e) => void look(e.target.files?.[0], kind)}
              />
            </label>
          </div>
          <p className="faint small">
            {WORD[kind][1][0]!.toUpperCase()}
            {WORD[kind][1].slice(1)}. Needs the columns <code>{COLUMNS[kind].required.join(', ')}</code>; knows also{' '}
            <code>{COLUMNS[kind].optional.join(', ')}</code>.
          </p>
          <Wrong error={previewing.error ?? importing.error} />
          {previewing.isLoading && <p role="status">Reading the file ...</p>}
          {result && file && (
            <Preview
              result={result}
              name={file.name}
              onWrite={() => void write()}
              onDays={readAs}
              busy={importing.isLoading || previewing.isLoading}
            />
          )}
        </section>
      )}
      {mayRead && (
        <section className="block">
          <h2>Write a file out</h2>
          <p className="faint">The same columns, so that a file written here can be read in elsewhere.</p>
          <div className="tools">
            {FILE_KINDS.map((k) => (
              <Button key={k} component="a" href={`/api/exchange/${k}`} download={`diurna-${k}.csv`}>
                {WORD[k][0]}
              </Button>
            ))}
          </div>
        </section>
      )}
    </>
  );
}

function Preview({
  result,
  name,
  onWrite,
  onDays,
  busy,
}: {
  result: ImportResult;
  name: string;
  onWrite: () => void;
  onDays: (order: DayOrder) => void;
  busy: boolean;
}) {
  const { counts } = result;
  const total = counts.add + counts.change + counts.same + counts.faulty;
  // A column the file lacks can be what is wrong: it is shown too.
  const columns = [...new Set([...result.columns, ...result.rows.flatMap((r) => r.faults.map((f) => f.column))])];
  return (
    <div>
      <p role="status" className="preview-sum">
        <b>{name}</b>: {plural(total, 'row')}, {counts.add} new, {counts.change}{' '}
        {result.written ? 'changed' : 'to change'}, {counts.same} in the book already
        {counts.faulty > 0 && <b className="minus">, {counts.faulty} faulty</b>}
        {result.written ? '. Written.' : '.'}
      </p>
      {result.ignored.length > 0 && (
        <p className="faint">Columns the book does not know and leaves out: {result.ignored.join(', ')}.</p>
      )}
      {!result.written && counts.faulty > 0 && (
        <p>Nothing is written while a cell is faulty. Mend the marked cells in the file and choose it again.</p>
      )}
      {result.days && !result.written && (
        <div className="tools">
          <Choice<DayOrder>
            label={`Days like ${result.days.example} have`}
            value={result.days.sure ? result.days.order : ''}
            options={[
              ...(result.days.sure ? [] : [['', 'which first?'] as ['', string]]),
              ...DAY_ORDERS.map((o): [DayOrder, string] => [o, ORDER_WORD[o]]),
            ]}
            onChange={(order) => {
              if (order !== '') onDays(order);
            }}
          />
          {!result.days.sure && (
            <p role="status">Nothing in the file tells, and every day of it can be read both ways: say which.</p>
          )}
        </div>
      )}
      {!result.written &&
        counts.faulty === 0 &&
        (result.days?.sure ?? true) &&
        (counts.add + counts.change > 0 ? (
          <Button variant="contained" color="primary" disabled={busy} onClick={onWrite}>
            Write {plural(counts.add + counts.change, 'row')} into the book
          </Button>
        ) : (
          <p>Everything in this file is in the book already.</p>
        ))}
      <Lines className="preview">
        <thead>
          <tr>
            <th scope="col" className="num">
              Line
            </th>
            <th scope="col">Row</th>
            {columns.map((c) => (
              <th scope="col" key={c}>
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {result.rows.slice(0, 200).map((row) => (
            <tr key={row.line} className={row.does}>
              <td className="num figure">{row.line}</td>
              <td>{DOES[row.does]}</td>
              {columns.map((c) => {
                const faults = row.faults.filter((f) => f.column === c);
                return (
                  <td key={c} className={faults.length > 0 ? 'faulty-cell' : ''}>
                    {row.cells[c]}
                    {row.read[c] && <span className="cell-read">read as {row.read[c]}</span>}
                    {faults.map((f) => (
                      <span key={f.text} className="cell-fault">
                        {f.text}
                      </span>
                    ))}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Lines>
      {result.rows.length < total || result.rows.length > 200 ? (
        <p className="faint small">
          Shown: the first {Math.min(200, result.rows.length)} of {total} rows, faulty ones first.
        </p>
      ) : null}
    </div>
  );
}
