import { Button } from '@mui/material';
import { QRCodeSVG } from 'qrcode.react';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useBases, useMe } from '../app/useBook.ts';
import { fleetApi } from '../fleet/api.ts';
import { storesApi } from '../stores/api.ts';
import { STORES_LEAVES } from '../ordering/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { Asked, Choice, Empty, Entry, Leaves, PageHead, Pager } from '../ui/parts.tsx';
import { Segments } from '../ui/Segments.tsx';
import { labelText, shelfPath } from './place.ts';
import { pagesOf, SHEETS, type LabelSheet } from './sheets.ts';
import './labels.css';

const SIZE = 120;

/** A thing that gets a label. */
interface Label {
  path: string;
  /** In large: what one looks for. */
  name: string;
  lines: string[];
}

const WHAT = ['parts', 'shelves', 'boats', 'engines'] as const;
type What = (typeof WHAT)[number];

/** The labels of one page of things at a base. */
function useLabels(what: What, baseId: number | '', page: number) {
  const parts = storesApi.useListPartsQuery({ page, size: SIZE }, { skip: what !== 'parts' });
  const boats = fleetApi.useListBoatsQuery(
    { page, size: SIZE, ...(baseId !== '' && { baseId }) },
    { skip: what === 'parts' || what === 'shelves' },
  );
  const shelves = storesApi.useCountSheetQuery(
    { baseId: Number(baseId), shelf: '' },
    { skip: what !== 'shelves' || baseId === '' },
  );
  if (what === 'shelves') {
    const places = [...new Set((shelves.data ?? []).flatMap((l) => l.place ?? []))];
    const own = places.slice((page - 1) * SIZE, page * SIZE).map((place) => ({
      path: shelfPath(Number(baseId), place),
      name: place,
      lines: shelves
        .data!.filter((l) => l.place === place)
        .map((l) => l.number)
        .slice(0, 3),
    }));
    return { labels: shelves.data && own, total: places.length, error: shelves.error };
  }
  const labels: Label[] | undefined =
    what === 'parts'
      ? parts.data?.rows.map((p) => ({
          path: `/stores/parts/${p.id}`,
          name: p.number,
          lines: [p.name, p.places.find((x) => x.baseId === baseId)?.place ?? ''].filter(Boolean),
        }))
      : what === 'boats'
        ? boats.data?.rows.map((b) => ({
            path: `/fleet/boats/${b.id}`,
            name: b.name,
            lines: [b.berth ?? ''].filter(Boolean),
          }))
        : boats.data?.rows.flatMap((b) =>
            b.engines.map((e) => ({
              path: `/fleet/engines/${e.id}`,
              name: b.name,
              lines: [e.position === 'single' ? '' : e.position, e.serial].filter(Boolean),
            })),
          );
  const asked = what === 'parts' ? parts : boats;
  return { labels, total: asked.data?.total ?? 0, error: asked.error };
}

/** The printer's paper while labels are shown: as large as they are, without margins. Named pages keep theirs. */
function usePaper(paper: string): void {
  useEffect(() => {
    const rule = new CSSStyleSheet();
    rule.replaceSync(`@page { size: ${paper}; margin: 0 }`);
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, rule];
    return () => {
      document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== rule);
    };
  }, [paper]);
}

/** Labels with a code that opens the thing when it is scanned, on sheets or a roll. */
export function Labels() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const what = WHAT.find((w) => w === params.get('of')) ?? 'parts';
  const [baseId, setBase] = useState<number | ''>(me.baseId ?? bases[0]?.id ?? '');
  const [sheet, setSheet] = useState<LabelSheet>(SHEETS[0]!);
  const [used, setUsed] = useState('0');
  usePaper(sheet.paper);
  const [page, setPage] = useState(1);
  const { labels, total, error } = useLabels(what, baseId, page);
  const pages = pagesOf(labels ?? [], sheet.perPage, Math.max(0, Math.trunc(Number(used)) || 0));
  return (
    <>
      <div className="no-print">
        <PageHead
          title="Labels"
          tools={
            <div className="tools">
              <Segments
                label="Labels of"
                value={what}
                of={WHAT.map((w) => [w, w])}
                onChange={(of: What) => {
                  setParams({ of }, { replace: true });
                  setPage(1);
                }}
              />
              <BaseChoice hideLabel value={baseId} onChange={setBase} />
            </div>
          }
          acts={
            <Button
              variant="contained"
              disabled={!labels || labels.length === 0}
              onClick={() => {
                print();
              }}>
              Print
            </Button>
          }
        />
        <Leaves label="Stores" of={STORES_LEAVES} />
        <div className="tools">
          <Choice
            label="Printed on"
            value={sheet.key}
            options={SHEETS.map((s) => [s.key, s.word])}
            onChange={(key) => {
              setSheet(SHEETS.find((s) => s.key === key) ?? SHEETS[0]!);
            }}
          />
          {sheet.perPage > 1 && <Entry kind="figure" short label="Gone on the sheet" value={used} onType={setUsed} />}
        </div>
        <Asked data={labels} error={error} />
        {labels?.length === 0 && <Empty title="Nothing here to label." />}
      </div>
      <div
        className={`label-pages ${sheet.className}`}
        tabIndex={0}
        role="group"
        aria-label="The sheets, scroll sideways">
        {pages.map((of, i) => (
          <div key={i} className="label-page">
            {of.map((label, k) => (
              <div key={k} className="label">
                {label && (
                  <>
                    <QRCodeSVG
                      value={labelText(location.origin, label.path)}
                      level="M"
                      marginSize={4}
                      title={`Code of ${label.name}`}
                    />
                    <p>
                      <b>{label.name}</b>
                      {label.lines.map((line) => (
                        <span key={line}>{line}</span>
                      ))}
                    </p>
                  </>
                )}
              </div>
            ))}
          </div>
        ))}
      </div>
      <div className="no-print">
        <Pager page={page} size={SIZE} total={total} turn={setPage} />
      </div>
    </>
  );
}
