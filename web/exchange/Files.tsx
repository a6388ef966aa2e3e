import type { DayOrder } from '@diurna/core/calendar';
import { Button } from '@mui/material';
import { COLUMNS, FILE_KINDS, type FileKind } from '@diurna/contract/exchange';
import { useState } from 'react';
import { orderingApi } from '../ordering/api.ts';
import { exchangeApi } from './api.ts';
import { Matching } from './Matching.tsx';
import { Preview } from './Preview.tsx';
import { csvOfSpreadsheet, isSpreadsheet, spreadsheetOfCsv } from './spreadsheet.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Choice, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { chooseAgain, saveFile } from '../ui/save.ts';
import { FLEET_LEAVES } from '../fleet/index.ts';
import './files.css';
import { Box } from '../ui/Box.tsx';

const WORD: Record<FileKind, [string, string]> = {
  fleet: ['Fleet', 'bases, boats, engine models and engines'],
  hours: ['Hours', 'readings of the meters'],
  parts: ['Parts', 'parts, what they fit, and counts on the shelf'],
  links: ['Part links', 'which number came after which, and what is equivalent'],
  suppliers: ['Suppliers', 'who sells parts, on which days, and what carriage costs'],
  prices: ['Prices', 'a supplier’s price list: numbers, packs, and prices by how many'],
  counts: ['Counts', 'what was counted on the shelves; the difference is booked'],
  service: ['Service history', 'work done before'],
  hires: ['Hires', 'when boats go out and come back'],
};
/** Where it is seen what a file brought, of those that make nothing due. */
const SHOWS: Partial<Record<FileKind, { to: string; word: string }>> = {
  parts: { to: '/stores', word: 'See the shelves' },
  links: { to: '/stores', word: 'See the shelves' },
  counts: { to: '/stores', word: 'See the shelves' },
  suppliers: { to: '/stores/suppliers', word: 'See the suppliers' },
  prices: { to: '/stores/suppliers', word: 'See the suppliers' },
};
const query = (match: Record<string, string>) => new URLSearchParams(match).toString();

/** What is asked of a file: its kind and text, whose it is, and how its columns and days are meant. */
interface Asked {
  kind: FileKind;
  text: string;
  supplierId?: number;
  days?: DayOrder;
  match?: string;
}

/** Files in, with a look before anything is written; the same files out. */
export function Files() {
  const maySteer = useMay('administrator', 'coordinator');
  const mayRead = useMay('administrator', 'coordinator', 'manager');
  return (
    <>
      <PageHead title="Files in and out">CSV (UTF-8) or a spreadsheet; the first line names the columns.</PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      {maySteer && <ReadIn />}
      {mayRead && <WriteOut />}
    </>
  );
}

/** What a file is, whose, and the file. */
function WhatIsIn({
  kind,
  suppliers,
  supplierId,
  onKind,
  onSupplier,
  onFile,
}: {
  kind: FileKind;
  suppliers: readonly { id: number; name: string }[];
  supplierId: number | undefined;
  onKind: (kind: FileKind) => void;
  onSupplier: (id: number | undefined) => void;
  onFile: (file: File | undefined) => void;
}) {
  return (
    <>
      <div className="tools">
        <Choice
          label="What is in it"
          value={kind}
          onChange={(v) => {
            if (v) onKind(v);
          }}
          options={FILE_KINDS.map((k): [FileKind, string] => [k, WORD[k][0]])}
        />
        {kind === 'prices' && (
          <Choice<number>
            label="Whose price list"
            value={supplierId ?? ''}
            options={[['', 'as its lines name'], ...suppliers.map((s): [number, string] => [s.id, s.name])]}
            onChange={(id) => {
              onSupplier(id === '' ? undefined : id);
            }}
          />
        )}
        <label className="choice">
          <span className="choice-label">File</span>
          <Box
            key={`${kind} ${supplierId}`}
            type="file"
            onClick={chooseAgain}
            accept=".csv,text/csv,.xlsx"
            onChange={(e) => onFile(e.target.files?.[0])}
          />
        </label>
      </div>
      <p className="faint small">
        {WORD[kind][1][0]!.toUpperCase()}
        {WORD[kind][1].slice(1)}. Needs the columns <code>{COLUMNS[kind].required.join(', ')}</code>
        {COLUMNS[kind].optional.length > 0 && (
          <>
            ; knows also <code>{COLUMNS[kind].optional.join(', ')}</code>
          </>
        )}
        . Other names are matched by hand, once.
      </p>
    </>
  );
}

function ReadIn() {
  const [kind, setKind] = useState<FileKind>('fleet');
  const [supplierId, setSupplier] = useState<number>();
  const [file, setFile] = useState<{ name: string; asked: Asked } | null>(null);
  const [broken, setBroken] = useState<Error>();
  const [matching, setMatching] = useState(false);
  const [preview, previewing] = exchangeApi.usePreviewImportMutation();
  const [importFile, importing] = exchangeApi.useImportFileMutation();
  const suppliers = orderingApi.useListSuppliersQuery(undefined, { skip: kind !== 'prices' }).data ?? [];
  const dispatch = useAppDispatch();
  const result = importing.data ?? previewing.data;
  const busy = importing.isLoading || previewing.isLoading;

  const forget = () => {
    setFile(null);
    setBroken(undefined);
    setMatching(false);
    previewing.reset();
    importing.reset();
  };
  const ask = (name: string, asked: Asked) => {
    importing.reset();
    setFile({ name, asked });
    return preview(asked);
  };
  const look = async (chosen: File | undefined) => {
    forget();
    if (!chosen) return;
    try {
      const text = isSpreadsheet(chosen) ? await csvOfSpreadsheet(chosen) : await chosen.text();
      await ask(chosen.name, { kind, text, ...(supplierId !== undefined && { supplierId }) });
    } catch (error) {
      setBroken(error as Error);
    }
  };
  const write = async () => {
    if (!file) return;
    const answer = await importFile(file.asked);
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${file.name} is in the book: ${answer.data.counts.add} new, ${answer.data.counts.change} changed.`,
          link: SHOWS[kind] ?? { to: '/due', word: 'See what is due' },
        }),
      );
  };
  const whose = suppliers.find((s) => s.id === supplierId)?.name;

  return (
    <section className="block">
      <h2>Read a file in</h2>
      <p className="faint">
        In this order: fleet, hours, parts, part links, suppliers, prices, counts, service history, hires.
      </p>
      <WhatIsIn
        kind={kind}
        suppliers={suppliers}
        supplierId={supplierId}
        onKind={(k) => {
          setKind(k);
          setSupplier(undefined);
          forget();
        }}
        onSupplier={(id) => {
          setSupplier(id);
          forget();
        }}
        onFile={(chosen) => void look(chosen)}
      />
      <Wrong error={broken ?? previewing.error ?? importing.error} />
      {previewing.isLoading && <p role="status">Reading the file ...</p>}
      {result && file && !result.written && (matching || result.missing.length > 0) && (
        <Matching
          key={file.name}
          result={result}
          whose={whose ? `the price lists of ${whose}` : `files of ${WORD[kind][0].toLowerCase()}`}
          busy={busy}
          onMatch={(match) => {
            setMatching(true);
            void ask(file.name, { ...file.asked, match: query(match) });
          }}
        />
      )}
      {result && file && result.missing.length === 0 && (
        <>
          {!matching && !result.written && (
            <Button
              onClick={() => {
                setMatching(true);
              }}>
              Columns
              {Object.keys(result.match).length > 0 && `: ${Object.keys(result.match).length} matched`}
            </Button>
          )}
          <Preview
            result={result}
            name={file.name}
            onWrite={() => void write()}
            onDays={(days) => void ask(file.name, { ...file.asked, days })}
            busy={busy}
          />
        </>
      )}
    </section>
  );
}

function WriteOut() {
  const [wrong, setWrong] = useState<Error>();
  const saveSheet = async (kind: FileKind) => {
    setWrong(undefined);
    try {
      const reply = await fetch(`/api/exchange/${kind}`);
      if (!reply.ok) throw new Error('The book did not give the file. Try again.');
      const sheet = await spreadsheetOfCsv(await reply.text());
      saveFile(`diurna-${kind}.xlsx`, [sheet], sheet.type);
    } catch (error) {
      setWrong(error as Error);
    }
  };
  return (
    <section className="block">
      <h2>Write a file out</h2>
      <p className="faint">The same columns, so that a file written here can be read in elsewhere.</p>
      <Wrong error={wrong} />
      <Lines className="files-out">
        <thead>
          <tr>
            <th scope="col">File</th>
            <th scope="col">What is in it</th>
            <th scope="col">As</th>
          </tr>
        </thead>
        <tbody>
          {FILE_KINDS.map((k) => (
            <tr key={k}>
              <th scope="row">{WORD[k][0]}</th>
              <td>{WORD[k][1]}</td>
              <td>
                <Button
                  component="a"
                  href={`/api/exchange/${k}`}
                  download={`diurna-${k}.csv`}
                  aria-label={`${WORD[k][0]}, CSV`}>
                  CSV
                </Button>{' '}
                <Button aria-label={`${WORD[k][0]}, spreadsheet`} onClick={() => void saveSheet(k)}>
                  Spreadsheet
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}
