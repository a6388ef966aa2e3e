import { Button } from '@mui/material';
import type { FollowUpRow, HoldRow } from '@diurna/contract/findings';
import { TASK_KINDS, TASKS, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { type Reply } from '../app/api.ts';
import { findingsApi } from './api.ts';
import { Trends } from './Trends.tsx';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useShort } from '../app/useBook.ts';
import { clockText, fullDay } from '../ui/format.ts';
import { Asked, AskReason, Choice, Entry, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import './condition.css';

type Condition = Reply<'engineCondition'>;

/**
 * An engine's condition: what holds it, what was found, what is asked for, and its readings over time beside its
 * twin's.
 */
export function Condition({ id }: { id: number }) {
  const short = useShort();
  const { data, error } = findingsApi.useEngineConditionQuery(id);
  if (!data) return <Asked data={data} error={error} />;
  const open = data.holds.filter((h) => h.released === null);
  const findings = data.findings.filter((f) => f.weight !== 'watch' || f.state === 'open');
  return (
    <section className="block" aria-label="Condition">
      <h2>Condition</h2>
      {open.map((h) => (
        <Held key={h.id} hold={h} />
      ))}
      {open.length === 0 && <HoldIt id={id} />}
      {data.followUps.length > 0 && <AskedFor of={data.followUps} />}
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
                {f.by && <span className="faint">{short(f.by)}</span>} <Link to={`/jobs/${f.jobId}`}>card</Link>
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
  const short = useShort();
  const mayRelease = useMay('administrator', 'coordinator');
  const [asking, setAsking] = useState(false);
  const [release, { error }] = findingsApi.useReleaseHoldMutation();
  const dispatch = useAppDispatch();
  return (
    <div className="wrong held">
      <p>
        <b>Held</b> since {clockText(hold.at)}
        {hold.by ? ` by ${short(hold.by)}` : ''}: {hold.why}
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

function AskedFor({ of }: { of: FollowUpRow[] }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [off, setOff] = useState<number | null>(null);
  const [callOff, { error }] = findingsApi.useCallOffFollowUpMutation();
  return (
    <>
      <h3>Asked for besides its programme</h3>
      <Lines>
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
      </Lines>
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
