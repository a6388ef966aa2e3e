import type { Trend } from '@diurna/contract/findings';
import {
  compressionSpread,
  kilopascalsOf,
  readingKey,
  READINGS,
  spreadPasses,
  valueText,
  type ReadingValue,
} from '@diurna/core/findings';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { type Reply } from '../app/api.ts';
import { fullDay, hoursText } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import './condition.css';

const TrendChart = lazy(() => import('./TrendChart.tsx').then((m) => ({ default: m.TrendChart })));

function valueWord(kind: Trend['kind'], value: ReadingValue): string {
  return 'not' in value ? 'not possible' : valueText(readingKey(0, kind), value);
}
const toneOf = (kind: Trend['kind'], value: ReadingValue) =>
  'choice' in value ? (READINGS[kind].options?.find((o) => o.key === value.choice)?.tone ?? 'fine') : 'fine';
const SHOWN = 5;

/** An engine's readings over time: figures as curves, words card by card, its twin's beside. */
export function Trends({ data }: { data: Reply<'engineCondition'> }) {
  const kinds = [...new Set(data.trends.map((t) => t.kind))];
  const curves = kinds.filter(
    (k) => READINGS[k].unit !== undefined && data.trends.some((t) => t.kind === k && t.points.length > 1),
  );
  if (data.trends.length === 0)
    return (
      <p className="faint">
        Nothing was read on a card yet: oil, gear lube, compression, plugs, pump and anodes come here as cards are
        worked.
      </p>
    );
  const twin = data.twins[0];
  const rows = kinds.filter((k) => !curves.includes(k));
  return (
    <>
      <h3>Readings over time{twin ? `, ${twin.position} twin beside` : ''}</h3>
      {curves.length > 0 && (
        <div className="trend-charts">
          <Suspense>
            {curves.map((k) => (
              <TrendChart
                key={k}
                kind={k}
                own={data.trends.filter((t) => t.kind === k)}
                twin={twin ? twin.trends.filter((t) => t.kind === k) : []}
                twinWord={twin?.position ?? ''}
              />
            ))}
          </Suspense>
        </div>
      )}
      {rows.length > 0 && (
        <Lines className="trends">
          <thead>
            <tr>
              <th scope="col">Reading</th>
              <th scope="col">Newest first</th>
              {twin && <th scope="col">Twin, newest</th>}
            </tr>
          </thead>
          <tbody>
            {rows.map((k) => {
              const beside = twin ? byCard(twin.trends, k)[0] : undefined;
              return (
                <tr key={k}>
                  <th scope="row">{READINGS[k].word}</th>
                  <td>
                    {byCard(data.trends, k)
                      .slice(0, SHOWN)
                      .map((c) => (
                        <span
                          key={c.jobId}
                          className={`trend-point ${c.tone}`}
                          title={c.hours === null ? '' : `${hoursText(c.hours)} h`}>
                          <Link to={`/jobs/${c.jobId}`}>{c.text}</Link> <span className="faint">{fullDay(c.day)}</span>
                        </span>
                      ))}
                  </td>
                  {twin && (
                    <td>
                      {beside ? (
                        <span className={`trend-point ${beside.tone}`}>
                          {beside.text} <span className="faint">{fullDay(beside.day)}</span>
                        </span>
                      ) : (
                        <span className="faint">not read</span>
                      )}
                    </td>
                  )}
                </tr>
              );
            })}
          </tbody>
        </Lines>
      )}
    </>
  );
}

const WORST = ['fine', 'watch', 'bad'];

/** What was read of a kind, card by card, newest first: cylinders beside each other, alike ones told once. */
function byCard(
  trends: readonly Trend[],
  kind: Trend['kind'],
): { jobId: number; day: string; hours: number | null; text: string; tone: string }[] {
  const own = trends.filter((t) => t.kind === kind);
  const cards = new Map<number, { day: string; hours: number | null; values: ReadingValue[] }>();
  for (const t of own) {
    for (const p of t.points) {
      const card = cards.get(p.jobId) ?? { day: p.day, hours: p.hours, values: [] };
      card.values.push(p.value);
      cards.set(p.jobId, card);
    }
  }
  return [...cards]
    .map(([jobId, { day, hours, values }]) => {
      const words = values.map((v) => valueWord(kind, v));
      const alike = new Set(words).size === 1;
      const units = new Set(values.map((v) => ('unit' in v ? v.unit : null)));
      const figures =
        units.size === 1 && values.every((v) => 'value' in v)
          ? `${values.map((v) => ('value' in v ? v.value : '')).join(', ')} ${[...units][0] ?? ''}`
          : words.join(', ');
      const pressures =
        kind === 'compression' ? values.flatMap((v) => ('value' in v ? [kilopascalsOf(v) ?? 0] : [])) : [];
      const spread = compressionSpread(pressures);
      return {
        jobId,
        day,
        hours,
        text: `${alike ? words[0]! + (words.length > 1 ? `, all ${words.length}` : '') : figures}${spread === null ? '' : `, ${Math.round(spread * 1000) / 10} % apart`}`,
        tone:
          spread !== null && !spreadPasses(spread)
            ? 'bad'
            : (values.map((v) => toneOf(kind, v)).sort((a, b) => WORST.indexOf(b) - WORST.indexOf(a))[0] ?? 'fine'),
      };
    })
    .reverse();
}
