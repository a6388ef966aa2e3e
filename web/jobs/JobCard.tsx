import { useMediaQuery } from '@mui/material';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { engineName } from '@diurna/core/fleet';
import { MANUAL_FIRST } from '@diurna/core/service';
import {
  draftOf,
  fittedInstead,
  minutesText,
  partsUsed,
  progressText,
  readingsOf,
  readingVolume,
} from '@diurna/core/visit';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { useAppSelector } from '../app/store.ts';
import { useMay, useMe, useToday, useShort } from '../app/useBook.ts';
import { Findings, findingsOn } from '../findings/index.ts';
import { shortDay, hourText } from '../ui/format.ts';
import { Empty, Waiting, Wrong } from '../ui/parts.tsx';
import { jobsApi } from './api.ts';
import { DoneBar, FinishBar, FinishedHere } from './CardBar.tsx';
import { CardParts } from './CardParts.tsx';
import { CardSteps } from './CardSteps.tsx';
import { HoursStep, TaskStep } from './CardTasks.tsx';
import { CardStrip, isUrgent } from './CardStrip.tsx';
import { FollowUps } from './FollowUps.tsx';
import { Gates } from './Gates.tsx';
import { nothingLeft, type LiveCard } from './live-card.ts';
import { MoveJob } from './MoveJob.tsx';
import { PrintCard } from './PrintCard.tsx';
import { Talk } from './Talk.tsx';
import { HandOver, Trouble } from './Trouble.tsx';
import { useCard } from './useCard.ts';
import { useKeptDay } from './useKept.ts';
import { useWrite } from '../outbox/index.ts';
import { useTyped } from './useTyped.ts';
import { Waste } from './Waste.tsx';
import './job-card.css';
import './card-steps.css';
import './print-card.css';

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
  const narrow = useMediaQuery('(max-width: 760px)');
  const [about, setAbout] = useState(false);
  const today = useToday();
  const live = useCard(card, me);
  const owns = useMay('administrator', 'coordinator') || (me.role === 'technician' && card.technicianId === me.id);
  // Whoever helps writes on it too, and leaves the finish to the one whose card it is.
  const mayWork = owns || live.state.helpers.has(me.id);
  useKeptDay();
  const finishing = useAppSelector((s) => s.outbox.waiting.find((w) => w.jobId === card.id && w.finish));
  const open = mayWork && card.status === 'open';
  // Finished on this phone: nothing more is written on it, though the book has not heard yet.
  const editable = open && !finishing;
  const write = useWrite(card.id, live.state.lastSeq);
  const typed = useTyped(live.state, write);
  const draft = useMemo(() => draftOf(typed.texts), [typed.texts]);
  const [trouble, setTrouble] = useState(false);
  const [picked, setPicked] = useState<string | null>(null);
  const bar = useRef<HTMLDivElement>(null);
  const leaveTrouble = () => {
    setTrouble(false);
    // The steps are drawn first.
    setTimeout(() => bar.current?.querySelector<HTMLElement>('.step-bar button')?.focus());
  };
  const pick = (step: string | null) => {
    setPicked(step);
    // It is drawn first, then brought into view.
    if (step !== null) setTimeout(() => bar.current?.querySelector<HTMLElement>('.step-now h2')?.focus());
  };
  const findings = findingsOn(live);
  const worked = useMemo(() => ({ ...card, tasks: live.tasks }), [card, live.tasks]);
  const used = [...partsUsed(worked, draft, readingsOf(live.state)), ...fittedInstead(worked.parts, draft)];
  const flip = (task: Card['tasks'][number]) =>
    void write({ kind: 'task', engineId: task.engineId, task: task.task, done: task.state !== 'done' });

  return (
    <article
      className={['job', live.state.ticks.size > 0 && 'begun', nothingLeft(live) && 'all-done']
        .filter(Boolean)
        .join(' ')}
      aria-label={`Job card, ${card.boatName}`}>
      <header className="job-head no-print">
        <h1>
          <Link className="job-back" to="/jobs" aria-label="Jobs">
            ‹
          </Link>
          <span>{card.boatName}</span>{' '}
          <small className="job-place">
            {card.baseName}
            {card.berth ? `, berth ${card.berth}` : ''}
          </small>
          {narrow && (
            <button
              type="button"
              className="job-about"
              aria-expanded={about}
              onClick={() => {
                setAbout(!about);
              }}>
              About
            </button>
          )}
        </h1>
        {(!narrow || about) && <AboutCard live={live} />}
      </header>
      <div className="screen-card" ref={bar}>
        <div className="card-work">
          {live.state.ticks.size === 0 && (
            <div className={live.steps[0]?.step.caution ? 'job-caution said-again' : 'job-caution'}>
              <p>
                <b>Before you start:</b> kill-switch lanyard off, battery isolated, nobody near the propeller.{' '}
                {MANUAL_FIRST}
              </p>
            </div>
          )}
          <CardStrip live={live} editable={editable} write={write} />
          {trouble && editable && <Trouble live={live} write={write} onClose={leaveTrouble} />}
          {!trouble && card.steps.length > 0 && card.status !== 'cancelled' && (
            <CardSteps
              live={live}
              editable={editable}
              write={write}
              picked={picked}
              pick={pick}
              onTrouble={() => {
                setTrouble(true);
                scrollTo(0, 0);
              }}
            />
          )}
        </div>
        <div className="card-rest">
          <Findings live={live} findings={findings.filter((f) => !isUrgent(f))} mayDecide={editable} write={write} />
          <Talk live={live} editable={editable} write={write} />
          <LeftWord live={live} />
          {card.followUps.length > 0 && <FollowUps card={card} />}
          {card.engines.map((engine) => (
            <section key={engine.id} aria-label={engineName(card.boatName, engine.position)}>
              <div className="job-engine">
                <h2>
                  {engine.position === 'single'
                    ? engine.modelName
                    : `${engine.position[0]!.toUpperCase()}${engine.position.slice(1)}, ${engine.modelName}`}
                </h2>
                <span className="faint">
                  {card.works.find((w) => w.engineId === engine.id)?.word}, serial {engine.serial}
                </span>
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
          {card.status === 'open' && <Gates live={live} editable={editable} write={write} pick={pick} />}
          <Waste live={live} editable={editable} write={write} />
          <CardParts card={card} used={used} typed={typed} editable={editable} />
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
          {editable && owns && (
            <FinishBar live={live} draft={draft} typed={typed} used={used} today={today} write={write} pick={pick} />
          )}
          {open && finishing && <FinishedHere waiting={finishing} />}
          {card.status === 'done' && <DoneBar card={card} mayUndo={owns} />}
          {card.status === 'cancelled' && <p className="wrong">Called off: {card.remark}</p>}
          {editable && owns && <MoveJob card={card} />}
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
      </div>
      <PrintCard live={live} />
    </article>
  );
}

/** What the card is about: the engines, whose it is, how far it is, and why it was handed out all the same. */
function AboutCard({ live }: { live: LiveCard }) {
  const short = useShort();
  const { card } = live;
  return (
    <>
      <p>
        {card.engines.map((e) => `${e.modelName}${e.position === 'single' ? '' : ` ${e.position}`}`).join(', ')}.{' '}
        {short(card.technician)}, {shortDay(card.day)}, {minutesText(card.minutes)} planned.{' '}
        <span className="job-progress">{progressText(live)}</span>
      </p>
      {card.insisted != null && (
        <p>
          Handed out although: {card.insisted.against.join(' ')} Because: {card.insisted.why}
        </p>
      )}
    </>
  );
}

/** The remark and the pictures left for the next one. */
function LeftWord({ live }: { live: LiveCard }) {
  return (
    <>
      {live.state.remark && (
        <p className="card-remark">
          <b>Remark:</b> {live.state.remark}
        </p>
      )}
      {live.state.photos.length > 0 && (
        <div className="card-photos" role="group" aria-label="Pictures">
          {live.state.photos.map((p) =>
            p.photoId === null ? (
              <span key={p.id} className="faint">
                a picture, on its way
              </span>
            ) : (
              <a key={p.id} href={`/api/jobs/photos/${p.photoId}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/jobs/photos/${p.photoId}`}
                  alt={`Picture by ${live.nameOf(p.by)}, ${hourText(p.at)}`}
                  loading="lazy"
                />
              </a>
            ),
          )}
        </div>
      )}
    </>
  );
}
