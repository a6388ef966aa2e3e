import type { OrderBook } from '@diurna/contract/ordering';
import { itemId, reorderOf } from '@diurna/core/ordering';
import { shortOn } from '@diurna/core/stores';
import {
  Chart as ChartJs,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartOptions,
} from 'chart.js';
import { useState } from 'react';
import { Chart } from 'react-chartjs-2';
import { CHART_FONT } from '../app/fonts.ts';
import { PALETTES } from '../app/palette.ts';
import { useAppSelector } from '../app/store.ts';
import { useBases, useMe } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural, quantityText, shortDay } from '../ui/format.ts';
import { Asked } from '../ui/parts.tsx';
import { orderingApi } from './api.ts';
import { dayAt } from './words.ts';
import './ordering.css';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, Tooltip);
const DAYS = 42;

type Row = OrderBook['parts'][number];

/** What a part's shelf likely comes to, day by day, and when it runs short. */
export function PartAhead({ partId }: { partId: number }) {
  const me = useMe();
  const bases = useBases();
  const [baseId, setBase] = useState<number | ''>(me.baseId ?? bases[0]?.id ?? '');
  const { data, error } = orderingApi.useReadOrderBookQuery(
    { baseId: Number(baseId), days: DAYS },
    { skip: baseId === '' },
  );
  const row = data?.parts.find((p) => p.partId === partId);
  return (
    <section className="block" aria-label="Ahead">
      <h2>Ahead</h2>
      <div className="tools">
        <BaseChoice hideLabel value={baseId} onChange={setBase} />
      </div>
      {baseId !== '' && <Asked data={data} error={error} />}
      {data && !row && <p className="faint">Nothing here takes it within {DAYS} days.</p>}
      {data && row && <Ahead book={data} row={row} />}
    </section>
  );
}

/** When a shelf runs short, in words. */
function shortText(book: OrderBook, row: Row): string {
  const likely = shortOn(row.median, row.stock);
  const perhaps = shortOn(row.planned, row.stock);
  if (likely !== null) return `Likely short from ${shortDay(dayAt(book, likely))} on, without an order.`;
  if (perhaps !== null)
    return `Likely lasts for ${DAYS} days; in one case of twenty it is short from ${shortDay(dayAt(book, perhaps))} on.`;
  return `Lasts for ${DAYS} days.`;
}

function Ahead({ book, row }: { book: OrderBook; row: Row }) {
  const colours = PALETTES[useAppSelector((s) => s.book.mode)];
  const scale = row.unit === 'mL' ? 1000 : 1;
  const line = (taken: number[]) => taken.map((n, d) => ({ x: d, y: (row.stock[d]! - n) / scale }));
  const options: ChartOptions<'line'> = {
    animation: false,
    maintainAspectRatio: false,
    parsing: false,
    scales: {
      x: {
        type: 'linear',
        max: DAYS - 1,
        grid: { color: colours.rule },
        ticks: {
          color: colours.faint,
          font: CHART_FONT,
          maxTicksLimit: 7,
          maxRotation: 0,
          callback: (v) => shortDay(dayAt(book, Math.round(Number(v)))),
        },
      },
      y: {
        type: 'linear',
        // Below nothing the shelf owes: that line is the one to see.
        grid: { color: (tick) => (tick.tick.value === 0 ? colours.ink : colours.rule) },
        border: { display: false },
        ticks: {
          color: colours.faint,
          font: CHART_FONT,
          maxTicksLimit: 6,
          callback: (v) => (row.unit === 'mL' ? `${Number(v)} L` : Number.isInteger(Number(v)) ? String(v) : ''),
        },
      },
    },
    plugins: {
      tooltip: {
        displayColors: false,
        callbacks: {
          title: (items) => (items[0] ? shortDay(dayAt(book, Math.round(items[0].parsed.x ?? 0))) : ''),
          label: (item) =>
            `${item.dataset.label ?? ''}: ${quantityText(Math.round((item.parsed.y ?? 0) * scale), row.unit)}`,
        },
      },
    },
  };
  const sentence = shortText(book, row);
  const reorder = reorderOf(book.problem, itemId(row.partId), row);
  const wants = [
    row.sure.length > 0 ? `${plural(row.sure.length, 'card')} will take it` : null,
    row.likely > 0 ? `${plural(row.likely, 'engine')} likely due` : null,
  ].filter((t) => t !== null);
  return (
    <figure className="no-margin">
      <figcaption className={shortOn(row.median, row.stock) === null ? '' : 'minus'}>
        {sentence} {wants.length > 0 && <span className="faint">{wants.join(', ')}.</span>}{' '}
        <span className="faint">Dashed: one case in twenty is below.</span>
        {reorder && (
          <span className="block-line">
            By a reorder point instead: <b className="figure">{quantityText(reorder.lot, row.unit)}</b> from{' '}
            {book.names.suppliers[reorder.supplier]?.name} when it falls to{' '}
            <b className="figure">{quantityText(Math.ceil(reorder.at), row.unit)}</b> (dotted); that may take{' '}
            {plural(reorder.days, 'day')}.
          </span>
        )}
      </figcaption>
      <div className="ahead-chart">
        <Chart
          type="line"
          aria-label={sentence}
          options={options}
          data={{
            datasets: [
              {
                label: 'likely',
                data: line(row.median),
                stepped: 'before',
                borderColor: colours.sea,
                backgroundColor: colours.sea,
                borderWidth: 2.5,
                pointRadius: 0,
              },
              {
                label: 'one case in twenty',
                data: line(row.planned),
                stepped: 'before',
                borderColor: colours.coral,
                backgroundColor: colours.coral,
                borderWidth: 1.5,
                borderDash: [5, 4],
                pointRadius: 0,
              },
              ...(reorder
                ? [
                    {
                      label: 'reorder point',
                      data: [0, DAYS - 1].map((x) => ({ x, y: reorder.at / scale })),
                      borderColor: colours.faint,
                      backgroundColor: colours.faint,
                      borderWidth: 1.5,
                      borderDash: [1, 4],
                      pointRadius: 0,
                    },
                  ]
                : []),
            ],
          }}
        />
      </div>
    </figure>
  );
}
