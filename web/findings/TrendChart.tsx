import { CHART_FONT } from '../app/fonts.ts';
import {
  Chart as ChartJs,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartOptions,
} from 'chart.js';
import type { Trend } from '@diurna/contract/findings';
import {
  COMPRESSION_SPREAD_TEXT,
  compressionSpread,
  kilopascalsOf,
  millilitresOf,
  READINGS,
  spreadPasses,
  type ReadingKind,
} from '@diurna/core/findings';
import { dayFromNumber, dayNumber } from '@diurna/core/calendar';
import { kilopascals, poundForceFeet, round } from '@diurna/core/units';
import { Chart } from 'react-chartjs-2';
import { useAppSelector } from '../app/store.ts';
import { PALETTES } from '../app/palette.ts';
import { fullDay } from '../ui/format.ts';
import './condition.css';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, Tooltip);
const FONT = CHART_FONT;
const PSI = kilopascals(1);

/** A figure in the unit of its curve: pressures in psi, volumes in litres, torques in lbf·ft, the rest as read. */
export function curveValue(kind: ReadingKind, value: { value: number; unit: string }): number | null {
  switch (READINGS[kind].unit) {
    case 'pressure': {
      const kpa = kilopascalsOf(value);
      return kpa === null ? null : round(kpa / PSI, 1);
    }
    case 'volume': {
      const ml = millilitresOf(value);
      return ml === null ? null : round(ml / 1000, 3);
    }
    case 'torque':
      return value.unit === 'N·m' ? round(poundForceFeet(value.value), 1) : value.value;
    case 'gap':
      return value.unit === 'in' ? round(value.value * 25.4, 2) : value.value;
    default:
      return value.value;
  }
}
const UNIT: Partial<Record<NonNullable<(typeof READINGS)[ReadingKind]['unit']>, string>> = {
  pressure: 'psi',
  volume: 'L',
  torque: 'lbf·ft',
  gap: 'mm',
  percent: '%',
};

const pointsOf = (t: Trend) =>
  t.points.flatMap((p) => {
    const y = 'value' in p.value ? curveValue(t.kind, p.value) : null;
    return y === null ? [] : [{ x: dayNumber(p.day), y }];
  });

/** One kind of reading over time: a line for each cylinder, the twin's dashed beside it. */
export function TrendChart({
  kind,
  own,
  twin,
  twinWord,
}: {
  kind: ReadingKind;
  own: readonly Trend[];
  twin: readonly Trend[];
  twinWord: string;
}) {
  const colours = PALETTES[useAppSelector((s) => s.book.mode)];
  const ink = [colours.ink, colours.sea, colours.brass, colours.coral, colours.faint, colours.ink];
  const unit = UNIT[READINGS[kind].unit!] ?? '';
  const name = (t: Trend) => t.part ?? READINGS[kind].word;
  const lines = [...own.map((t, i) => ({ t, i, dash: false })), ...twin.map((t, i) => ({ t, i, dash: true }))].map(
    ({ t, i, dash }) => ({
      label: dash ? `${twinWord} ${name(t)}` : name(t),
      data: pointsOf(t),
      borderColor: ink[i % ink.length]!,
      backgroundColor: ink[i % ink.length]!,
      borderWidth: dash ? 1.2 : 2,
      borderDash: dash ? [5, 4] : [],
      pointRadius: dash ? 1.5 : 3,
      pointStyle: (['circle', 'rect', 'triangle', 'rectRot', 'cross', 'star'] as const)[i % 6]!,
    }),
  );
  const last = own.flatMap((t) =>
    pointsOf(t)
      .slice(-1)
      .map((p) => p.y),
  );
  const spread = kind === 'compression' ? compressionSpread(last) : null;
  const options: ChartOptions<'line'> = {
    animation: false,
    maintainAspectRatio: false,
    parsing: false,
    scales: {
      x: {
        type: 'linear',
        grid: { color: colours.rule },
        ticks: {
          color: colours.faint,
          font: FONT,
          maxTicksLimit: 5,
          maxRotation: 0,
          callback: (v) => fullDay(dayFromNumber(Math.round(Number(v)))),
        },
      },
      y: {
        type: 'linear',
        grid: { color: colours.rule },
        border: { display: false },
        ticks: {
          color: colours.faint,
          font: FONT,
          maxTicksLimit: 5,
          callback: (v) => `${round(Number(v), 3)} ${unit}`,
        },
      },
    },
    plugins: {
      tooltip: {
        displayColors: false,
        callbacks: {
          title: (items) => (items[0] ? fullDay(dayFromNumber(Math.round(items[0].parsed.x ?? 0))) : ''),
          label: (item) => `${item.dataset.label ?? ''}: ${item.parsed.y} ${unit}`,
        },
      },
    },
  };
  const sentence = `${READINGS[kind].word}${own.length > 1 ? `, ${own.length} cylinders` : ''}: last ${last.join(', ')} ${unit}${spread === null ? '' : `, ${round(spread * 100, 1)} % apart${!spreadPasses(spread) ? `, more than ${COMPRESSION_SPREAD_TEXT}` : ''}`}`;
  return (
    <figure className="no-margin">
      <figcaption className={spread !== null && !spreadPasses(spread) ? 'minus' : ''}>
        {sentence}
        {twin.some((t) => t.points.length > 0) && <span className="faint">; dashed: {twinWord}</span>}
      </figcaption>
      <div className="trend-chart">
        <Chart type="line" aria-label={sentence} options={options} data={{ datasets: lines }} />
      </div>
    </figure>
  );
}
