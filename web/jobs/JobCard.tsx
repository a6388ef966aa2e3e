import { Button } from '@mui/material';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { engineName } from '@diurna/core/fleet';
import { MANUAL_FIRST, TASKS } from '@diurna/core/service';
import { inBothUnits, VOLUME_UNITS, type PrintedVolume, type VolumeUnit } from '@diurna/core/units';
import {
  draftOf,
  labelVolume,
  minutesText,
  partsUsed,
  progressText,
  readingsOf,
  readingVolume,
  readVolume,
  taskKey,
  volumeText,
  type CardDraft,
  type CardUse,
} from '@diurna/core/visit';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { jobsApi } from './api.ts';
import { say, useAppDispatch, useAppSelector } from '../app/store.ts';
import { useMay, useMe, useToday } from '../app/useBook.ts';
import { clockText, hoursText, quantityText, shortDay } from '../ui/format.ts';
import { AskReason, Choice, Empty, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { CardSteps } from './CardSteps.tsx';
import { Conflicts } from './Conflicts.tsx';
import { judgeHours } from './judge-hours.ts';
import { Findings, findingsOn } from '../findings/index.ts';
import { Gates } from './Gates.tsx';
import { clockOfMs, gatesOf, type LiveCard } from './live-card.ts';
import { MoveJob } from './MoveJob.tsx';
import { PrintCard } from './PrintCard.tsx';
import { HandOver, Trouble } from './Trouble.tsx';
import { useCard } from './useCard.ts';
import { useKeptDay } from './useKept.ts';
import { useFinish, useWrite } from './useOutbox.ts';
import { useTyped, type Typed } from './useTyped.ts';
import { Waste } from './Waste.tsx';
import type { Waiting as Sent } from './outbox.ts';
import './jobs.css';

/** One card: what to do on this boat, what it takes, and what was really used. */
export function JobCard() {
  const id = Number(useParams().id);
  const { data: card, error } = jobsApi.useReadJobQuery(id);
  useEffect(() => {
    if (card) document.title = `${card.boatName}, job card · Diurna`;
  }, [card]);
  if (error && !card)
    return problemOf(error)?.status === 404 ? (
      <Empty title="There is no such job.">It may have been called off. Look at the jobs of the day.</Empty>
    ) : (
      <Wrong error={error} />
    );
  if (!card) return <Waiting />;
  return <OpenCard key={card.id} card={card} />;
}

function OpenCard({ card }: { card: Card }) {
  const me = useMe();
  const today = useToday();
  const mayWork = useMay('administrator', 'coordinator') || (me.role === 'technician' && card.technicianId === me.id);
  const live = useCard(card, me);
  useKeptDay();
  const finishing = useAppSelector((s) => s.outbox.waiting.find((w) => w.jobId === card.id && w.finish));
  const open = mayWork && card.status === 'open';
  // Finished on this phone: nothing more is written on it, though the book has not heard yet.
  const editable = open && !finishing;
  const write = useWrite(card.id, live.state.lastSeq);
  const typed = useTyped(live.state, write);
  const draft = useMemo(() => draftOf(typed.texts), [typed.texts]);
  const [trouble, setTrouble] = useState(false);
  const bar = useRef<HTMLDivElement>(null);
  const leaveTrouble = () => {
    setTrouble(false);
    // The steps are drawn first.
    setTimeout(() => bar.current?.querySelector<HTMLElement>('.step-bar button')?.focus());
  };
  const findings = findingsOn(live);
  const worked = useMemo(() => ({ ...card, tasks: live.tasks }), [card, live.tasks]);
  const used = partsUsed(worked, draft, readingsOf(live.state));
  const flip = (task: Card['tasks'][number]) =>
    void write({ kind: 'task', engineId: task.engineId, task: task.task, done: task.state !== 'done' });

  return (
    <article className="job" aria-label={`Job card, ${card.boatName}`}>
      <header className="job-head no-print">
        <h1>
          {card.boatName}{' '}
          <small>
            {card.baseName}
            {card.berth ? `, berth ${card.berth}` : ''}
          </small>
        </h1>
        <p>
          {card.engines.map((e) => `${e.modelName}${e.position === 'single' ? '' : ` ${e.position}`}`).join(', ')}.{' '}
          {card.technician.split(' ')[0]}, {shortDay(card.day)}, {minutesText(card.minutes)} planned.{' '}
          <span className="job-progress">{progressText(live)}</span>
        </p>
      </header>
      <div className="screen-card" ref={bar}>
        {card.holds.map((h) => (
          <div key={h.id} className="wrong held">
            <p>
              <b>Held{card.engines.length > 1 ? `, ${h.position}` : ''}:</b> {h.why}{' '}
              {h.missing.length > 0
                ? `Wanted first: ${h.missing.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.`
                : 'Its checks are done; a coordinator lets it go.'}{' '}
              <Link to={`/fleet/engines/${h.engineId}`}>See the engine</Link>
            </p>
          </div>
        ))}
        {live.state.holds
          .filter((h) => !h.sent)
          .map((h) => (
            <div key={h.at} className="wrong held">
              <p>
                <b>Held:</b> {h.why} It is on this phone and goes into the book with the next signal. Tell the
                coordinator that the boat must not go out.
              </p>
            </div>
          ))}
        {live.state.ticks.size === 0 && (
          <div className="job-caution">
            <p>
              <b>Before you start:</b> kill-switch lanyard off, battery isolated, nobody near the propeller.{' '}
              {MANUAL_FIRST}
            </p>
          </div>
        )}
        <Conflicts live={live} mayDecide={editable} write={write} />
        <Findings live={live} findings={findings.filter(urgent)} mayDecide={editable} write={write} />
        {trouble && editable && <Trouble live={live} write={write} onClose={leaveTrouble} />}
        {!trouble && card.steps.length > 0 && card.status !== 'cancelled' && (
          <CardSteps
            live={live}
            editable={editable}
            write={write}
            onTrouble={() => {
              setTrouble(true);
              scrollTo(0, 0);
            }}
          />
        )}
        <Findings live={live} findings={findings.filter((f) => !urgent(f))} mayDecide={editable} write={write} />
        {live.state.remark && (
          <p className="card-remark">
            <b>Remark:</b> {live.state.remark}
          </p>
        )}
        {live.state.photos.length > 0 && (
          <div className="card-photos">
            {live.state.photos.map((p) =>
              p.photoId === null ? (
                <span key={p.id} className="faint">
                  a picture, on its way
                </span>
              ) : (
                <a key={p.id} href={`/api/jobs/photos/${p.photoId}`} target="_blank" rel="noreferrer">
                  <img
                    src={`/api/jobs/photos/${p.photoId}`}
                    alt={`Picture by ${live.nameOf(p.by)}, ${clockOfMs(p.at)}`}
                    loading="lazy"
                  />
                </a>
              ),
            )}
          </div>
        )}
        {card.followUps.length > 0 && <FollowUps card={card} />}
        {card.engines.map((engine) => (
          <section key={engine.id} aria-label={engineName(card.boatName, engine.position)}>
            <div className="job-engine">
              <h2>
                {engine.position === 'single'
                  ? engine.modelName
                  : `${engine.position[0]!.toUpperCase()}${engine.position.slice(1)}, ${engine.modelName}`}
              </h2>
              <span className="faint">serial {engine.serial}</span>
            </div>
            <HoursStep card={card} engine={engine} draft={draft} typed={typed} editable={editable} today={today} />
            {live.tasks
              .filter((t) => t.engineId === engine.id)
              .map((task) => (
                <TaskStep
                  key={task.task}
                  card={card}
                  engine={engine}
                  task={task}
                  draft={draft}
                  typed={typed}
                  editable={editable}
                  read={readingVolume(readingsOf(live.state), task)}
                  onFlip={() => {
                    flip(task);
                  }}
                />
              ))}
          </section>
        ))}
        {card.status === 'open' && <Gates live={live} editable={editable} write={write} />}
        <Waste live={live} editable={editable} write={write} />
        <Parts card={card} used={used} typed={typed} editable={editable} />
        {card.status !== 'open' && card.remark && (
          <section className="block">
            <h2>Remark</h2>
            <p>{card.remark}</p>
          </section>
        )}
        {card.status === 'open' && !mayWork && (
          <p className="faint">
            {me.role === 'technician'
              ? 'This card belongs to a colleague.'
              : 'Technicians and coordinators work on cards.'}
          </p>
        )}
        {editable && <FinishBar live={live} draft={draft} typed={typed} used={used} today={today} />}
        {open && finishing && <FinishedHere waiting={finishing} />}
        {card.status === 'done' && <DoneBar card={card} mayUndo={mayWork} />}
        {card.status === 'cancelled' && <p className="wrong">Called off: {card.remark}</p>}
        {editable && <MoveJob card={card} />}
        {editable && me.role !== 'technician' && (
          <section className="block no-print">
            <HandOver live={live} />
          </section>
        )}
        <p className="no-print">
          <button
            type="button"
            className="link-button"
            onClick={() => {
              print();
            }}>
            Print this card
          </button>
        </p>
      </div>
      <PrintCard live={live} />
    </article>
  );
}

/** What keeps the engine from going out, and is not decided yet, stands above all else. */
const urgent = (f: { state: string; weight: string }) =>
  f.state === 'open' && (f.weight === 'hold' || f.weight === 'stop');

/** What is asked for of these engines besides the card. */
function FollowUps({ card }: { card: Card }) {
  const own = card.followUps.filter(
    (f) =>
      !card.tasks.some((t) => t.engineId === f.engineId && t.task === f.task && card.status === 'open') ||
      f.waitsFor !== null,
  );
  if (own.length === 0) return null;
  return (
    <section className="block" aria-label="Asked for">
      <h2 style={{ marginTop: 18 }}>Asked for, still to be done</h2>
      <ul className="plain-list">
        {own.map((f) => (
          <li key={f.id}>
            {card.engines.length > 1 && <b>{card.engines.find((e) => e.id === f.engineId)?.position} </b>}
            <b>{TASKS[f.task].word}</b>{' '}
            {f.waitsFor
              ? `after ${TASKS[f.waitsFor].word.toLowerCase()}`
              : f.dueOn
                ? shortDay(f.dueOn)
                : 'at the next return'}
            . <span className="faint">{f.why}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

type UsedPart = ReturnType<typeof partsUsed<Card['parts'][number]>>[number];

interface StepProps {
  card: Card;
  engine: Card['engines'][number];
  draft: CardDraft;
  typed: Typed;
  editable: boolean;
}

function HoursStep({ card, engine, draft, typed: fields, editable, today }: StepProps & { today: string }) {
  if (!engine.meter || !editable) return null;
  const typed = draft.hours[engine.id];
  const verdict = judgeHours(engine, typed, today);
  const name = engineName(card.boatName, engine.position);
  return (
    <div className="step">
      <span aria-hidden="true" className="figure" style={{ fontSize: 22, textAlign: 'center', paddingTop: 4 }}>
        h
      </span>
      <div>
        <p className="step-title">Hours on the meter</p>
        <div className="field">
          <input
            className="plain-input num figure"
            inputMode="decimal"
            aria-label={`Hours of ${name}`}
            value={typed?.count ?? ''}
            onChange={(e) => {
              fields.type({ what: 'hours', engineId: engine.id }, e.target.value);
            }}
            onBlur={() => void fields.keep()}
          />
          <span className="faint">
            was{' '}
            {engine.meter.lastCount === null
              ? 'never read'
              : `${hoursText(engine.meter.lastCount)}${engine.meter.lastDay ? `, ${shortDay(engine.meter.lastDay)}` : ''}`}
          </span>
        </div>
        {verdict.bad && (
          <p className="trap" role="status">
            Figures only, one decimal: 418.9
          </p>
        )}
        {verdict.question && (
          <>
            <p className="trap" role="status">
              {verdict.question.text}
            </p>
            <input
              className="plain-input"
              style={{ width: '100%', marginTop: 6 }}
              placeholder="If it is right, why?"
              aria-label={`Why the hours of ${name} are right`}
              value={typed?.reason ?? ''}
              maxLength={500}
              onChange={(e) => {
                fields.type({ what: 'why', engineId: engine.id }, e.target.value);
              }}
              onBlur={() => void fields.keep()}
            />
          </>
        )}
      </div>
    </div>
  );
}

function TaskStep({
  card,
  engine,
  task,
  draft,
  typed: fields,
  editable,
  read: measured,
  onFlip,
}: StepProps & { task: Card['tasks'][number]; read: PrintedVolume | null; onFlip: () => void }) {
  const info = TASKS[task.task];
  const label = labelVolume(engine, task.task);
  const key = taskKey(task);
  const parts = card.parts.filter((p) => p.tasks.some((t) => taskKey(t) === key));
  const unknown = card.partsUnknown.some((t) => taskKey(t) === key);
  const typed = draft.volumes[key];
  const read = label ? readVolume(draft, key, label) : null;
  const setVolume = (value: string, unit: VolumeUnit) => {
    fields.type({ what: 'volume', engineId: engine.id, task: task.task }, volumeText(value, unit));
  };
  const name = `${info.word}${engine.position === 'single' ? '' : `, ${engine.position}`}`;
  const basis = card.basis.find((b) => taskKey(b) === key);
  return (
    <div className={task.state === 'done' ? 'step ticked' : 'step'}>
      <button
        type="button"
        role="checkbox"
        className="tick"
        aria-checked={task.state === 'done'}
        aria-label={name}
        disabled={!editable}
        onClick={onFlip}>
        {task.state === 'done' ? '✓' : ''}
      </button>
      <div>
        <p className="step-title">
          <TaskGlyph task={task.task} silent /> {info.word}
          {task.state === 'left' && <span className="faint"> left undone</span>}
        </p>
        {label && (
          <p>
            {task.task === 'engine-oil' ? 'Label' : 'Case holds'} <b className="figure">{inBothUnits(label)}</b>
            {task.task === 'engine-oil'
              ? ': most of it first, the rest after the run, by the dipstick.'
              : ', until it shows at the vent.'}
          </p>
        )}
        {parts.length > 0 && (
          <p>{parts.map((p) => `${p.name} (${p.number}${p.place ? `, at ${p.place}` : ''})`).join(', ')}</p>
        )}
        {unknown && (
          <p className="trap">No part is known to fit this serial. Find the right one on the label, and tell Stores.</p>
        )}
        <p className="why-careful">{info.caution}</p>
        {basis?.text.includes(';') && editable && task.state !== 'done' && (
          <p className="faint small">
            About {minutesText(basis.minutes)}: {basis.text}.
          </p>
        )}
        {label && editable && task.state === 'done' && (
          <div className="field">
            <input
              className="plain-input num figure"
              inputMode="decimal"
              aria-label={`Volume put in, ${name}`}
              placeholder={String(measured?.value ?? label.value)}
              value={typed?.value ?? ''}
              onChange={(e) => {
                setVolume(e.target.value, typed?.unit ?? label.unit);
              }}
              onBlur={() => void fields.keep()}
            />
            <Choice
              label="Unit"
              hideLabel
              value={typed?.unit ?? label.unit}
              onChange={(v) => {
                if (v) setVolume(typed?.value ?? '', v);
              }}
              options={VOLUME_UNITS.map((u): [VolumeUnit, string] => [u, u])}
            />
            <span className="faint">
              put in; empty ={' '}
              {measured ? `as read at the steps, ${measured.value} ${measured.unit}` : 'as the label says'}
            </span>
          </div>
        )}
        {read?.bad && (
          <p className="trap" role="status">
            Figures only: {label!.value}
          </p>
        )}
        {read?.trap && (
          <p className="trap" role="status">
            {read.volume!.value} looks like {read.trap}, not {read.volume!.unit}: the label says {inBothUnits(label!)}.
          </p>
        )}
      </div>
    </div>
  );
}

function Parts({ card, used, typed, editable }: { card: Card; used: UsedPart[]; typed: Typed; editable: boolean }) {
  if (!editable) {
    if (card.status !== 'done') return <PartsPlanned card={card} />;
    return (
      <section className="block">
        <h2 style={{ marginTop: 18 }}>Parts used</h2>
        {card.used.length === 0 && <p className="faint">none</p>}
        <table className="used">
          <tbody>
            {card.used.map((u) => (
              <tr key={u.partId}>
                <th scope="row">
                  {u.name} <span className="faint">{u.number}</span>
                  {u.belowZero && <b className="minus"> below zero, marked</b>}
                </th>
                <td className="num figure">{quantityText(u.quantity, u.unit)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    );
  }
  if (card.parts.length === 0) return null;
  return (
    <section className="block">
      <h2 style={{ marginTop: 18 }}>Parts really used</h2>
      <p className="faint">
        Worked out from the ticked tasks. Change a figure where more or less went in; 0 where none did.
      </p>
      <table className="used">
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col" className="num">
              Shelf
            </th>
            <th scope="col" className="num">
              Used
            </th>
          </tr>
        </thead>
        <tbody>
          {used.map((p) => (
            <tr key={p.partId} className={p.used !== null && p.used > p.onHand ? 'short' : ''}>
              <th scope="row">
                {p.name} <span className="faint">{p.number}</span>
              </th>
              <td className="num">
                <span className="figure">{quantityText(p.onHand, p.unit)}</span>
                {p.place && <span className="faint small"> {p.place}</span>}
              </td>
              <td className="num">
                <input
                  className="plain-input num figure"
                  inputMode="decimal"
                  aria-label={`Used: ${p.name}${p.unit === 'mL' ? ', mL' : ''}`}
                  aria-invalid={p.used === null}
                  value={typed.text({ what: 'part', partId: p.partId })}
                  placeholder={String(p.worked)}
                  onChange={(e) => {
                    typed.type({ what: 'part', partId: p.partId }, e.target.value);
                  }}
                  onBlur={() => void typed.keep()}
                />{' '}
                {p.unit === 'mL' ? 'mL' : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function PartsPlanned({ card }: { card: Card }) {
  return (
    <section className="block">
      <h2 style={{ marginTop: 18 }}>Parts to take along</h2>
      <table className="used">
        <tbody>
          {card.parts.map((p) => (
            <tr key={p.partId} className={p.onHand < p.quantity ? 'short' : ''}>
              <th scope="row">
                {p.name}{' '}
                <span className="faint">
                  {p.number}
                  {p.place && `, at ${p.place}`}
                </span>
              </th>
              <td className="num figure">
                {quantityText(p.quantity, p.unit)} of {quantityText(p.onHand, p.unit)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What was typed as put in; null = nothing was. */
function typedVolume(card: CardUse, draft: CardDraft, t: Card['tasks'][number]): PrintedVolume | null {
  const label = labelVolume(
    card.engines.find((e) => e.id === t.engineId),
    t.task,
  );
  return t.state === 'done' && label ? readVolume(draft, taskKey(t), label).volume : null;
}

function FinishBar({
  live,
  draft,
  typed,
  used,
  today,
}: {
  live: LiveCard;
  draft: CardDraft;
  typed: Typed;
  used: UsedPart[];
  today: string;
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
  const gates = gatesOf(live).filter((g) => !g.done);
  const decide = findingsOn(live).filter((f) => f.state === 'open' && f.weight !== 'watch');

  const send = async (belowZero: boolean) => {
    await typed.keep();
    await finish({
      boatName: card.boatName,
      body: {
        version: card.version,
        belowZero,
        remark: state.remark,
        tasks: tasks.map((t) => ({
          engineId: t.engineId,
          task: t.task,
          done: t.state === 'done',
          volume: typedVolume(card, draft, t),
        })),
        hours: hours.flatMap(({ engine, typed, verdict }) =>
          verdict.count === null
            ? []
            : [
                {
                  engineId: engine.id,
                  count: verdict.count,
                  ...(verdict.question && { confirm: typed!.reason.trim() }),
                },
              ],
        ),
        // Only what was typed: the book works out the rest as this page shows it.
        parts: used.flatMap((p) =>
          p.used !== null && p.used !== p.worked ? [{ partId: p.partId, quantity: p.used }] : [],
        ),
      },
    });
  };
  const stands = [
    refused.some((r) => r.entry) && 'something was not taken: read it at the top first',
    state.open.length > 0 && 'two entries contradict each other',
    decide.length > 0 && `${decide.length} ${decide.length === 1 ? 'finding wants' : 'findings want'} a decision`,
    gates.length > 0 && done.length > 0 && `${gates.length} to confirm`,
    bad > 0 && `${bad} ${bad === 1 ? 'figure wants' : 'figures want'} a second look`,
  ].filter((x): x is string => typeof x === 'string');

  return (
    <div className="job-bar">
      {problem && (
        <div className="wrong left-text" role="alert">
          <p>{problem.because}</p>
          {problem.type === 'short' && card.shelfPolicy === 'mark' && (
            <p style={{ marginTop: 8 }}>
              <Button size="small" onClick={() => void send(true)}>
                They were there: go on and mark it
              </Button>
            </p>
          )}
        </div>
      )}
      <p className="left-text faint" role="status">
        {done.length} of {card.tasks.length} ticked
        {done.length < card.tasks.length && done.length > 0 ? '; what is not ticked stays due' : ''}
        {stands.length > 0 ? `; ${stands.join('; ')}` : ''}
      </p>
      <Button
        variant="contained"
        color="primary"
        disabled={done.length === 0 || stands.length > 0}
        onClick={() => void send(false)}>
        {signal ? 'Finish the job' : 'Finish it on this phone'}
      </Button>
    </div>
  );
}

/** Finished without signal: it waits on this phone behind what was written before it. */
function FinishedHere({ waiting }: { waiting: Sent }) {
  const signal = useAppSelector((s) => s.outbox.signal);
  const { notYet } = useFinish(waiting.jobId);
  return (
    <div className="job-bar">
      <p className="left-text" role="status">
        <b className="fine">✓ Finished on this phone</b>, {clockOfMs(waiting.finish!.at)}.{' '}
        {signal ? 'It is on its way to the book.' : 'It goes into the book when signal is back.'}
      </p>
      {!signal && <Button onClick={() => void notYet(waiting)}>Not yet: open it again</Button>}
    </div>
  );
}

function DoneBar({ card, mayUndo }: { card: Card; mayUndo: boolean }) {
  const [asking, setAsking] = useState(false);
  const [undo, { error }] = jobsApi.useUndoJobMutation();
  const dispatch = useAppDispatch();
  return (
    <div className="job-bar">
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
