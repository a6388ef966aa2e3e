import { CHART_FONT } from '../app/fonts.ts';
import {
  Chart as ChartJs,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartOptions,
  type Plugin,
} from 'chart.js';
import type { UsageCurve } from '@diurna/contract/usage';
import { dayFromNumber, dayNumber } from '@diurna/core/calendar';
import { TASKS } from '@diurna/core/service';
import { useMemo } from 'react';
import { Chart } from 'react-chartjs-2';
import { usageApi } from './api.ts';
import { useAppSelector } from '../app/store.ts';
import { PALETTES } from '../app/palette.ts';
import { fullDay, hoursText, shortDay } from '../ui/format.ts';
import '../ui/curve.css';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, Filler, Tooltip);

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });
const monthText = (n: number) => {
  const day = dayFromNumber(n);
  return day.slice(5, 7) === '01' ? day.slice(0, 4) : MONTH.format(new Date(`${day}T12:00:00Z`));
};
const FONT = CHART_FONT;
const SHOWN_BACK = 370;

/**
 * Hours against time: what was read, what is ahead with its spread, the limits above it, and each week's hours below.
 */
export function EngineCurve({ id }: { id: number }) {
  const { data } = usageApi.useUsageCurveQuery(id);
  const mode = useAppSelector((s) => s.book.mode);
  if (!data || (data.read.length < 2 && data.ahead.length === 0)) return null;
  return <Curve curve={data} colours={PALETTES[mode]} />;
}

function Curve({ curve, colours }: { curve: UsageCurve; colours: (typeof PALETTES)['day'] }) {
  const today = dayNumber(curve.today);
  const shown = useMemo(
    () => ({
      read: curve.read.map((r) => ({ x: dayNumber(r.day), y: r.hours })).filter((r) => r.x >= today - SHOWN_BACK),
      line: (key: 'low' | 'likely' | 'high') => curve.ahead.map((a) => ({ x: dayNumber(a.day), y: a[key] })),
    }),
    [curve, today],
  );
  const first = shown.read[0]?.x ?? today - 7;
  const last = Math.max(today + 60, dayNumber(curve.ahead.at(-1)?.day ?? curve.today));
  const top = Math.max(...curve.ahead.map((a) => a.high), ...shown.read.map((r) => r.y));
  const bottom = Math.min(...shown.read.map((r) => r.y), ...curve.ahead.map((a) => a.low));
  const limits = useMemo(
    () => joinLimits(curve.limits.filter((l) => l.hours <= top * 1.02 + 5 && l.hours >= bottom)),
    [curve, top, bottom],
  );
  const end = curve.ahead.at(-1);
  const sentence = end
    ? `${curve.estimated ? 'Without a meter, counted from today by its hires: likely' : 'Likely'} ${Math.round(end.likely)} h by ${fullDay(end.day)}; eight cases in ten lie between ${Math.round(end.low)} and ${Math.round(end.high)} h.`
    : '';
  const monthTicks = useMemo(() => {
    const ticks: number[] = [];
    for (let n = first; n <= last; n++) if (dayFromNumber(n).endsWith('-01')) ticks.push(n);
    return ticks;
  }, [first, last]);

  const options: ChartOptions<'line'> = {
    animation: false,
    maintainAspectRatio: false,
    parsing: false,
    normalized: true,
    layout: { padding: { right: 4, top: 6 } },
    interaction: { mode: 'nearest', axis: 'x', intersect: false },
    scales: {
      x: {
        type: 'linear',
        min: first,
        max: last,
        grid: { color: colours.rule },
        border: { color: colours.faint },
        afterBuildTicks: (axis) => {
          axis.ticks = monthTicks.map((value) => ({ value }));
        },
        ticks: {
          color: colours.faint,
          font: FONT,
          autoSkip: true,
          maxRotation: 0,
          callback: (v) => monthText(Number(v)),
        },
      },
      y: {
        type: 'linear',
        grid: { color: colours.rule },
        border: { display: false },
        ticks: { color: colours.faint, font: FONT, maxTicksLimit: 7, callback: (v) => `${v} h` },
      },
    },
    plugins: {
      tooltip: {
        displayColors: false,
        backgroundColor: colours.ink,
        titleColor: colours.paper,
        bodyColor: colours.paper,
        titleFont: FONT,
        bodyFont: FONT,
        filter: (item) => item.datasetIndex < 2,
        callbacks: {
          title: (items) => (items[0] ? fullDay(dayFromNumber(Math.round(items[0].parsed.x ?? 0))) : ''),
          label: (item) => `${item.datasetIndex === 0 ? 'read' : 'likely'} ${hoursText(item.parsed.y)} h`,
        },
      },
    },
  };
  const lines: Plugin<'line'> = {
    id: 'limits',
    afterDatasetsDraw: ({ ctx, chartArea: area, scales }) => {
      ctx.save();
      ctx.font = `600 13px ${FONT.family}`;
      ctx.textAlign = 'right';
      const x = scales.x!.getPixelForValue(today);
      ctx.strokeStyle = colours.coral;
      ctx.lineWidth = 2;
      ctx.beginPath();
      ctx.moveTo(x, area.top);
      ctx.lineTo(x, area.bottom);
      ctx.stroke();
      // Words over words are none: limits close together share one line of words over the topmost.
      let words: { y: number; last: number; text: string[]; over: boolean } | null = null;
      const write = () => {
        if (!words) return;
        ctx.textAlign = 'left';
        ctx.fillStyle = words.over ? colours.coral : colours.brass;
        const all = words.text.join('; ');
        // Up to today there is room; the rest is told in the list of what is due.
        const fits = words.text.length === 1 || ctx.measureText(all).width < x - area.left - 12;
        const more = words.text.length - 1;
        ctx.fillText(
          fits ? all : `${words.text[0]!}; ${more} more ${more === 1 ? 'limit' : 'limits'} just below`,
          area.left + 6,
          words.y - 5,
        );
      };
      for (const limit of limits) {
        const y = scales.y!.getPixelForValue(limit.hours);
        ctx.strokeStyle = limit.over ? colours.coral : colours.brass;
        ctx.lineWidth = 1.5;
        ctx.setLineDash([6, 5]);
        ctx.beginPath();
        ctx.moveTo(area.left, y);
        ctx.lineTo(area.right, y);
        ctx.stroke();
        ctx.setLineDash([]);
        if (words && y - words.last < 19) {
          words.last = y;
          words.text.push(limit.word.toLowerCase());
          words.over ||= limit.over;
        } else {
          write();
          words = { y, last: y, text: [limit.word], over: limit.over };
        }
      }
      write();
      ctx.restore();
    },
  };
  return (
    <section className="block">
      <h2>{curve.estimated ? 'Hours ahead' : 'Hours over time'}</h2>
      <p className="faint">
        {sentence}
        {curve.share === null
          ? ''
          : ` It runs ${Math.round(curve.share * 100)} % of the time its boat is out${curve.estimated ? ', taken from engines like it' : ''}.`}
      </p>
      <div className="curve">
        <Chart
          type="line"
          aria-label={`Hours of the engine over time. ${sentence} ${limits.map((l) => l.word).join(', ')}.`}
          options={options}
          plugins={[lines]}
          data={{
            datasets: [
              {
                data: shown.read,
                borderColor: colours.ink,
                backgroundColor: colours.ink,
                borderWidth: 2,
                pointRadius: 2.2,
                pointHoverRadius: 4,
              },
              { data: shown.line('likely'), borderColor: colours.sea, borderWidth: 2.5, pointRadius: 0 },
              {
                data: shown.line('low'),
                borderColor: colours.sea,
                borderWidth: 1,
                pointRadius: 0,
                fill: '+1',
                backgroundColor: `${colours.sea}2e`,
              },
              { data: shown.line('high'), borderColor: colours.sea, borderWidth: 1, pointRadius: 0 },
            ],
          }}
        />
      </div>
      <Weeks curve={curve} colours={colours} />
    </section>
  );
}

/** Oil and filter have one limit: one line, both words. */
function joinLimits(limits: UsageCurve['limits']): { hours: number; over: boolean; word: string }[] {
  const found = new Map<number, { over: boolean; words: string[] }>();
  for (const l of limits) {
    const known = found.get(l.hours) ?? { over: false, words: [] };
    known.over ||= l.state === 'over';
    known.words.push(known.words.length === 0 ? TASKS[l.task].word : TASKS[l.task].word.toLowerCase());
    found.set(l.hours, known);
  }
  return [...found]
    .sort((a, b) => b[0] - a[0])
    .map(([hours, { over, words }]) => ({
      hours,
      over,
      word: `${words.join(', ')} at ${hours % 1 === 0 ? hours : hoursText(hours)} h`,
    }));
}

/** Bars need no library: each week's hours, and the hours on hire behind them. */
function Weeks({ curve, colours }: { curve: UsageCurve; colours: (typeof PALETTES)['day'] }) {
  if (curve.estimated) return null;
  const most = Math.max(5, ...curve.weeks.map((w) => w.hours));
  return (
    <figure className="weeks">
      <figcaption className="faint">Hours a week, half a year back</figcaption>
      <div className="weeks-bars">
        {curve.weeks.map((w) => (
          <span
            key={w.monday}
            className="curve-week"
            title={`Week of ${shortDay(w.monday)}: ${hoursText(w.hours)} h run${w.hired === null ? '' : `, ${hoursText(w.hired)} h on hire`}`}>
            <span className="visually-hidden">{`Week of ${shortDay(w.monday)}: ${hoursText(w.hours)} h. `}</span>
            <span className="week-bar" style={{ height: `${(w.hours / most) * 100}%`, background: colours.sea }} />
          </span>
        ))}
      </div>
      <p className="weeks-scale faint">
        <span>{shortDay(curve.weeks[0]!.monday)}</span>
        <span className="figure">most {hoursText(most)} h</span>
        <span>this week</span>
      </p>
    </figure>
  );
}
