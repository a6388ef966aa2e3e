import { Button } from '@mui/material';
import type { FollowUpRow, HoldRow, Trend } from '@diurna/contract/findings';
import { compressionSpread, kilopascalsOf, READINGS, spreadPasses, type ReadingValue } from '@diurna/core/findings';
import { TASK_KINDS, TASKS, type TaskKind } from '@diurna/core/service';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { type Reply } from '../app/api.ts';
import { findingsApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { clockText, fullDay, hoursText } from '../ui/format.ts';
import { AskReason, Choice, Entry, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import './condition.css';

const TrendChart = lazy(() => import('./TrendChart.tsx').then((m) => ({ default: m.TrendChart })));
type Condition = Reply<'engineCondition'>;

/**
 * An engine's condition: what holds it, what was found, what is asked for, and its readings over time beside its
 * twin's.
 */
export function Condition({ id }: { id: number }) {
  const { data, error } = findingsApi.useEngineConditionQuery(id);
  if (error && !data) return <Wrong error={error} />;
  if (!data) return <Waiting />;
  const open = data.holds.filter((h) => h.released === null);
  const findings = data.findings.filter((f) => f.weight !== 'watch' || f.state === 'open');
  return (
    <section className="block" aria-label="Condition">
      <h2>Condition</h2>
      {open.map((h) => (
        <Held key={h.id} hold={h} />
      ))}
      {open.length === 0 && <HoldIt id={id} />}
      {data.followUps.length > 0 && <Asked of={data.followUps} />}
      {findings.length > 0 && (
        <>
          <h3>Found</h3>
          <ul className="plain-list">
            {findings.slice(0, 12).map((f) => (
              <li key={f.id} className={`found ${f.weight}`}>
                <span className="faint">{fullDay(f.at.slice(0, 10))}</span> <b>{f.seen}</b>{' '}
                {f.state === 'taken'
                  ? f.does
                  : f.state === 'overridden'
                    ? `Otherwise: ${f.reason ?? ''}`
                    : 'Not decided yet.'}{' '}
                {f.by && <span className="faint">{f.by.split(' ')[0]}</span>} <Link to={`/jobs/${f.jobId}`}>card</Link>
              </li>
            ))}
          </ul>
        </>
      )}
      {data.holds.some((h) => h.released !== null) && (
        <details>
          <summary>Holds of the past</summary>
          <ul className="plain-list">
            {data.holds
              .filter((h) => h.released)
              .map((h) => (
                <li key={h.id}>
                  {clockText(h.at)}: {h.why} Let go by {h.released!.by ?? 'unknown'}, {clockText(h.released!.at)}:{' '}
                  {h.released!.because}
                </li>
              ))}
          </ul>
        </details>
      )}
      <Trends data={data} />
    </section>
  );
}

function Held({ hold }: { hold: HoldRow }) {
  const mayRelease = useMay('administrator', 'coordinator');
  const [asking, setAsking] = useState(false);
  const [release, { error }] = findingsApi.useReleaseHoldMutation();
  const dispatch = useAppDispatch();
  return (
    <div className="wrong held">
      <p>
        <b>Held</b> since {clockText(hold.at)}
        {hold.by ? ` by ${hold.by.split(' ')[0]}` : ''}: {hold.why}
      </p>
      {hold.checks.length > 0 && (
        <ul className="held-checks">
          {hold.checks.map((t) => (
            <li key={t}>
              {hold.missing.includes(t) ? '○' : '✓'} {TASKS[t].word}
              {hold.missing.includes(t) ? ' still to be done' : ' in the log'}
            </li>
          ))}
        </ul>
      )}
      {mayRelease &&
        (hold.missing.length === 0 ? (
          <Button
            variant="contained"
            color="primary"
            onClick={() => {
              setAsking(true);
            }}>
            Let it go
          </Button>
        ) : (
          <p className="faint">It can be let go once these are in the log.</p>
        ))}
      {!mayRelease && <p className="faint">A coordinator lets it go.</p>}
      {asking && (
        <AskReason
          open
          title="Let this engine go"
          act="Let it go"
          label="What was looked at"
          error={error}
          onClose={() => {
            setAsking(false);
          }}
          sentence="The boat may go out on hire again, on your word. Follow the engine maker’s manual, your local codes and licensed practice."
          onGive={(because) => {
            void release({ id: hold.id, version: hold.version, because }).then((a) => {
              if (a.data) {
                setAsking(false);
                dispatch(say({ tone: 'done', text: 'The engine may go out again.' }));
              }
            });
          }}
        />
      )}
    </div>
  );
}

/** The engine must not go out, said by a person: why, and what has to be done before it may again. */
function HoldIt({ id }: { id: number }) {
  const mayHold = useMay('administrator', 'coordinator', 'technician');
  const [asking, setAsking] = useState(false);
  const [why, setWhy] = useState('');
  const [checks, setChecks] = useState<TaskKind[]>([]);
  const [hold, { isLoading, error }] = findingsApi.usePutHoldMutation();
  const dispatch = useAppDispatch();
  if (!mayHold) return null;
  if (!asking)
    return (
      <p>
        <Button
          size="small"
          onClick={() => {
            setAsking(true);
          }}>
          Hold this engine
        </Button>
      </p>
    );
  return (
    <form
      className="tools hold-it"
      onSubmit={(e) => {
        e.preventDefault();
        void hold({ engineId: id, why: why.trim(), checks }).then((a) => {
          if (a.data)
            dispatch(
              say({
                tone: 'done',
                text: 'The engine is held. Its boat does not go out until a coordinator lets it go.',
              }),
            );
        });
      }}>
      <Entry label="Why it is held" value={why} maxLength={300} onType={setWhy} />
      <Choice<TaskKind>
        label="Work wanted before it goes out"
        value=""
        onChange={(t) => {
          if (t) setChecks([...checks, t]);
        }}
        options={[
          ['', checks.length === 0 ? 'a look is enough' : 'one more'],
          ...TASK_KINDS.filter((t) => !checks.includes(t)).map((t): [TaskKind, string] => [t, TASKS[t].word]),
        ]}
      />
      {checks.map((t) => (
        <button
          key={t}
          type="button"
          className="chip"
          aria-label={`${TASKS[t].word} ×: take it out`}
          onClick={() => {
            setChecks(checks.filter((x) => x !== t));
          }}>
          {TASKS[t].word} ×
        </button>
      ))}
      <Button type="submit" color="error" disabled={why.trim().length < 3 || isLoading}>
        Hold the engine
      </Button>
      <Button
        onClick={() => {
          setAsking(false);
        }}>
        Leave it
      </Button>
      <Wrong error={error} />
    </form>
  );
}

function Asked({ of }: { of: FollowUpRow[] }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [off, setOff] = useState<number | null>(null);
  const [callOff, { error }] = findingsApi.useCallOffFollowUpMutation();
  return (
    <>
      <h3>Asked for besides its programme</h3>
      <table className="lines">
        <tbody>
          {of.map((f) => (
            <tr key={f.id}>
              <td>
                <span className="task">
                  <TaskGlyph task={f.task} silent size={19} /> {TASKS[f.task].word}
                </span>
              </td>
              <td>
                {f.waitsFor
                  ? `after ${TASKS[f.waitsFor].word.toLowerCase()}`
                  : f.dueOn
                    ? `by ${fullDay(f.dueOn)}`
                    : 'at its next return'}
              </td>
              <td className="faint">
                {f.why} {f.jobId && <Link to={`/jobs/${f.jobId}`}>card</Link>}
              </td>
              <td className="num">
                {maySteer && (
                  <button
                    type="button"
                    className="link-button"
                    aria-label={`Call off ${TASKS[f.task].word}`}
                    onClick={() => {
                      setOff(f.id);
                    }}>
                    call off
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {off !== null && (
        <AskReason
          open
          title="Call this work off"
          act="Call it off"
          error={error}
          onClose={() => {
            setOff(null);
          }}
          sentence="It is not due any more. The reason stays in the book."
          onGive={(reason) => {
            void callOff({ id: off, reason }).then((a) => {
              if (a.data) setOff(null);
            });
          }}
        />
      )}
    </>
  );
}

export function valueWord(kind: Trend['kind'], value: ReadingValue): string {
  if ('value' in value) return `${value.value} ${value.unit}`;
  return READINGS[kind].options?.find((o) => o.key === value.choice)?.word ?? value.choice;
}
const toneOf = (kind: Trend['kind'], value: ReadingValue) =>
  'choice' in value ? (READINGS[kind].options?.find((o) => o.key === value.choice)?.tone ?? 'fine') : 'fine';
const SHOWN = 5;

function Trends({ data }: { data: Condition }) {
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
        <div className="wide">
          <table className="lines trends">
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
                            <Link to={`/jobs/${c.jobId}`}>{c.text}</Link>{' '}
                            <span className="faint">{fullDay(c.day)}</span>
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
          </table>
        </div>
      )}
    </>
  );
}

const WORST = ['fine', 'watch', 'bad'];

/** What was read of a kind, card by card, newest first: cylinders beside each other, alike ones told once. */
export function byCard(
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
