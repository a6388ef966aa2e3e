import {
  BarController,
  BarElement,
  CategoryScale,
  Chart as ChartJs,
  LinearScale,
  Tooltip,
  type ChartOptions,
} from 'chart.js';
import type { HourTold, Slow } from '@diurna/contract/system';
import { Chart } from 'react-chartjs-2';
import { CHART_FONT } from '../app/fonts.ts';
import { PALETTES } from '../app/palette.ts';
import { useAppSelector } from '../app/store.ts';
import { plural } from '../ui/format.ts';
import { Asked, Empty, Heads, Leaves, PageHead } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { recordsApi } from './api.ts';
import { useRecordLeaves } from './leaves.ts';
import './last-day.css';

ChartJs.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const hourText = (hour: string) => new Date(hour).toTimeString().slice(0, 5);
const thousands = (n: number) => n.toLocaleString('en-GB');
/** The p95 people should be kept waiting no longer than (ms), as the bench asks. */
const ASKED_MS = 200;

/** How the app itself did within the last day: for who keeps it running. */
export function LastDay() {
  const { data, error } = recordsApi.useLastDayQuery(undefined, {
    pollingInterval: 60_000,
    skipPollingIfUnfocused: true,
  });
  const busy = data?.hours.filter((h) => h.requests > 0) ?? [];
  return (
    <>
      <PageHead title="The last day">
        {data &&
          `Version ${data.version}, ${plural(data.processes, 'process', 'processes')}; PostgreSQL ${data.database}, ${thousands(data.size)} MB.`}
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <Asked data={data} error={error} />
      {data && busy.length === 0 && <Empty title="Nobody asked the book for anything within the last day." />}
      {data && busy.length > 0 && (
        <>
          <Hours hours={data.hours} />
          <HourTable hours={busy.toReversed()} />
          <div className="two last-day-slow">
            <SlowList
              title="Requests that took longest"
              slow={data.requests}
              none="None took longer than half a second."
            />
            <SlowList
              title="Statements that took longest"
              slow={data.statements}
              none="None took longer than a quarter of a second."
            />
          </div>
        </>
      )}
    </>
  );
}

function Hours({ hours }: { hours: HourTold[] }) {
  const colours = PALETTES[useAppSelector((s) => s.book.mode)];
  const all = hours.reduce((sum, h) => sum + h.requests, 0);
  const bad = hours.reduce((sum, h) => sum + h.failed, 0);
  const sentence = `${thousands(all)} requests, ${bad === 0 ? 'none failed' : `${thousands(bad)} failed`}`;
  const options: ChartOptions<'bar'> = {
    animation: false,
    maintainAspectRatio: false,
    scales: {
      x: {
        stacked: true,
        grid: { display: false },
        ticks: { color: colours.faint, font: CHART_FONT, maxRotation: 0, autoSkip: true, maxTicksLimit: 12 },
      },
      y: {
        stacked: true,
        beginAtZero: true,
        border: { display: false },
        grid: { color: colours.rule },
        ticks: { color: colours.faint, font: CHART_FONT, maxTicksLimit: 4, precision: 0 },
      },
    },
  };
  const bars = (label: string, of: (h: HourTold) => number, colour: string) => ({
    label,
    data: hours.map(of),
    backgroundColor: colour,
  });
  return (
    <figure className="last-day-chart">
      <figcaption>{sentence}</figcaption>
      <div>
        <Chart
          type="bar"
          aria-label={`${sentence}, hour by hour; the table below has the figures`}
          options={options}
          data={{
            labels: hours.map((h) => hourText(h.hour)),
            datasets: [
              bars('answered', (h) => h.requests - h.failed - h.busy, colours.sea),
              bars('told to try again', (h) => h.busy, colours.brass),
              bars('failed', (h) => h.failed, colours.coral),
            ],
          }}
        />
      </div>
    </figure>
  );
}

function HourTable({ hours }: { hours: HourTold[] }) {
  return (
    <Lines>
      <Heads
        of={[
          'Hour',
          { num: 'Requests' },
          { num: 'Failed' },
          { num: 'Try again' },
          { num: 'Half within' },
          { num: '95 % within' },
          { num: '99 % within' },
          { num: 'Late by itself' },
          { num: 'Memory' },
        ]}
      />
      <tbody>
        {hours.map((h) => (
          <tr key={h.hour}>
            <th scope="row">{hourText(h.hour)}</th>
            <td className="num figure">{thousands(h.requests)}</td>
            <td className={`num figure ${h.failed > 0 ? 'minus' : ''}`}>{thousands(h.failed)}</td>
            <td className="num figure">{thousands(h.busy)}</td>
            <td className="num figure">{thousands(h.p50)} ms</td>
            <td className={`num figure ${h.p95 > ASKED_MS ? 'minus' : ''}`}>{thousands(h.p95)} ms</td>
            <td className="num figure">{thousands(h.p99)} ms</td>
            <td className="num figure">{Math.round(h.loopP99)} ms</td>
            <td className="num figure">{thousands(h.memory)} MB</td>
          </tr>
        ))}
      </tbody>
    </Lines>
  );
}

function SlowList({ title, slow, none }: { title: string; slow: Slow[]; none: string }) {
  return (
    <section className="block">
      <h2>{title}</h2>
      {slow.length === 0 && <p className="faint">{none}</p>}
      {slow.length > 0 && (
        <Lines>
          <tbody>
            {slow.map((s) => (
              <tr key={s.what}>
                <td className="num figure">{thousands(Math.round(s.took))} ms</td>
                <td className="last-day-what">{s.what}</td>
                <td className="faint">{hourText(s.at)}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </section>
  );
}
