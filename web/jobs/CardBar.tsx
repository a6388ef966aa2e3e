import { Button } from '@mui/material';
import type { FinishBody, JobCard as Card } from '@diurna/contract/jobs';
import { engineName } from '@diurna/core/fleet';
import {
  labelVolume,
  missingText,
  readVolume,
  taskKey,
  type CardAct,
  type CardDraft,
  type CardUse,
  type Missing,
} from '@diurna/core/visit';
import type { PrintedVolume } from '@diurna/core/units';
import { useState } from 'react';
import { say, useAppDispatch, useAppSelector } from '../app/store.ts';
import { findingsOn } from '../findings/index.ts';
import { clockText, hourText } from '../ui/format.ts';
import { AskReason } from '../ui/parts.tsx';
import { jobsApi } from './api.ts';
import type { UsedPart } from './CardParts.tsx';
import { judgeHours } from './judge-hours.ts';
import { missingOn, type LiveCard } from './live-card.ts';
import { type Waiting as Sent, useFinish } from '../outbox/index.ts';
import type { Typed } from './useTyped.ts';

/** What was typed as put in; null = nothing was. */
function typedVolume(card: CardUse, draft: CardDraft, t: Card['tasks'][number]): PrintedVolume | null {
  const label = labelVolume(
    card.engines.find((e) => e.id === t.engineId),
    t.task,
  );
  return t.state === 'done' && label ? readVolume(draft, taskKey(t), label).volume : null;
}

/** What was read of an engine, as the finish carries it; a questioned one with why it is right. */
function readHours({
  engine,
  typed,
  verdict,
}: {
  engine: Card['engines'][number];
  typed: CardDraft['hours'][number] | undefined;
  verdict: ReturnType<typeof judgeHours>;
}): FinishBody['hours'] {
  if (verdict.count === null) return [];
  const confirm = verdict.question ? { confirm: typed!.reason.trim() } : {};
  return [{ engineId: engine.id, count: verdict.count, ...confirm }];
}

/** Finishes the card, or says what stands in the way. */
export function FinishBar({
  live,
  draft,
  typed,
  used,
  today,
  write,
  pick,
}: {
  live: LiveCard;
  draft: CardDraft;
  typed: Typed;
  used: UsedPart[];
  today: string;
  write: (act: CardAct) => Promise<void>;
  /** Brings a step up. */
  pick: (step: string) => void;
}) {
  const { card, state, tasks } = live;
  const signal = useAppSelector((s) => s.outbox.signal);
  const refused = useAppSelector((s) => s.outbox.refused).filter((r) => r.jobId === card.id);
  const { finish } = useFinish(card.id);
  const done = tasks.filter((t) => t.state === 'done');
  const hours = card.engines.map((engine) => ({
    engine,
    typed: draft.hours[engine.id],
    verdict: judgeHours(engine, draft.hours[engine.id], today),
  }));
  const badHours = hours.filter(
    ({ typed, verdict }) => verdict.bad || (verdict.question && (typed?.reason.trim().length ?? 0) < 3),
  ).length;
  const badVolumes = tasks.filter((t) => {
    const label = labelVolume(
      card.engines.find((e) => e.id === t.engineId),
      t.task,
    );
    return label !== null && readVolume(draft, taskKey(t), label).bad;
  }).length;
  const bad = badHours + badVolumes + used.filter((p) => p.used === null).length;
  const problem = refused.find((r) => r.finish);
  const missing = missingOn(live);
  const onEngines = [...new Set(missing.flatMap((m) => (m.engineId === null ? [] : [m.engineId])))];
  const decide = findingsOn(live).filter((f) => f.state === 'open' && f.weight !== 'watch');

  const send = async ({ belowZero = false, leftOpen = [] }: Pick<FinishBody, 'belowZero' | 'leftOpen'> = {}) => {
    await typed.keep();
    await finish({
      boatName: card.boatName,
      body: {
        version: card.version,
        belowZero,
        leftOpen,
        remark: state.remark,
        tasks: tasks.map((t) => ({
          engineId: t.engineId,
          task: t.task,
          done: t.state === 'done',
          volume: typedVolume(card, draft, t),
        })),
        hours: hours.flatMap(readHours),
        // Only what was typed: the book works out the rest as this page shows it.
        parts: used.flatMap((p) =>
          p.used !== null && p.used !== p.worked ? [{ partId: p.partId, quantity: p.used }] : [],
        ),
      },
    });
  };
  const count = (what: Missing['what']) => missing.filter((m) => m.what === what).length;
  const toSee = [
    count('gate') > 0 && `${count('gate')} to confirm`,
    count('open') > 0 && `${count('open')} still open`,
    count('reading') > 0 && `${count('reading')} not read`,
  ].filter((x): x is string => typeof x === 'string');
  const stands = [
    refused.some((r) => r.entry) && 'something was not taken: read it at the top first',
    state.open.length > 0 && 'two entries contradict each other',
    decide.length > 0 && `${decide.length} ${decide.length === 1 ? 'finding wants' : 'findings want'} a decision`,
    bad > 0 && `${bad} ${bad === 1 ? 'figure wants' : 'figures want'} a second look`,
  ].filter((x): x is string => typeof x === 'string');
  const all = done.length === 0 ? stands : [...stands, ...toSee];

  return (
    <div className="job-bar" role="group" aria-label="Finish">
      {problem && (
        <div className="wrong left-text" role="alert">
          <p>{problem.because}</p>
          {problem.type === 'short' && card.shelfPolicy === 'mark' && (
            <p className="above-s">
              <Button size="small" onClick={() => void send({ belowZero: true })}>
                They were there: go on and mark it
              </Button>
            </p>
          )}
        </div>
      )}
      <p className="left-text faint" role="status">
        {done.length} of {card.tasks.length} ticked
        {done.length < card.tasks.length && done.length > 0 ? '; what is not ticked stays due' : ''}
        {all.length > 0 ? `; ${all.join('; ')}` : ''}
      </p>
      {done.length > 0 && missing.length > 0 && <StillWanted live={live} missing={missing} write={write} pick={pick} />}
      {done.length > 0 && stands.length === 0 && onEngines.length > 0 && (
        <LeaveOpen
          live={live}
          missing={missing}
          onLeave={(why) => void send({ leftOpen: onEngines.map((engineId) => ({ engineId, why })) })}
        />
      )}
      <Button
        variant="contained"
        color="primary"
        disabled={done.length === 0 || all.length > 0}
        onClick={() => void send()}>
        {signal ? 'Finish the job' : 'Finish it on this phone'}
      </Button>
    </div>
  );
}

/** What is missing to the finish; each leads to its step. */
function StillWanted({
  live,
  missing,
  write,
  pick,
}: {
  live: LiveCard;
  missing: readonly Missing[];
  write: (act: CardAct) => Promise<void>;
  pick: (step: string) => void;
}) {
  const nameOf = (id: number | null) => (id === null ? '' : placeName(live.card.engines, id));
  return (
    <ul className="finish-missing" aria-label="Still wanted">
      {missing.map((m, i) => (
        <li key={`${m.what} ${m.step.id} ${i}`}>
          <button
            type="button"
            className="link-button"
            onClick={() => {
              // Ticked too early, or without what it asks for: the tick goes, and it is looked at anew.
              if (live.state.ticks.has(m.step.id)) void write({ kind: 'tick', step: m.step.id, done: false });
              pick(m.step.id);
            }}>
            {m.what === 'gate' ? 'confirm' : m.what === 'open' ? 'close' : 'read'}: {m.text}
            {nameOf(m.engineId) === '' ? '' : `, ${nameOf(m.engineId)}`}
          </button>
        </li>
      ))}
    </ul>
  );
}

/** "port" where the card has several engines; else nothing. */
function placeName(engines: Card['engines'], id: number): string {
  const engine = engines.length > 1 ? engines.find((e) => e.id === id) : undefined;
  return engine ? engineName('', engine.position).trim() : '';
}

/** The one way to finish a card whose engine is not whole: it is held, and the work comes up again. */
function LeaveOpen({
  live,
  missing,
  onLeave,
}: {
  live: LiveCard;
  missing: readonly Missing[];
  onLeave: (why: string) => void;
}) {
  const [asking, setAsking] = useState(false);
  const { engines } = live.card;
  const nameOf = (id: number) => placeName(engines, id);
  const own = missing.filter((m) => m.engineId !== null);
  return (
    <>
      <Button
        onClick={() => {
          setAsking(true);
        }}>
        Leave it open, on purpose
      </Button>
      {asking && (
        <AskReason
          open
          title="Leave it open, on purpose"
          act="Leave it open and hold it"
          onClose={() => {
            setAsking(false);
          }}
          sentence={`${missingText(own, nameOf)} The engine is held and must not go out; the work comes up again, and the coordinator is told.`}
          onGive={(reason) => {
            setAsking(false);
            onLeave(reason);
          }}
        />
      )}
    </>
  );
}

/** Finished without signal: it waits on this phone behind what was written before it. */
export function FinishedHere({ waiting }: { waiting: Sent }) {
  const signal = useAppSelector((s) => s.outbox.signal);
  const { notYet } = useFinish(waiting.jobId!);
  return (
    <div className="job-bar" role="group" aria-label="Finish">
      <p className="left-text" role="status">
        <b className="fine">✓ Finished on this phone</b>, {hourText(waiting.finish!.at)}.{' '}
        {signal ? 'It is on its way to the book.' : 'It goes into the book when signal is back.'}
      </p>
      {!signal && <Button onClick={() => void notYet(waiting)}>Not yet: open it again</Button>}
    </div>
  );
}

/** A finished card, and the way to undo it. */
export function DoneBar({ card, mayUndo }: { card: Card; mayUndo: boolean }) {
  const [asking, setAsking] = useState(false);
  const [undo, { error }] = jobsApi.useUndoJobMutation();
  const dispatch = useAppDispatch();
  return (
    <div className="job-bar" role="group" aria-label="Finish">
      <p className="left-text">
        <b className="fine">✓ Finished</b> {card.finishedAt && clockText(card.finishedAt)}
      </p>
      {mayUndo && (
        <Button
          onClick={() => {
            setAsking(true);
          }}>
          Undo this card
        </Button>
      )}
      {asking && (
        <AskReason
          open
          title="Undo this card"
          act="Undo it"
          error={error}
          onClose={() => {
            setAsking(false);
          }}
          sentence="The service entries are cancelled by further entries, the parts go back to the shelf, and the card is open again. The hours stay: they were read."
          onGive={(reason) => {
            void undo({ id: card.id, version: card.version, reason }).then((answer) => {
              if (!answer.data) return;
              setAsking(false);
              dispatch(say({ tone: 'done', text: 'Undone. The card is open again.' }));
            });
          }}
        />
      )}
    </div>
  );
}
